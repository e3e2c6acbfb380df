import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { sheetOf, workSheet, type PlannedStep } from './index.js'

const planned: readonly PlannedStep[] = ['image', 'power-on', 'updates'].map((key) => ({ key, title: key, lines: [] }))
const sheet = (id: string, of: object, startedAt = '2027-01-10T08:00:00.000Z'): Command => ({
  type: 'sheet.add',
  record: { id: idOf(id), startedAt, ...of },
})
const settled = (of: string, step: string, minutes: number | null, state: 'done' | 'skipped' = 'done'): Command => ({
  type: 'step.add',
  record: {
    sheetId: idOf(of),
    step,
    state,
    personId: idOf('ola'),
    at: '2027-01-10T09:00:00.000Z',
    minutes,
    note: state === 'done' ? '' : 'not needed',
  },
})
const estateOf = (...commands: Command[]) => applyAll(smallEstate(), commands, testContext()).estate
const MOVE = '01890000-0000-7000-8000-00000000cc01'
const [guest, other] = [{ guestId: idOf('playout') }, { guestId: idOf('news') }]

describe('a sheet that is worked on', () => {
  it('counts what is settled, what it took, and what is to go', () => {
    const estate = estateOf(sheet('port', guest), settled('port', 'image', 7), settled('port', 'power-on', null, 'skipped'))
    const work = workSheet(estate, sheetOf(estate, 'guestId', guest.guestId), 'guestId', planned, { updates: 10 })
    expect(work).toMatchObject({ settled: 2, spentMinutes: 7, leftMinutes: 10 })
    expect(work.steps.map(({ record }) => record?.state)).toEqual(['done', 'skipped', undefined])
  })

  it('a step that was opened again is open, keeps what became of it, and counts its attempts', () => {
    const estate = estateOf(sheet('port', guest), settled('port', 'image', 7), {
      type: 'step.add',
      record: {
        id: idOf('attachment'),
        sheetId: idOf('port'),
        step: 'updates',
        state: 'open',
        attempts: 2,
        note: 'no network',
        personId: idOf('ola'),
        at: '2027-01-10T09:00:00.000Z',
      },
    })
    const work = workSheet(estate, sheetOf(estate, 'guestId', guest.guestId), 'guestId', planned, {})
    expect(work.settled).toBe(1)
    expect(work.steps[2]).toMatchObject({ record: undefined, reopened: { attempts: 2, note: 'no network' } })
  })

  it('people add steps of their own, each behind the step it comes after, or at the end', () => {
    const own = (step: string, title: string, after: string | null): Command => ({
      type: 'step.add',
      record: { sheetId: idOf('port'), step, title, after, state: 'open', personId: idOf('ola'), at: '2027-01-10T09:00:00.000Z' },
    })
    const estate = estateOf(
      sheet('port', guest),
      own('label', 'Label the cable', 'image'),
      own('photo', 'Take a photograph', 'label'),
      own('tell', 'Tell the newsroom', null),
      own('lost', 'Behind what is not here', 'fans'),
    )
    const work = workSheet(estate, sheetOf(estate, 'guestId', guest.guestId), 'guestId', planned, {})
    expect(work.steps.map(({ key }) => key)).toEqual(['image', 'label', 'photo', 'power-on', 'updates', 'tell', 'lost'])
    expect(work.steps.filter(({ isAdded }) => isAdded).map(({ title }) => title)).toContain('Label the cable')
  })

  it('a thing has a sheet for each work on it', () => {
    const estate = estateOf(
      sheet('port', guest),
      sheet('switch', { guestId: idOf('template'), work: 'renewal' }),
      sheet('array', { guestId: idOf('template') }),
    )
    expect(sheetOf(estate, 'guestId', idOf('template'))?.id).toBe(idOf('array'))
    expect(sheetOf(estate, 'guestId', idOf('template'), 'renewal')?.id).toBe(idOf('switch'))
    const moved = applyAll(
      estate,
      [
        { type: 'migration.add', record: { id: MOVE, guestId: idOf('news'), toHostId: idOf('gannet') } },
        {
          type: 'sheet.add',
          record: { id: '01890000-0000-7000-8000-00000000cc02', migrationId: MOVE, work: 'move', startedAt: '2027-01-10T08:00:00.000Z' },
        },
      ],
      testContext(2),
    ).estate
    expect(sheetOf(moved, 'migrationId', MOVE, 'move')?.id).toBe('01890000-0000-7000-8000-00000000cc02')
    const record = { migrationId: MOVE, startedAt: '2027-01-10T08:00:00.000Z', ...guest }
    expect(() => applyAll(moved, [{ type: 'sheet.add', record }], testContext(3))).toThrow('for one thing')
  })

  it('expects what a step took on other sheets of the same kind, by the median', () => {
    const estate = estateOf(
      sheet('port', guest),
      sheet('switch', other),
      sheet('attachment', { hostId: idOf('gannet') }),
      settled('switch', 'updates', 30),
      // A host’s updates are another matter than a guest’s.
      settled('attachment', 'updates', 500),
    )
    const estimate = (of: 'guestId' | 'hostId') =>
      workSheet(estate, sheetOf(estate, of, of === 'guestId' ? guest.guestId : idOf('fulmar')), of, planned, { updates: 10 }).steps.find(
        ({ key }) => key === 'updates',
      )?.estimate
    expect(estimate('guestId')).toEqual({ minutes: 30, from: 'one earlier install' })
    expect(estimate('hostId')).toEqual({ minutes: 500, from: 'one earlier build' })
  })

  it('its own times are no estimate, and a step nobody timed takes the usual time', () => {
    const estate = estateOf(sheet('port', guest), settled('port', 'updates', 99))
    const steps = workSheet(estate, sheetOf(estate, 'guestId', guest.guestId), 'guestId', planned, { updates: 10, image: 5 }).steps
    expect(steps.map(({ estimate }) => estimate.minutes)).toEqual([5, 10, 10])
    expect(steps[0]?.estimate.from).toBe('basis: common practice, not measured here yet')
  })

  it('the open one comes before those that are finished, else the newest', () => {
    const both = [sheet('port', guest, '2027-01-01T00:00:00.000Z'), sheet('switch', guest, '2027-01-05T00:00:00.000Z')]
    const finish = (id: string): Command => ({ type: 'sheet.update', id: idOf(id), changes: { finishedAt: '2027-01-06T00:00:00.000Z' } })
    expect(sheetOf(estateOf(...both, finish('switch')), 'guestId', guest.guestId)?.id).toBe(idOf('port'))
    expect(sheetOf(estateOf(...both, finish('switch'), finish('port')), 'guestId', guest.guestId)?.id).toBe(idOf('switch'))
    expect(sheetOf(estateOf(), 'guestId', guest.guestId)).toBeUndefined()
  })
})
