import type { Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { renderInEstate, stubServer } from '../testing/api-stand-in'
import { giveSizes } from '../testing/layout'
import { Keys } from './keys'
import { TopBar } from './top-bar'

beforeEach(() => {
  localStorage.clear()
  giveSizes()
  vi.stubGlobal('matchMedia', () => ({ matches: false, addEventListener: () => undefined, removeEventListener: () => undefined }))
  Element.prototype.scrollIntoView = () => undefined
})
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

async function open(options?: Parameters<typeof renderInEstate>[1]) {
  const api = stubServer()
  api.change([{ type: 'guest.update', id: idOf('news'), changes: { backupStoreId: null } }])
  const page = renderInEstate(
    <>
      <TopBar />
      <Keys />
    </>,
    options,
  )
  await screen.findByRole('navigation', { name: 'Sections' })
  return { api, ...page }
}
const key = (name: string, more: object = {}) => act(() => void fireEvent.keyDown(document.body, { key: name, ...more }))
const press = (button: HTMLElement) => act(() => Promise.resolve(fireEvent.click(button)))

describe('the bar, after an item of a plan', () => {
  const PLAN = '018a0000-0000-7000-8000-000000000001'
  const [A, B] = ['018b0000-0000-7000-8000-000000000001', '018b0000-0000-7000-8000-000000000002'] as const
  const written = (id: string, title: string, memoryMiB: number): Command => ({
    type: 'item.write',
    id,
    planId: PLAN,
    title,
    commands: [{ type: 'guest.resize', guestId: idOf('news'), memoryMiB }],
  })

  it('shows the estate as it would be, moves from item to item, and says where changes go', async () => {
    const { api, view } = await open()
    act(() => {
      api.change([{ type: 'plan.add', record: { id: PLAN, name: 'Saturday' } }, written(A, 'More', 6144), written(B, 'Even more', 7168)])
      api.tell()
    })
    await waitFor(() => expect(view().recorded.all('item')).toHaveLength(2))
    act(() => view().showBasis({ on: 'item', planId: PLAN, itemId: A }))
    const memory = () => view().estate.find('guest', idOf('news'))?.memoryMiB
    await waitFor(() => expect(memory()).toBe(6144))
    expect(screen.getByText(/^After “More” of plan “Saturday”\. What you change is added to the plan after it; ticks/)).toBeDefined()
    const slider = await screen.findByRole('slider', { name: 'After item 1 of 2' })
    act(() => void fireEvent.change(slider, { target: { value: '2' } }))
    await waitFor(() => expect(memory()).toBe(7168))
    act(() => void fireEvent.change(slider, { target: { value: '0' } }))
    await waitFor(() => expect([view().basis.on, memory()]).toEqual(['recorded', 4096]))
  })

  it('says so where that item is over, and shows the record', async () => {
    const { api, view } = await open()
    act(() => {
      api.change([
        { type: 'plan.add', record: { id: PLAN, name: 'Saturday' } },
        written(A, 'More', 6144),
        { type: 'item.skip', itemId: A, reason: 'no' },
      ])
      api.tell()
    })
    await waitFor(() => expect(view().recorded.all('item')).toHaveLength(1))
    act(() => view().showBasis({ on: 'item', planId: PLAN, itemId: A }))
    expect(await screen.findByText(/not to be done any more; this is the current record/)).toBeDefined()
  })
})

describe('the bar', () => {
  it('counts the open findings, and names the estate and who records', async () => {
    await open()
    expect(await screen.findByLabelText('1 open')).toBeDefined()
    expect(screen.getByRole('button', { name: 'Account: recorded as Ola Berg' })).toBeDefined()
  })

  it('opens its menus, whose code comes then, by pointer and by arrow', async () => {
    await open()
    const account = screen.getByRole('button', { name: /^Account/ })
    act(() => void fireEvent.keyDown(account, { key: 'ArrowDown' }))
    expect(await screen.findByRole('menuitem', { name: 'Recorded as…' })).toBeDefined()
    expect(screen.getByRole('menuitem', { name: 'Dark theme' })).toBeDefined()
  })

  it('asks who one is where nobody said so', async () => {
    await open({ person: null })
    expect(await screen.findByRole('dialog')).toBeDefined()
  })

  it('lists the keys at “?”, and finds things at Ctrl K', async () => {
    await open()
    key('?')
    expect(await screen.findByRole('heading', { name: 'Keys' })).toBeDefined()
    key('Escape')
    await waitFor(() => expect(screen.queryByRole('heading', { name: 'Keys' })).toBeNull())
    key('k', { ctrlKey: true })
    const field = await screen.findByRole('combobox')
    act(() => void fireEvent.change(field, { target: { value: 'newsro' } }))
    expect((await screen.findAllByRole('option')).map(({ textContent }) => textContent).join()).toContain('newsroom')
    act(() => void fireEvent.change(field, { target: { value: 'capacity' } }))
    expect((await screen.findAllByRole('option')).map(({ textContent }) => textContent).join()).toContain('what still fits')
  })
})

describe('what is shown', () => {
  it('is the record or the estate after a plan, by a press or the key p', async () => {
    const { view } = await open()
    await act(async () => void (await view().addToPlan([{ type: 'guest.power', guestId: idOf('playout'), state: 'stopped' }], 'Saturday')))
    await waitFor(() => expect(within(screen.getByRole('group', { name: 'Basis' })).getByText('Saturday')).toBeDefined())
    await press(screen.getByRole('button', { name: /^Recorded/ }))
    expect(view().basis.on).toBe('recorded')
    key('p')
    await waitFor(() => expect(view().basis.on).toBe('item'))
    key('p')
    await waitFor(() => expect(view().basis.on).toBe('recorded'))
  })

  it('of the past is said, with the way back', async () => {
    const { view } = await open({ at: 'board?basis=change-1' })
    expect(await screen.findByText('As of change 1')).toBeDefined()
    expect(view().estate.find('guest', idOf('news'))?.backupStoreId).toBe(idOf('vaultStore'))
    expect(view().recorded.find('guest', idOf('news'))?.backupStoreId).toBeNull()
    await press(screen.getByRole('button', { name: 'Show the record' }))
    expect(view().basis.on).toBe('recorded')
    expect(screen.queryByText('As of change 1')).toBeNull()
  })
})
