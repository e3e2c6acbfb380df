import type { Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { act, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { afterEach, beforeAll, describe, expect, it } from 'vitest'
import { giveSizes } from '../../testing/layout'
import { leavePage, openPage, press, rows, type } from '../../testing/open-page'

beforeAll(giveSizes)
afterEach(leavePage)

const PLAN = '018a0000-0000-7000-8000-000000000001'
const [MORE, TELL, COPY] = [1, 2, 3].map((number) => `018b0000-0000-7000-8000-00000000000${number}`) as [string, string, string]
const resize = (memoryMiB: number): Command => ({ type: 'guest.resize', guestId: idOf('news'), memoryMiB })
const item = (id: string, title: string, commands: readonly Command[], kind = 'change'): Command =>
  ({ type: 'item.write', id, planId: PLAN, title, kind, commands }) as unknown as Command
const plan: readonly Command[] = [
  { type: 'plan.add', record: { id: PLAN, name: 'Saturday', ownerId: idOf('ola') } },
  item(MORE, 'More memory', [resize(6144)]),
  item(TELL, 'Tell the newsroom', [], 'task'),
  item(COPY, 'A copy', [{ type: 'guest.clone', guestId: idOf('template'), name: 'edge-1' }], 'copies'),
]
const open = (...more: Command[]) => openPage(`plans/${PLAN}`, [...plan, ...more])
const itemNamed = (name: string) => within(screen.getByRole('listitem', { name }))
const pressIn = (name: string, button: RegExp | string) =>
  act(() => Promise.resolve(fireEvent.click(itemNamed(name).getByRole('button', { name: button }))))
const order = () => screen.getAllByRole('listitem').flatMap((one) => one.getAttribute('aria-label') ?? [])

describe('the list of plans', () => {
  it('says how far each is, what comes next and how many items are stale', async () => {
    await openPage('plans', [...plan, resize(5120)])
    await screen.findByText('More memory')
    expect(rows()[0]).toEqual(['Saturday', 'draft', 'More memory', '0 of 3', expect.stringMatching(/min$/), '1', 'Ola Berg'])
  })

  it('is empty at first, and says what to do', async () => {
    await openPage('plans')
    expect(screen.getByText(/^No plan is recorded yet/)).toBeDefined()
  })
})

describe('the page of a plan', () => {
  it('has its items carried out one by one, with what each took', async () => {
    const { view } = await open()
    await type('Minutes for “More memory”', '12')
    await pressIn('More memory', /^Carry out/)
    await waitFor(() => expect(view().recorded.find('item', MORE)).toMatchObject({ state: 'done', minutesTaken: 12 }))
    expect(view().recorded.find('guest', idOf('news'))?.memoryMiB).toBe(6144)
    expect(screen.getByText(/1 of 3 items done/)).toBeDefined()
    await pressIn('More memory', /^Revert/)
    await waitFor(() => expect(view().recorded.find('item', MORE)?.state).toBe('reverted'))
    expect(view().recorded.find('guest', idOf('news'))?.memoryMiB).toBe(4096)
    await pressIn('More memory', /^Reopen/)
    await waitFor(() => expect(view().recorded.find('item', MORE)?.state).toBe('open'))
  })

  it('records that one failed or was skipped, with the reason', async () => {
    const { view } = await open()
    await pressIn('More memory', /^Failed/)
    await type('What went wrong with “More memory”', 'the module does not fit')
    await pressIn('More memory', 'Record as failed')
    await waitFor(() => expect(view().recorded.find('item', MORE)).toMatchObject({ state: 'failed', reason: 'the module does not fit' }))
    expect(itemNamed('More memory').getByText('Reason: the module does not fit')).toBeDefined()
    await pressIn('Tell the newsroom', 'Tell the newsroom')
    await pressIn('Tell the newsroom', /^Skip/)
    await type('Why “Tell the newsroom” is skipped', 'they know')
    await pressIn('Tell the newsroom', 'Record as skipped')
    await waitFor(() => expect(view().recorded.find('item', TELL)?.state).toBe('skipped'))
  })

  it('says of a stale item what changed, carries it out only once somebody keeps it', async () => {
    const { view } = await open(resize(5120))
    expect(itemNamed('More memory').getByText('Memory of guest newsroom: 4 GiB when the item was written, 5 GiB now.')).toBeDefined()
    expect(itemNamed('More memory').getByRole<HTMLButtonElement>('button', { name: /^Carry out/ }).disabled).toBe(true)
    await pressIn('More memory', /^Keep as it is now/)
    await waitFor(() =>
      expect(itemNamed('More memory').getByRole<HTMLButtonElement>('button', { name: /^Carry out/ }).disabled).toBe(false),
    )
    await pressIn('More memory', /^Carry out/)
    await waitFor(() => expect(view().recorded.find('guest', idOf('news'))?.memoryMiB).toBe(6144))
  })

  it('is put in order by buttons and keys, and loses an item that is dropped', async () => {
    await open()
    expect(order()).toEqual(['More memory', 'Tell the newsroom', 'A copy'])
    await pressIn('More memory', 'Move “More memory” down')
    await waitFor(() => expect(order()).toEqual(['Tell the newsroom', 'More memory', 'A copy']))
    const title = itemNamed('A copy').getByRole('button', { name: 'A copy' })
    act(() => void fireEvent.keyDown(title, { key: 'ArrowUp', altKey: true }))
    await waitFor(() => expect(order()).toEqual(['Tell the newsroom', 'A copy', 'More memory']))
    act(() => void fireEvent.keyDown(title, { key: 'ArrowDown', altKey: true }))
    await waitFor(() => expect(order()).toEqual(['Tell the newsroom', 'More memory', 'A copy']))
    await pressIn('A copy', 'A copy')
    await pressIn('A copy', /^Drop/)
    await waitFor(() => expect(order()).toEqual(['Tell the newsroom', 'More memory']))
  })

  it('takes a task, is agreed to, dropped and reopened', async () => {
    const { view } = await open()
    await type('Title of the task', 'Order modules')
    await press('Add task')
    await waitFor(() => expect(order()).toHaveLength(4))
    await press('Agree to plan')
    await waitFor(() => expect(view().recorded.find('plan', PLAN)?.state).toBe('agreed'))
    await press('Drop plan')
    await waitFor(() => expect(view().recorded.find('plan', PLAN)?.state).toBe('dropped'))
    await press('Reopen plan')
    await waitFor(() => expect(view().recorded.find('plan', PLAN)?.state).toBe('draft'))
  })

  it('is carried out whole, a change for each item, and stops at the first that is refused', async () => {
    const { api, view } = await open()
    await press('Carry out all…')
    // Somebody else is quicker with the last name.
    api.change([{ type: 'guest.add', record: { name: 'edge-1', hostId: idOf('gannet'), vcpu: 1, memoryMiB: 512 } }])
    await press('Carry out 3 items')
    expect((await screen.findByRole('alert')).textContent).toMatch(
      /^Stopped after 2 of 3: “A copy” cannot be applied: Name edge-1 is already used/,
    )
    expect([MORE, TELL, COPY].map((id) => view().recorded.find('item', id)?.state)).toEqual(['done', 'done', 'open'])
    expect(screen.getByRole('heading', { name: 'Planned against actual' })).toBeDefined()
  })

  it('has an item split after its first command, and joined with the next', async () => {
    await open({ type: 'item.rewrite', itemId: MORE, commands: [resize(6144), resize(7168)] } as unknown as Command)
    await pressIn('More memory', /^Split off/)
    await waitFor(() => expect(order()).toEqual(['More memory', 'More memory, part 2', 'Tell the newsroom', 'A copy']))
    await pressIn('More memory', /^Join with the next/)
    await waitFor(() => expect(order()).toEqual(['More memory', 'Tell the newsroom', 'A copy']))
  })

  it('compares the hosts before and after, and names the findings it raises', async () => {
    await open(item('018b0000-0000-7000-8000-000000000009', 'Far too much', [resize(60_000)]))
    expect(await screen.findByText(/^Before the plan: Of 3 hosts in service, (any one|\d) could fail alone/)).toBeDefined()
    expect(screen.getByRole('img', { name: /^fulmar: .* left before, .* after$/ })).toBeDefined()
    expect(await screen.findByText(/^fulmar promises its guests/)).toBeDefined()
  })

  it('reverts everything that was done, the last first', async () => {
    const { view } = await open({ type: 'item.carryOut', itemId: MORE }, { type: 'item.carryOut', itemId: TELL })
    await press('Revert plan…')
    expect(screen.getByRole('group', { name: 'Revert plan' }).textContent).toContain('The machines themselves are not touched.')
    await press('Cancel')
    expect(view().recorded.find('item', MORE)?.state).toBe('done')
  })
})
