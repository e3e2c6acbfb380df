import type { Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import Papa from 'papaparse'
import { logbookCsv, logbookMarkdown } from './logbook-text'
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
  it('in the history of a thing what was done to that is said first, and of which fields', async () => {
    const others = ['playout', 'template'].map((name) => ({ type: 'guest.update' as const, id: idOf(name), changes: { note: 'moved' } }))
    stubServer().change([...others, { type: 'guest.update', id: idOf('news'), changes: { owner: 'News desk' } }])
    await renderPlace(`logbook?subject=${idOf('news')}`)
    expect(await screen.findByText(/^Change guest newsroom: owner; Change guest playout-1: note; /)).toBeDefined()
  })

  it('a large change is listed in brief, and read whole when what it changed is wanted', async () => {
    const { api, entry } = await open()
    api.isBrief = true
    cleanup()
    await renderPlace('logbook')
    await waitFor(() => expect(entry(3).getByText(/and 41 more$/)).toBeDefined())
    await press(entry(3).getByRole('button', { name: 'Show changes' }))
    await waitFor(() => expect(entry(3).getByText('editing')).toBeDefined())
  })

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

describe('the logbook as a file', () => {
  it('holds what is filtered, in words and with every value, in CSV and in Markdown', async () => {
    const { api, view } = await open()
    const csv = logbookCsv(view().recorded, api.changes, 'UTC')
    const { data } = Papa.parse<string[]>(csv.trim())
    expect(data.map((row) => row.length)).toEqual(data.map(() => 6))
    expect(data[0]).toEqual(['revision', 'time', 'person', 'what', 'changes', 'undone by'])
    expect(data.find(([revision]) => revision === '2')?.[4]).toBe('guest playout-1 changed: Memory 8 GiB → 10 GiB')
    expect(logbookMarkdown(view().recorded, api.changes, 'UTC').split('\n')[1]).toBe('| --- | --- | --- | --- | --- | --- |')
  })

  it('asks with the words and the range in its address', async () => {
    const { api } = await open()
    act(() => void fireEvent.change(screen.getByLabelText('Words'), { target: { value: 'playout fan' } }))
    await waitFor(() => expect(api.asked.at(-1)?.path).toContain('text=playout+fan'))
    act(() => void fireEvent.change(screen.getByLabelText('Range'), { target: { value: 'last 7 days' } }))
    await waitFor(() => expect(api.asked.at(-1)?.path).toMatch(/from=\d{4}-\d\d-\d\d/))
  })
})
