import type { Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { stubServer } from '../../testing/api-stand-in'
import { renderPlace } from '../../testing/render-place'

beforeEach(() => localStorage.clear())
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

const resize = (memoryMiB: number): Command => ({ type: 'guest.resize', guestId: idOf('playout'), memoryMiB })

async function open() {
  const api = stubServer()
  api.change([resize(10_240)])
  api.change([{ type: 'guest.update', id: idOf('news'), changes: { purpose: 'editing' } }])
  const page = await renderPlace('logbook')
  const entries = () => screen.getAllByRole('listitem')
  await waitFor(() => expect(entries().length).toBeGreaterThan(1))
  const entry = (revision: number) => {
    const found = entries().find((one) => within(one).queryByText(`r${revision}`))
    if (!found) throw new Error(`the logbook shows no change ${revision}`)
    return within(found)
  }
  return { api, entry, ...page }
}
const press = (button: HTMLElement) => act(() => Promise.resolve(fireEvent.click(button)))

describe('the logbook', () => {
  it('says who did what, and the exact difference when it is wanted', async () => {
    const { entry } = await open()
    expect(entry(2).getByText(/Tove Lind/)).toBeDefined()
    expect(entry(2).queryByText('8 GiB')).toBeNull()
    await press(entry(2).getByRole('button', { name: 'Show changes' }))
    expect(entry(2).getByText('8 GiB')).toBeDefined()
    await press(entry(2).getByRole('button', { name: 'Hide changes' }))
    expect(entry(2).queryByText('8 GiB')).toBeNull()
  })

  it('undoes a change by a new one, and says why where later ones stand in the way', async () => {
    const { api, entry, view } = await open()
    await press(entry(2).getByRole('button', { name: 'Revert change 2' }))
    await waitFor(() => expect(view().recorded.find('guest', idOf('playout'))?.memoryMiB).toBe(8192))
    expect(api.revision).toBe(4)
    api.change([{ type: 'guest.update', id: idOf('news'), changes: { purpose: 'archive' } }])
    act(() => api.tell())
    await waitFor(() => expect(view().revision).toBe(5))
    await press(entry(3).getByRole('button', { name: 'Revert change 3' }))
    expect((await entry(3).findByRole('alert')).textContent).toContain('was changed since')
  })

  it('leads to the record as of a change; the last one is the record itself', async () => {
    const { entry } = await open()
    expect(entry(2).getByRole('link', { name: 'As of change 2' }).getAttribute('href')).toContain('board?basis=change-2')
    expect(entry(3).queryByRole('link', { name: 'As of change 3' })).toBeNull()
  })
})
