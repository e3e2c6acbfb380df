import { idOf } from '@insel/core/testing'
import { screen } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { leavePage, openPage, rows, tick, type } from '../../testing/open-page'

afterEach(leavePage)

const needs = (guest: string, other: string) =>
  ({ type: 'dependency.add', record: { guestId: idOf(guest), needsId: idOf(other), waitSeconds: 90 } }) as const
const names = () => rows().map(([, name]) => name)

describe('the order of starting', () => {
  it('has first what others wait for, with the time each is powered on', async () => {
    await openPage('guests/order', [needs('playout', 'news')])
    expect(names()).toEqual(['newsroom', 'playout-1'])
    expect(rows().map(([, , , at]) => at)).toEqual(['at once', '+1 min 30 s'])
  })

  it('is the other way round for stopping, with its caution', async () => {
    await openPage('guests/order', [needs('playout', 'news')])
    await tick('stop')
    expect(names()).toEqual(['playout-1', 'newsroom'])
    expect(screen.getByText(/Forcing one off loses/)).toBeDefined()
  })

  it('is of one host, and names what is needed from outside of it', async () => {
    await openPage('guests/order', [needs('playout', 'news')])
    await type(/^Of/, `host:${idOf('gannet')}`)
    expect(names()).toEqual(['playout-1'])
    expect(screen.getByText(/needs newsroom, not in this list/)).toBeDefined()
  })

  it('names a circle, of which none can be started first', async () => {
    await openPage('guests/order', [needs('playout', 'news'), needs('news', 'playout')])
    expect(screen.getByText(/none can be started first/).textContent).toMatch(/waits for/)
  })

  it('is empty where nothing is in service', async () => {
    await openPage('guests/order', [
      { type: 'guest.update', id: idOf('playout'), changes: { state: 'stopped' } },
      { type: 'guest.update', id: idOf('playout'), changes: { state: 'retired' } },
    ])
    await type(/^Of/, `host:${idOf('gannet')}`)
    expect(screen.getByText(/No guest of gannet is in service/)).toBeDefined()
  })
})
