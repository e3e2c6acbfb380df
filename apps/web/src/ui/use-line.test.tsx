import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { AddLine } from './add-line'
import { restOf } from './use-line'

afterEach(cleanup)

/** A line whose things are taken, or not, when the test says so. */
function open() {
  const asked: { text: string; answer: (isTaken: boolean) => void }[] = []
  render(
    <AddLine
      label="Title"
      placeholder="a task"
      action="Add task"
      fieldWidth="!w-40"
      add={(text) => new Promise((resolve) => asked.push({ text, answer: resolve }))}
    />,
  )
  const field = screen.getByLabelText<HTMLInputElement>('Title')
  return {
    asked,
    field,
    type: (text: string) => fireEvent.change(field, { target: { value: field.value + text } }),
    enter: () => fireEvent.submit(field),
  }
}

describe('a line in which one thing after the other is added', () => {
  it('is free for the next at once, and gives each once, however late the answers are', async () => {
    const { asked, field, type, enter } = open()
    type(' Close the doors ')
    enter()
    enter()
    type('Tell the guards')
    enter()
    expect(asked.map(({ text }) => text)).toEqual(['Close the doors', 'Tell the guards'])
    asked.forEach(({ answer }) => answer(true))
    await waitFor(() => expect(field.value).toBe(''))
  })

  it('has a text again that was not taken, before what was typed since', async () => {
    const { asked, field, type, enter } = open()
    type('43 of')
    enter()
    expect(field.value).toBe('')
    type('80 %')
    asked[0]?.answer(false)
    await waitFor(() => expect(field.value).toBe('43 of 80 %'))
  })
})

describe('what was typed after a text was sent', () => {
  it.each([
    ['a', 'a', ''],
    ['a and b', 'a', ' and b'],
    ['other', 'a', 'other'],
  ])('of “%s”, sent as “%s”, is “%s”', (now, sent, rest) => expect(restOf(now, sent)).toBe(rest))
})
