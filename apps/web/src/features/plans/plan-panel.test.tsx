import type { Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { act, cleanup, fireEvent, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { useEstate } from '../../estate'
import { ESTATE_ID, renderInEstate, stubServer } from '../../testing/api-stand-in'
import { press } from '../../testing/open-page'
import { OldDraft } from './old-draft'
import { PlanPanel } from './plan-panel'

beforeEach(() => {
  localStorage.clear()
  vi.stubGlobal('matchMedia', () => ({ matches: true, addEventListener: () => undefined, removeEventListener: () => undefined }))
})
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

const resize: Command = { type: 'guest.resize', guestId: idOf('playout'), memoryMiB: 12_288 }
const unprotect: Command = { type: 'guest.update', id: idOf('news'), changes: { backupStoreId: null } }

function Shown() {
  const { basis, oldDraft } = useEstate()
  return (
    <>
      {basis.on === 'item' && <PlanPanel basis={basis} />}
      {oldDraft && <OldDraft commands={oldDraft} />}
    </>
  )
}

async function open(...commands: Command[]) {
  const api = stubServer()
  const page = renderInEstate(<Shown />, { at: 'board' })
  await waitFor(() => expect(page.view().revision).toBe(1))
  for (const command of commands) await act(async () => void (await page.view().addToPlan([command], 'Saturday')))
  if (commands.length > 0) await screen.findByRole('complementary', { name: 'Plan' })
  return { api, ...page }
}
const steps = () => screen.getAllByRole('listitem').map(({ textContent }) => textContent)

describe('the plan that is shown', () => {
  it('lists its items, with what they change and raise up to the one looked at', async () => {
    const { view } = await open(resize, unprotect)
    expect(screen.getByRole('heading', { name: 'Saturday, draft' })).toBeDefined()
    expect(steps().slice(0, 2)).toEqual(['1Resize playout-1 to 12 GiB', expect.stringMatching(/^2Change guest newsroom/)])
    expect(await screen.findByText(/newsroom.*backup|backup.*newsroom/)).toBeDefined()
    await press('Resize playout-1 to 12 GiB')
    await waitFor(() => expect(view().estate.find('guest', idOf('news'))?.backupStoreId).not.toBeNull())
    await waitFor(() => expect(screen.queryByText(/newsroom.*backup|backup.*newsroom/)).toBeNull())
    expect(screen.getByRole('button', { name: 'Resize playout-1 to 12 GiB' }).getAttribute('aria-current')).toBe('step')
  })

  it('is carried out up to the item looked at, a change for each, and the record is shown', async () => {
    const { api, view } = await open(resize, unprotect)
    await press('Carry out all…')
    await press('Carry out 2 items')
    await waitFor(() => expect(view().basis.on).toBe('recorded'))
    expect(view().recorded.find('guest', idOf('playout'))?.memoryMiB).toBe(12_288)
    expect([api.revision, view().recorded.all('plan')[0]?.state]).toEqual([5, 'done'])
  })

  it('loses an item that is dropped, and is dropped whole', async () => {
    const { view } = await open(resize, unprotect)
    await press('Drop item 2')
    await waitFor(() => expect(view().recorded.all('item')).toHaveLength(1))
    expect(view().basis.on).toBe('item')
    await press('Drop plan')
    await waitFor(() => expect(view().recorded.all('plan')[0]?.state).toBe('dropped'))
    expect(view().basis.on).toBe('recorded')
    // A dropped plan takes nothing more.
    expect(view().planInto).toBeUndefined()
  })

  it('that no longer fits the record says where', async () => {
    const { api } = await open({ type: 'guest.update', id: idOf('news'), changes: { name: 'news-desk' } })
    api.change([{ type: 'guest.add', record: { name: 'news-desk', hostId: idOf('gannet'), vcpu: 1, memoryMiB: 512 } }])
    act(() => api.tell())
    expect(await screen.findByText(/^Cannot be applied: Name news-desk is already used by/)).toBeDefined()
  })
})

describe('a draft that this browser kept before', () => {
  const keep = () => localStorage.setItem(`insel.plan.${ESTATE_ID}`, JSON.stringify([resize, unprotect]))

  it('is offered once as a plan, an item for each step', async () => {
    keep()
    const { view } = await open()
    fireEvent.change(await screen.findByLabelText('Name of the new plan'), { target: { value: 'Saturday' } })
    await press('Keep as plan')
    await waitFor(() => expect(view().recorded.all('item')).toHaveLength(2))
    expect(view().recorded.all('plan')).toMatchObject([{ name: 'Saturday', state: 'draft' }])
    expect(localStorage.getItem(`insel.plan.${ESTATE_ID}`)).toBeNull()
    await waitFor(() => expect(screen.queryByRole('complementary', { name: 'Old draft' })).toBeNull())
  })

  it('is discarded, or stays with the reason where it does not fit the record', async () => {
    localStorage.setItem(`insel.plan.${ESTATE_ID}`, JSON.stringify([{ type: 'guest.resize', guestId: idOf('ola'), vcpu: 2 }]))
    const { view } = await open()
    await screen.findByRole('complementary', { name: 'Old draft' })
    await press('Keep as plan')
    expect((await screen.findByRole('alert')).textContent).toContain('There is no guest')
    await press('Discard')
    expect(screen.queryByRole('complementary', { name: 'Old draft' })).toBeNull()
    expect(view().recorded.all('plan')).toEqual([])
  })
})
