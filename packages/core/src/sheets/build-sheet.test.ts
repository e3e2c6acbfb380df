import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { type Host } from '../estate/index.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { buildSheet, readMinutes, sheetOf } from './index.js'

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
      'check-gateway',
      'check-name-server',
      'check-name',
      'check-page',
      'switches',
      'arrays',
      'updates',
      'licence',
      'fingerprint',
      'media',
      'boot-order',
    ]))

  it('says of switches and networks what is set on them, and of a bond what it lacks', () => {
    const [bridge, port] = ['e3', 'e4'].map((end) => `01890000-0000-7000-8000-0000000000${end}`) as [string, string]
    const [attachment] = smallEstate().referring('attachment', 'hostId', hostId)
    const switches = step(
      'switches',
      { type: 'switch.add', record: { id: bridge, hostId, name: 'br0', bond: 'LACP', taggedVlans: '30,40', nativeVlan: 10 } },
      { type: 'port.add', record: { id: port, hostId, name: 'ens1f0', speedMbps: 10_000, switchId: bridge } },
      { type: 'attachment.update', id: attachment?.id ?? '', changes: { switchId: bridge } },
    )
    expect(switches?.lines[0]).toBe(
      'br0: uplinks ens1f0; bond LACP, set on both ends (IEEE 802.1AX); tagged VLANs 30,40; native VLAN 10; MTU 1500.',
    )
    expect(switches?.lines.some((line) => / bridged on br0\.$/.test(line))).toBe(true)
    expect(switches?.gap).toBe('br0 is planned as a bond and has 1 uplink.')
  })

  it('first checks are ticks of their own; a sheet on which they were one keeps it', () => {
    const keys = (of: ReturnType<typeof smallEstate>) => sheetFor(of).steps.map(({ key }) => key)
    expect(keys(smallEstate())).toEqual(expect.arrayContaining(['check-gateway', 'check-name-server', 'check-name', 'check-page']))
    const old = keys(estateWith(start(sheet, hostId), settle(sheet, 'first-checks', 'done', 9)))
    expect(old.filter((key) => key.includes('check'))).toEqual(['first-checks'])
  })

  it('what completing a step would claim and nobody recorded is known', () => {
    const none: Command = { type: 'host.update', id: hostId, changes: { fingerprint: null, trialEndsOn: null } }
    expect([step('image')?.unrecorded, step('fingerprint', none)?.unrecorded, step('licence', none)?.unrecorded]).toEqual([
      'the image',
      'the fingerprint',
      'when it ends',
    ])
    const noted: Command = { type: 'host.update', id: hostId, changes: { fingerprint: 'SHA256 12:34', trialEndsOn: '2027-03-01' } }
    expect([step('fingerprint', noted)?.unrecorded, step('licence', noted)?.unrecorded]).toEqual([undefined, undefined])
  })

  it('makes the array of the install drives before the install, and leaves them alone afterwards', () => {
    const [system, data] = ['e1', 'e2'].map((end) => `01890000-0000-7000-8000-0000000000${end}`) as [string, string]
    const drive = (position: number, use: 'install' | 'member', arrayId: string): Command => ({
      type: 'drive.add',
      record: { hostId, position, labelBytes: 480e9, serial: `K-${position}`, use, arrayId },
    })
    const { steps } = sheetFor(
      estateWith(
        { type: 'array.add', record: { id: system, hostId, name: 'system', level: '1' } },
        { type: 'array.add', record: { id: data, hostId, name: 'data', level: '1' } },
        drive(20, 'install', system),
        drive(21, 'install', system),
        drive(22, 'member', data),
        drive(23, 'member', data),
        { type: 'store.add', record: { hostId, name: 'local-x', arrayId: system, capacityBytes: 100e9 } },
      ),
    )
    const at = (key: string) => steps.findIndex((one) => one.key === key)
    const lines = (key: string) => steps[at(key)]?.lines.join('\n') ?? ''
    expect(at('install-arrays')).toBeGreaterThan(at('firmware'))
    expect(at('install-arrays')).toBeLessThan(at('target-disk'))
    expect(at('target-disk')).toBeLessThan(at('install'))
    expect(lines('install-arrays')).toContain('bays 20, 21')
    expect(lines('install-arrays')).not.toContain('22')
    expect(steps[at('install-arrays')]?.caution).toContain('wipes its drives')
    expect(lines('target-disk')).toContain('Install on the array')
    // Afterwards only what does not touch the system is made.
    expect(lines('arrays')).toContain('bays 22, 23')
    expect(lines('arrays')).not.toContain('bays 20')
    expect(lines('arrays')).toContain('exists already; stores local-x')
    expect(steps[at('arrays')]?.caution).toContain('in bays 20, 21: leave them alone')
  })

  it('names each cable’s port and far end, and the ports that stay empty', () => {
    const port = (name: string, of: object): Command => ({ type: 'port.add', record: { hostId, name, ...of } })
    const mount = step(
      'mount',
      port('enp9s0', { role: 'storage', speedMbps: 10_000, medium: 'direct attach', farEnd: 'kelp-sw-2, port 7', cable: 'present' }),
      port('enp9s1', { role: 'storage', speedMbps: 10_000 }),
      port('enp9s2', {}),
      port('wlp1', { medium: 'wireless' }),
    )
    expect(mount?.lines).toContain('enp9s0 (direct attach, 10 Gbit/s, carries storage): to kelp-sw-2, port 7.')
    expect(mount?.lines.find((line) => line.startsWith('enp9s1'))).toContain('far end not recorded; no cable yet')
    expect(mount?.lines.find((line) => line.startsWith('Without a cable'))).toContain('enp9s2')
    expect(mount?.lines.join(' ')).not.toContain('wlp1')
    expect(mount?.gap).toContain('enp9s1')
    expect(mount?.gap).not.toContain('enp9s0')
  })

  it('0 minutes is no measurement', () => {
    const estate = estateWith(
      start(other, idOf('fulmar')),
      start(image, idOf('tern')),
      settle(other, 'updates', 'done', 0),
      settle(image, 'updates', 'done', 40),
      settle(other, 'licence', 'done', 0),
    )
    const steps = new Map(sheetFor(estate).steps.map((one) => [one.key, one.estimate]))
    expect(steps.get('updates')).toEqual({ minutes: 40, from: 'one earlier build' })
    expect(steps.get('licence')?.from).toMatch(/common practice/)
    expect(['', '0', '12,5', ' 90 '].map((text) => readMinutes(text))).toEqual(
      [null, null, 12.5, 90].map((minutes) => ({ ok: true, minutes })),
    )
    expect(readMinutes('soon')).toMatchObject({ ok: false, sentence: expect.stringContaining('Write minutes') })
  })

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
    expect(of({ stickBytes: 8e9 })?.gap).toBe('The stick is not marked as erasable.')
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
      'A step that was skipped needs a reason; write a note.',
    )
    expect(() => estateWith(start(sheet, hostId), settle(sheet, 'mount', 'failed', null))).toThrow(
      'A step that was failed needs a reason; write a note.',
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
