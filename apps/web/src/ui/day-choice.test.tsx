import { act, cleanup, fireEvent, render, screen } from '@testing-library/react'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { DayChoice } from './day-choice'

afterEach(cleanup)

async function open(day: string | undefined) {
  const take = vi.fn()
  render(<DayChoice label="Warranty ends" day={day} today="2027-01-18" now={{ label: 'Today', text: '2027-01-18' }} take={take} />)
  await act(() => Promise.resolve(fireEvent.click(screen.getByRole('button', { name: 'Calendar for Warranty ends' }))))
  return take
}
const press = (name: RegExp | string) => act(() => Promise.resolve(fireEvent.click(screen.getByRole('button', { name }))))

describe('a calendar beside a field', () => {
  it('opens at the day that the field says, and gives another in ISO form', async () => {
    const take = await open('2029-03-31')
    // ISO 8601: weeks begin on Monday.
    expect(screen.getAllByRole('columnheader').map((one) => one.getAttribute('aria-label'))[1]).toBe('Monday')
    await press(/March 9th, 2029/)
    expect(take.mock.calls).toEqual([['2029-03-09']])
  })

  it('opens at today where the field says none, and takes today or nothing in one press', async () => {
    const take = await open(undefined)
    expect(screen.getByRole('button', { name: /Today, .*January 18th, 2027/ })).toBeDefined()
    await press('Today')
    expect(take.mock.calls).toEqual([['2027-01-18']])
  })

  it('is gone through with the keyboard', async () => {
    await open('2027-01-18')
    const selected = screen.getByRole('button', { name: /January 18th, 2027, selected/ })
    act(() => selected.focus())
    await act(() => Promise.resolve(fireEvent.keyDown(selected, { key: 'ArrowRight' })))
    expect(document.activeElement?.getAttribute('aria-label')).toMatch(/January 19th, 2027/)
  })
})
