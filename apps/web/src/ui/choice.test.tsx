import { act, cleanup, fireEvent, render, screen, within } from '@testing-library/react'
import { useState } from 'react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { giveSizes } from '../testing/layout'
import { asOptions, Choice } from './choice'
import type { Option } from './choosing'
import { matching } from './searched-choice'

const many = Array.from({ length: 3000 }, (_, index): Option => [`id-${index}`, `guest-${index}`])

beforeEach(() => {
  giveSizes()
  Element.prototype.scrollIntoView = () => {}
})
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

function Holder({ options, none }: { options: readonly Option[]; none?: string }) {
  const [value, setValue] = useState('')
  return (
    <label>
      Guest
      <Choice options={options} value={value} choose={setValue} none={none} />
      <output>{value}</output>
    </label>
  )
}
const chosen = () => screen.getByRole('status').textContent
async function open(options = many) {
  render(<Holder options={options} none="none" />)
  const field = await screen.findByRole('combobox', { name: /Guest/ })
  await act(() => Promise.resolve(fireEvent.click(field)))
  return { field, search: await screen.findByPlaceholderText(/^search/) }
}
const rows = () =>
  within(screen.getByRole('listbox'))
    .getAllByRole('option')
    .map((row) => row.textContent)
const press = (key: string) => act(() => Promise.resolve(fireEvent.keyDown(screen.getByPlaceholderText(/^search/), { key })))

describe('a choice among a few', () => {
  it('is looked through', () => {
    render(<Holder options={asOptions(['thin', 'thick'])} none="none" />)
    fireEvent.change(screen.getByLabelText(/^Guest/), { target: { value: 'thick' } })
    expect(chosen()).toBe('thick')
  })
})

describe('a choice among thousands', () => {
  it('finds by every word, what begins with it first', () => {
    const names = asOptions(['on-air', 'air-2', 'news', 'air two'])
    expect(matching(names, 'air').map(([name]) => name)).toEqual(['air-2', 'air two', 'on-air'])
    expect(matching(names, 'TWO air').map(([name]) => name)).toEqual(['air two'])
    expect(matching(names, '  ')).toBe(names)
  })

  it('puts no more rows into the page than are seen, and takes the one that was searched', async () => {
    const { field, search } = await open()
    expect(rows().length).toBeLessThan(40)
    await act(() => Promise.resolve(fireEvent.change(search, { target: { value: '2999' } })))
    expect(rows()).toEqual(['guest-2999'])
    await press('Enter')
    expect([chosen(), field.textContent]).toEqual(['id-2999', 'guest-2999'])
    expect(screen.queryByRole('listbox')).toBeNull()
  })

  it('is walked by arrow keys, and nothing can be chosen again', async () => {
    await open()
    await press('ArrowDown')
    await press('ArrowDown')
    await press('Enter')
    expect(chosen()).toBe('id-1')
    await act(() => Promise.resolve(fireEvent.click(screen.getByRole('combobox', { name: /Guest/ }))))
    await press('Home')
    await press('Enter')
    expect(chosen()).toBe('')
  })

  it('says when nothing is called so, and Enter changes nothing then', async () => {
    const { search } = await open()
    await act(() => Promise.resolve(fireEvent.change(search, { target: { value: 'no such' } })))
    expect(screen.getByText('No record or action matches “no such”.')).toBeDefined()
    await press('Enter')
    expect(chosen()).toBe('')
  })
})
