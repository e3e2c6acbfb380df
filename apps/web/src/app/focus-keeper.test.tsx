import { act, cleanup, fireEvent, render, screen } from '@testing-library/react'
import { useEffect, useState } from 'react'
import { afterEach, describe, expect, it } from 'vitest'
import { keepFocus } from './focus-keeper'

afterEach(cleanup)

function Page() {
  useEffect(keepFocus, [])
  const [rows, setRows] = useState(['a', 'b', 'c'])
  return (
    <main id="page">
      <ul>
        {rows.map((row) => (
          <li key={row}>
            {row} <button onClick={() => setRows(rows.filter((other) => other !== row))}>Remove {row}</button>
          </li>
        ))}
      </ul>
      <button>Save</button>
    </main>
  )
}
const frame = () => act(() => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))))
const press = async (name: string) => {
  const button = screen.getByRole('button', { name })
  button.focus()
  fireEvent.click(button)
  await frame()
}
const focused = () => document.activeElement?.textContent

describe('the focus', () => {
  it('goes to what takes the place of a row that is removed, then to what is before it, then to the next part', async () => {
    render(<Page />)
    await press('Remove b')
    expect(focused()).toBe('Remove c')
    await press('Remove c')
    expect(focused()).toBe('Remove a')
    await press('Remove a')
    expect(focused()).toBe('Save')
  })
  it('is nowhere when somebody presses beside it', async () => {
    render(<Page />)
    screen.getByRole('button', { name: 'Remove a' }).focus()
    fireEvent.pointerDown(document.body)
    act(() => (document.activeElement as HTMLElement).blur())
    fireEvent.click(screen.getByRole('button', { name: 'Remove b' }))
    await frame()
    expect(document.activeElement).toBe(document.body)
  })
})
