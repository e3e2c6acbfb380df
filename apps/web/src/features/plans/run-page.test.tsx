import type { Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { act, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { afterEach, beforeAll, describe, expect, it, vi } from 'vitest'
import { giveSizes } from '../../testing/layout'
import { leavePage, openPage, press, type } from '../../testing/open-page'

beforeAll(giveSizes)
afterEach(() => {
  vi.useRealTimers()
  leavePage()
})

const PLAN = '018a0000-0000-7000-8000-000000000001'
const [MORE, TELL, WIPE] = [1, 2, 3].map((number) => `018b0000-0000-7000-8000-00000000000${number}`) as [string, string, string]
const item = (id: string, title: string, commands: readonly Command[], more: object = {}): Command =>
  ({ type: 'item.write', id, planId: PLAN, title, kind: commands.length > 0 ? 'change' : 'task', commands, ...more }) as unknown as Command
const plan = (more: object = {}): readonly Command[] => [
  { type: 'plan.add', record: { id: PLAN, name: 'Saturday', ownerId: idOf('ola') } },
  item(MORE, 'More memory', [{ type: 'guest.resize', guestId: idOf('news'), memoryMiB: 6144 }], more),
  item(TELL, 'Tell the newsroom', []),
  item(WIPE, 'Delete the old disk', [{ type: 'disk.remove', id: idOf('newsDisk') }]),
]
const open = (...commands: Command[]) => openPage(`plans/${PLAN}/run`, commands.length > 0 ? commands : plan())
const heading = () => screen.getAllByRole('heading', { level: 2 })[0]?.textContent
const states = (view: Awaited<ReturnType<typeof open>>['view']) => [MORE, TELL, WIPE].map((id) => view().recorded.find('item', id)?.state)
const over = () => within(screen.getByRole('heading', { name: /^Settled/ }).closest('section') as HTMLElement).getAllByRole('listitem')

describe('a plan on the day', () => {
  it('shows the next item, what it records and what follows; each is begun and done, with the time it took', async () => {
    const { view } = await open()
    expect([heading(), screen.getByText('Resize newsroom to 6 GiB').textContent]).toEqual(['More memory', 'Resize newsroom to 6 GiB'])
    expect(screen.getByText(/^Power newsroom off and on/)).toBeDefined()
    expect(screen.getByText(/^0 of 3 items settled, about .* to go, until /)).toBeDefined()
    await press('Begin')
    await waitFor(() => expect(states(view)[0]).toBe('under way'))
    expect(screen.getByText(/begun just now/)).toBeDefined()
    await type(/^Note for whoever is next/, 'the cable is in the drawer')
    await press('Done: record it')
    await waitFor(() => expect(heading()).toBe('Tell the newsroom'))
    expect(view().recorded.find('item', MORE)).toMatchObject({ state: 'done', minutesTaken: 0, note: 'the cable is in the drawer' })
    expect(screen.getByText('the cable is in the drawer').textContent).toBe(
      'Note from Ola Berg on “More memory”: the cable is in the drawer',
    )
  })

  it('asks before what cannot be undone, with the usual caution', async () => {
    const { view } = await open()
    await press('Take first: Delete the old disk')
    expect(screen.getByText(/^What is deleted, wiped or made smaller cannot be brought back/)).toBeDefined()
    await press('Done: record it…')
    expect(screen.getByRole('alertdialog').textContent).toContain('cannot be undone on the machines')
    await press('Back')
    expect(states(view)[2]).toBe('open')
    await press('Done: record it…')
    await press('Yes, record it')
    await waitFor(() => expect(states(view)[2]).toBe('done'))
    expect(view().recorded.find('disk', idOf('newsDisk'))).toBeUndefined()
  })

  it('says by when it is decided, and what is done otherwise', async () => {
    const soon = new Date(Date.now() + 12 * 60_000).toISOString()
    await open(...plan({ decideBy: soon, otherwise: 'roll back' }))
    expect(screen.getByText(/^Decide: not done by .*, in 12 min: roll back$/)).toBeDefined()
    leavePage()
    await open(...plan({ decideBy: new Date(Date.now() - 3 * 60_000).toISOString(), otherwise: 'roll back' }))
    expect(screen.getByRole('alert').textContent).toMatch(/^Decide now: not done by .*, 3 min ago: roll back$/)
  })

  it('ends with what was planned and what became of it', async () => {
    const { view } = await open()
    for (const [button, label, name, reason] of [
      ['Failed…', /^What went wrong/, 'Record as failed', 'the module does not fit'],
      ['Skip…', /^Why it is skipped/, 'Record as skipped', 'they know'],
      ['Skip…', /^Why it is skipped/, 'Record as skipped', 'next month'],
    ] as const) {
      await press(button)
      await type(label, reason)
      await press(name)
    }
    await waitFor(() => expect(states(view)).toEqual(['failed', 'skipped', 'skipped']))
    expect(screen.getByText(/^Nothing is left to be done/)).toBeDefined()
    expect(screen.getByRole('heading', { name: 'Planned against actual' })).toBeDefined()
    expect(over()[0]?.textContent).toBe('More memory, failed by Ola Berg: the module does not fit')
  })
})

describe('without a connection', () => {
  it('what is ticked is kept and shown, and sent in its order once it is back', async () => {
    const { api, view } = await open()
    api.isDown = true
    await press('Begin')
    expect(await screen.findByText(/^No connection\. 1 tick is kept/)).toBeDefined()
    await press('Done: record it')
    await press('Done')
    expect(await screen.findByText(/^No connection\. 3 ticks are kept/)).toBeDefined()
    expect([heading(), over().map(({ textContent }) => textContent)]).toEqual([
      'Delete the old disk',
      ['More memory, done, kept here and not sent yet', 'Tell the newsroom, done, kept here and not sent yet'],
    ])
    expect(states(view)).toEqual(['open', 'open', 'open'])
    const before = api.asked.length
    api.isDown = false
    act(() => void window.dispatchEvent(new Event('online')))
    await waitFor(() => expect(states(view)).toEqual(['done', 'done', 'open']))
    expect(
      api.asked.slice(before).flatMap(({ body }) => (body['commands'] as Command[] | undefined)?.map((command) => command.type) ?? []),
    ).toEqual(['item.begin', 'item.carryOut', 'item.carryOut'])
    await waitFor(() => expect(screen.queryByText(/^No connection/)).toBeNull())
  })

  it('what somebody else did meanwhile is shown with both versions, and the rest is sent', async () => {
    const { api, view } = await open()
    api.isDown = true
    await press('Done: record it')
    await press('Done')
    api.change([{ type: 'item.fail', itemId: MORE, reason: 'no module came' }])
    api.isDown = false
    act(() => void window.dispatchEvent(new Event('online')))
    await waitFor(() => expect(states(view)).toEqual(['failed', 'done', 'open']))
    const both = await screen.findByText('“More memory” could not be recorded as you ticked it.')
    const shown = within(both.closest('[role=alert]') as HTMLElement)
    expect(shown.getAllByRole('definition').map(({ textContent }) => textContent)).toEqual([
      expect.stringMatching(/^done, ticked /),
      expect.stringMatching(/^failed.*: no module came$/),
    ])
    fireEvent.click(shown.getByRole('button', { name: 'Leave the record as it is' }))
    await waitFor(() => expect(screen.queryByText(/could not be recorded as you ticked it/)).toBeNull())
  })

  it('what somebody else ticked as done meanwhile is not taken for one’s own tick', async () => {
    const tove = '01890000-0000-7000-8000-0000000000f7'
    const { api, view } = await open({ type: 'person.add', record: { id: tove, name: 'Tove Lind' } }, ...plan())
    api.isDown = true
    await press('Done: record it')
    api.change([{ type: 'item.carryOut', itemId: MORE }], 'Tove Lind', tove)
    api.isDown = false
    act(() => {
      window.dispatchEvent(new Event('online'))
      api.tell()
    })
    await waitFor(() => expect(states(view)[0]).toBe('done'))
    const both = await screen.findByText('“More memory” could not be recorded as you ticked it.')
    const shown = within(both.closest('[role=alert]') as HTMLElement)
    expect(shown.getAllByRole('definition')[1]?.textContent).toMatch(/^done by Tove Lind/)
  })

  it('a tick whose answer was lost is not sent twice, and is no conflict', async () => {
    const { api, view } = await open()
    api.isAnswerLost = true
    await press('Done: record it')
    expect(await screen.findByText(/^No connection\. 1 tick is kept/)).toBeDefined()
    api.isAnswerLost = false
    act(() => {
      window.dispatchEvent(new Event('online'))
      api.tell()
    })
    await waitFor(() => expect(states(view)[0]).toBe('done'))
    await waitFor(() => expect(screen.queryByText(/^No connection/)).toBeNull())
    expect(screen.queryByText(/could not be recorded/)).toBeNull()
    expect(api.changes.filter(({ commands }) => commands.some(({ type: of }) => of === 'item.carryOut'))).toHaveLength(1)
  })
})
