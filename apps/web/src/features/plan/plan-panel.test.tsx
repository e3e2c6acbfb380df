import type { Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { act, cleanup, fireEvent, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { renderInEstate, stubServer } from '../../testing/api-stand-in'
import { PlanPanel } from './plan-panel'
import { press } from '../../testing/open-page'

beforeEach(() => localStorage.clear())
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

const resize: Command = { type: 'guest.resize', guestId: idOf('playout'), memoryMiB: 12_288 }
const unprotect: Command = { type: 'guest.update', id: idOf('news'), changes: { backupStoreId: null } }

async function open(...commands: Command[]) {
  const api = stubServer()
  const page = renderInEstate(<PlanPanel />)
  await waitFor(() => expect(page.view().revision).toBe(1))
  act(() => void page.view().addToPlan(commands))
  await screen.findByRole('complementary', { name: 'Plan' })
  return { api, ...page }
}

describe('the draft of a plan', () => {
  it('lists its steps in words, with what they change and raise', async () => {
    await open(resize, unprotect)
    expect(screen.getByRole('heading', { name: 'Plan: draft of 2 steps' })).toBeDefined()
    expect(screen.getByText('Resize playout-1 to 12 GiB')).toBeDefined()
    expect(await screen.findByText(/newsroom.*backup|backup.*newsroom/)).toBeDefined()
  })

  it('is applied as one change, and is gone then', async () => {
    const { api, view } = await open(resize, unprotect)
    await press('Apply plan')
    await waitFor(() => expect(view().plan).toEqual([]))
    expect([api.revision, view().basis.on, view().recorded.find('guest', idOf('playout'))?.memoryMiB]).toEqual([2, 'recorded', 12_288])
    expect(screen.queryByRole('complementary', { name: 'Plan' })).toBeNull()
  })

  it('loses a step that is taken out, and is discarded whole', async () => {
    const { api, view } = await open(resize, unprotect)
    await press('Remove step 1 from the plan')
    expect(view().plan).toMatchObject([{ type: 'guest.update' }])
    await press('Discard')
    expect([view().plan, view().basis.on, api.revision]).toEqual([[], 'recorded', 1])
  })

  it('that no longer fits the record says so and cannot be applied', async () => {
    const { api, view } = await open({ type: 'guest.update', id: idOf('news'), changes: { name: 'news-desk' } })
    api.change([{ type: 'guest.add', record: { name: 'news-desk', hostId: idOf('gannet'), vcpu: 1, memoryMiB: 512 } }])
    act(() => api.tell())
    await waitFor(() => expect(view().planTrouble).toContain('news-desk'))
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Apply plan' }).disabled).toBe(true)
  })

  it('is kept in a plan that everybody sees, a new one or one there is', async () => {
    const { view } = await open(resize, unprotect)
    fireEvent.change(screen.getByLabelText('Name of the plan'), { target: { value: 'Saturday' } })
    await press('Keep in plan')
    await waitFor(() => expect(view().recorded.all('item')).toHaveLength(1))
    expect(view().recorded.all('item')[0]).toMatchObject({ title: 'Resize playout-1 to 12 GiB and 1 more', kind: 'change' })
    expect([view().plan, view().recorded.find('guest', idOf('playout'))?.memoryMiB]).toEqual([[], 8192])
    act(() => void view().addToPlan([resize]))
    const [saturday] = view().recorded.all('plan')
    fireEvent.change(await screen.findByLabelText('Plan to keep it in'), { target: { value: saturday?.id } })
    await press('Keep in plan')
    await waitFor(() => expect(view().recorded.all('item')).toHaveLength(2))
  })

  it('is shown or left by the key p', async () => {
    const { view } = await open(resize)
    expect(view().basis.on).toBe('plan')
    act(() => void fireEvent.keyDown(document.body, { key: 'p' }))
    await waitFor(() => expect(view().basis.on).toBe('recorded'))
    act(() => void fireEvent.keyDown(document.body, { key: 'p' }))
    await waitFor(() => expect(view().basis.on).toBe('plan'))
  })
})
