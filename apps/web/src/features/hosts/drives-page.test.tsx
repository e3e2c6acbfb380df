import type { Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { screen, waitFor } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { leavePage, openPage, press, tick, type } from '../../testing/open-page'

afterEach(leavePage)

const TB = 1e12
const drives = (count: number, labelBytes = 4 * TB): readonly Command[] =>
  Array.from({ length: count }, (_, index): Command => ({
    type: 'drive.add',
    record: { hostId: idOf('gannet'), position: index + 1, labelBytes, kind: 'hard disk' },
  }))
/** The cells of a level: usable, may fail, notes. */
const level = (name: string) => {
  const row = screen.getByRole('rowheader', { name }).closest('tr')
  return [...(row?.querySelectorAll('td') ?? [])].map((cell) => cell.textContent)
}

describe('an array on paper', () => {
  it('has the room that its level leaves: of four drives of 4 TB', async () => {
    await openPage(`hosts/${idOf('gannet')}/drives`)
    await type('Or on paper, in label sizes', '4x4T')
    // Facts of the trade: mirrors hold half, one parity three quarters, two a half. 4 TB by the label are 3.64 TiB.
    expect(level('5')[1]).toMatch(/10\.9\sTiB|11\sTiB/)
    expect(level('6')[1]).toMatch(/7\.3\sTiB/)
    expect(level('10')[1]).toMatch(/7\.3\sTiB/)
  })

  it('says what it cannot read, and makes nothing', async () => {
    await openPage(`hosts/${idOf('gannet')}/drives`)
    await type('Or on paper, in label sizes', 'four big ones')
    expect(screen.getByText(/“four/)).toBeDefined()
    expect(screen.getAllByRole<HTMLButtonElement>('button', { name: /^Create/ }).every(({ disabled }) => disabled)).toBe(true)
  })
})

describe('an array of drives that are there', () => {
  it('is made at a level in one change, its largest drive the spare', async () => {
    const { view } = await openPage(`hosts/${idOf('gannet')}/drives`, [
      ...drives(4),
      { type: 'drive.add', record: { hostId: idOf('gannet'), position: 5, labelBytes: 8 * TB, kind: 'hard disk' } },
    ])
    for (const box of screen.getAllByRole<HTMLInputElement>('checkbox', { name: /^bay/ })) if (!box.checked) box.click()
    await type('Hot spares', '1')
    await type('Name of the array', 'bulk')
    await press(/^Create\s*RAID 5/)
    await waitFor(() => expect(view().estate.all('array')).toHaveLength(1))
    const [array] = view().estate.all('array')
    expect(array).toMatchObject({ name: 'bulk', level: '5' })
    const use = view()
      .estate.all('drive')
      .map(({ position, use: one }) => `${position} ${one}`)
      .sort()
    expect(use).toEqual(['1 member', '2 member', '3 member', '4 member', '5 spare'])
  })

  it('is not made without a name that fits', async () => {
    await openPage(`hosts/${idOf('gannet')}/drives`, drives(2))
    await type('Name of the array', 'two words')
    expect(screen.getByLabelText(/^Name of the array/).getAttribute('aria-invalid')).toBe('true')
    expect(screen.getAllByRole<HTMLButtonElement>('button', { name: /^Create/ }).every(({ disabled }) => disabled)).toBe(true)
  })

  it('leaves out a drive that is taken out', async () => {
    await openPage(`hosts/${idOf('gannet')}/drives`, drives(2))
    expect(level('1')[1]).toMatch(/TiB/)
    await tick(/^bay 2/)
    expect(level('1')[1]).toBe('–')
  })
})
