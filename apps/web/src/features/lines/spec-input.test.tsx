import { readSpecLine } from '@insel/core'
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { useState } from 'react'
import { afterEach, describe, expect, it } from 'vitest'
import { SpecInput } from './spec-input'

afterEach(cleanup)

describe('the spec input', () => {
  function Line({ start }: { start: string }) {
    const [line, setLine] = useState(start)
    const names = { hosts: ['gannet'], networks: ['office'], stores: [] }
    return (
      <SpecInput value={line} onChange={setLine} parts={readSpecLine(line, names).parts} label="The guest" placeholder="" hint="Say it." />
    )
  }
  const field = () => screen.getByLabelText<HTMLInputElement>('The guest')

  it('gives its hint while all is understood', () => {
    render(<Line start="web-1 2cpu 4G on gannet" />)
    expect(field().getAttribute('aria-invalid')).toBe('false')
    expect(screen.getByText('Say it.')).toBeDefined()
  })
  it('offers the nearest word; Tab takes it, and only it', () => {
    render(<Line start="web-1 2cpu on gannit net office" />)
    expect(field().getAttribute('aria-invalid')).toBe('true')
    expect(screen.getByText(/There is no host “gannit”/)).toBeDefined()
    fireEvent.keyDown(field(), { key: 'Tab' })
    expect(field().value).toBe('web-1 2cpu on gannet net office')
    expect(screen.getByText('Say it.')).toBeDefined()
  })
  it('takes it by click, too', () => {
    render(<Line start="web-1 2cpu steddy" />)
    fireEvent.click(screen.getByRole('button', { name: 'steady' }))
    expect(field().value).toBe('web-1 2cpu steady')
  })
  it('Tab goes on where nothing is offered', () => {
    render(<Line start="web-1 2cpu zzzzzz" />)
    expect(fireEvent.keyDown(field(), { key: 'Tab' })).toBe(true)
  })
})
