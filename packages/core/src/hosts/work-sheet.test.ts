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
const [guest, other] = [{ guestId: idOf('playout') }, { guestId: idOf('news') }]

describe('a sheet that is worked on', () => {
  it('counts what is settled, what it took, and what is to go', () => {
    const estate = estateOf(sheet('port', guest), settled('port', 'image', 7), settled('port', 'power-on', null, 'skipped'))
    const work = workSheet(estate, sheetOf(estate, 'guestId', guest.guestId), 'guestId', planned, { updates: 10 })
    expect(work).toMatchObject({ settled: 2, spentMinutes: 7, leftMinutes: 10 })
    expect(work.steps.map(({ record }) => record?.state)).toEqual(['done', 'skipped', undefined])
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
    expect(steps[0]?.estimate.from).toBe('common practice, not measured here yet')
  })

  it('the open one comes before those that are finished, else the newest', () => {
    const both = [sheet('port', guest, '2027-01-01T00:00:00.000Z'), sheet('switch', guest, '2027-01-05T00:00:00.000Z')]
    const finish = (id: string): Command => ({ type: 'sheet.update', id: idOf(id), changes: { finishedAt: '2027-01-06T00:00:00.000Z' } })
    expect(sheetOf(estateOf(...both, finish('switch')), 'guestId', guest.guestId)?.id).toBe(idOf('port'))
    expect(sheetOf(estateOf(...both, finish('switch'), finish('port')), 'guestId', guest.guestId)?.id).toBe(idOf('switch'))
    expect(sheetOf(estateOf(), 'guestId', guest.guestId)).toBeUndefined()
  })
})
