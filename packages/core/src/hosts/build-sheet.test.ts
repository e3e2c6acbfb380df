import { describe, expect, it } from 'vitest'
import { applyAll, type Command, type Host } from '../estate/index.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { buildSheet, sheetOf } from './index.js'

const hostId = idOf('gannet')
const [sheet, other, image] = ['f1', 'f2', 'f3'].map((end) => `01890000-0000-7000-8000-0000000000${end}`) as [string, string, string]
const estateWith = (...commands: Command[]) => applyAll(smallEstate(), commands, testContext(71)).estate
const sheetFor = (estate: ReturnType<typeof smallEstate>) => buildSheet(estate, estate.find('host', hostId) as Host)
const start = (id: string, host: string, startedAt = '2027-01-10T08:00:00.000Z'): Command => ({
  type: 'sheet.add',
  record: { id, hostId: host, startedAt },
})
const settle = (sheetId: string, step: string, state: 'done' | 'skipped' | 'failed', minutes: number | null, note = ''): Command => ({
  type: 'step.add',
  record: { sheetId, step, state, minutes, note, personId: idOf('ola'), at: '2027-01-10T09:00:00.000Z' },
})
const step = (key: string, ...commands: Command[]) => sheetFor(estateWith(...commands)).steps.find((one) => one.key === key)

describe('the build sheet', () => {
  it('comes from the plan, in the order of the work', () =>
    expect(sheetFor(smallEstate()).steps.map(({ key }) => key)).toEqual([
      'materials',
      'mount',
      'image',
      'stick',
      'firmware',
      'target-disk',
      'install',
      'management',
      'first-checks',
      'arrays',
      'updates',
      'licence',
      'fingerprint',
      'media',
      'boot-order',
    ]))

  it('a nested host needs no cables and no stick', () => {
    const estate = estateWith({ type: 'host.update', id: hostId, changes: { kind: 'nested', outerGuestId: idOf('news') } })
    expect(sheetFor(estate).steps.map(({ key }) => key)).not.toEqual(expect.arrayContaining(['materials']))
  })

  it('names the target disk by size, model and serial, with the caution in full', () => {
    const target = step('target-disk', {
      type: 'drive.add',
      record: { hostId, position: 0, labelBytes: 240e9, model: 'Kelp 240', serial: 'K-77', use: 'install' },
    })
    expect(target?.lines).toEqual(['Bay 0: 240 GB (223.5 GiB on the screen), Kelp 240, serial K-77.'])
    expect(target?.caution).toMatch(/wipes the chosen disk/)
    expect(target?.gap).toBeUndefined()
    expect(step('target-disk')?.gap).toBe('No drive is planned as the install disk.')
    expect(step('target-disk', { type: 'drive.add', record: { hostId, position: 3, labelBytes: 1e12, use: 'install' } })?.gap).toMatch(
      /bay 3 has no serial/,
    )
  })

  it('a stick is large enough and may be erased, or the gap says so', () => {
    const of = (changes: object) =>
      step(
        'stick',
        { type: 'image.add', record: { id: image, name: 'b5.iso', sizeBytes: 1.2e9 } },
        { type: 'host.update', id: hostId, changes: { imageId: image, ...changes } },
      )
    expect(of({})?.gap).toBe('The stick’s size is not recorded.')
    expect(of({ stickBytes: 1e9 })?.gap).toBe('The stick holds 1 GB; the image needs 1.1 GiB.')
    expect(of({ stickBytes: 8e9 })?.gap).toBe('Nobody has said that the stick may be erased.')
    expect(of({ stickBytes: 8e9, stickMayBeErased: 'yes' })?.gap).toBeUndefined()
  })

  it('counts what is settled and what it took; open steps are estimated', () => {
    const estate = estateWith(
      start(sheet, hostId),
      settle(sheet, 'materials', 'done', 12),
      settle(sheet, 'mount', 'skipped', null, 'already in the rack'),
      settle(sheet, 'image', 'failed', 4, 'checksum differs'),
    )
    const built = sheetFor(estate)
    expect([built.settled, built.spentMinutes]).toEqual([3, 16])
    expect(built.leftMinutes).toBe(built.steps.filter(({ record }) => !record).reduce((sum, { estimate }) => sum + estimate.minutes, 0))
  })

  it('a skipped or failed step says why', () => {
    expect(() => estateWith(start(sheet, hostId), settle(sheet, 'mount', 'skipped', null))).toThrow(
      'A step that was skipped says why; write a note.',
    )
    expect(() => estateWith(start(sheet, hostId), settle(sheet, 'mount', 'failed', null))).toThrow(
      'A step that was failed says why; write a note.',
    )
  })

  it('times of earlier builds feed later estimates: their median', () => {
    const third = image
    const estate = estateWith(
      start(other, idOf('fulmar')),
      start(third, idOf('tern')),
      settle(other, 'updates', 'done', 40),
      settle(third, 'updates', 'done', 60),
      settle(other, 'install', 'failed', 500, 'power cut'),
    )
    const steps = new Map(sheetFor(estate).steps.map((one) => [one.key, one.estimate]))
    expect(steps.get('updates')).toEqual({ minutes: 50, from: 'median of 2 earlier builds' })
    expect(steps.get('install')?.from).toMatch(/common practice/)
  })

  it('the sheet that is worked on comes before one that is finished', () => {
    const estate = estateWith(start(sheet, hostId, '2026-01-01T00:00:00Z'), start(other, hostId, '2027-01-01T00:00:00Z'), {
      type: 'sheet.update',
      id: other,
      changes: { finishedAt: '2027-01-02T00:00:00Z' },
    })
    expect(sheetOf(estate, 'hostId', hostId)?.id).toBe(sheet)
  })
})
