import type { Command } from '@insel/core'
import { act, cleanup, fireEvent, screen, within } from '@testing-library/react'
import { vi } from 'vitest'
import { stubServer } from './api-stand-in'
import { renderPlace } from './render-place'

/** Opens the page of a place on the small estate, after what somebody else did to it. */
export async function openPage(at: string, before: readonly Command[] = []) {
  const api = stubServer()
  if (before.length > 0) api.change(before)
  return { api, ...(await renderPlace(at)) }
}

/** Leaves nothing of a test behind. */
export function leavePage(): void {
  cleanup()
  vi.unstubAllGlobals()
  localStorage.clear()
}

/** Presses a button. */
export const press = (name: RegExp | string) => act(() => Promise.resolve(fireEvent.click(screen.getByRole('button', { name }))))

/** Ticks or chooses what has a label. */
export const tick = (label: RegExp | string) => act(() => Promise.resolve(fireEvent.click(screen.getByLabelText(label))))

/** Types into a field, or chooses in a list. */
export const type = (label: RegExp | string, value: string) =>
  act(() => Promise.resolve(fireEvent.change(screen.getByLabelText(label), { target: { value } })))

/** The row of a table that has a text in it. */
export function rowOf(text: string | RegExp) {
  const row = screen.getByText(text).closest('tr')
  if (!row) throw new Error(`${String(text)} is in no row`)
  return within(row)
}

/** The rows of the table that is on the page, each as its cells. */
export const rows = (table = screen.getByRole('table')): string[][] =>
  within(table)
    .getAllByRole('row')
    .map((row) => [...row.querySelectorAll('td,th[scope=row]')].map((cell) => cell.textContent))
    .filter((cells) => cells.length > 0)
