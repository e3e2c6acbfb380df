import type { Command, Estate } from '@insel/core'
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { idOf } from '@insel/core/testing'
import { ESTATE_ID, problem, renderInEstate, stubServer } from '../../testing/api-stand-in'
import { EditRecordPage } from './record-page'
import { currentMessage } from '../../lib/messages'
import { formTexts, readForm, RecordForm } from './record-form'
import { RemovedPage } from './removed'
import { useState } from 'react'
import { Route, Routes } from 'react-router'

beforeEach(() => localStorage.clear())
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

const news = idOf('news')
const update = (changes: object): Command => ({ type: 'guest.update', id: news, changes })
const field = (label: string) => screen.getByLabelText<HTMLInputElement>(label)
const type = (label: string, text: string) => fireEvent.change(field(label), { target: { value: text } })
const saved = ({ estate }: { estate: Estate }) => estate.find('guest', news)

async function openForm() {
  const api = stubServer()
  const page = renderInEstate(
    <Routes>
      <Route path="records/:kind/:id" element={<EditRecordPage />} />
      <Route path="*" element={<p>somewhere else</p>} />
    </Routes>,
    { at: `records/guest/${news}`, before: 'guests' },
  )
  await screen.findByRole('heading', { name: 'Change guest newsroom' })
  const other = async (...commands: Command[]) => {
    api.change(commands)
    act(() => api.tell())
    await waitFor(() => expect(page.view().revision).toBe(api.revision))
  }
  const save = async () => {
    await act(() => Promise.resolve(fireEvent.click(screen.getByRole('button', { name: /^Save changes/ }))))
  }
  const posted = () => api.asked.filter(({ method, route }) => method === 'POST' && route.endsWith('/commands'))
  return { api, other, save, posted, ...page }
}

describe('a form that is saved by two presses', () => {
  it('is saved once', async () => {
    const { api, posted } = await openForm()
    type('Purpose (optional)', 'mine')
    const button = screen.getByRole('button', { name: /^Save changes/ })
    await act(() => {
      fireEvent.click(button)
      fireEvent.click(button)
      return Promise.resolve()
    })
    await waitFor(() => expect(saved(api)?.purpose).toBe('mine'))
    await screen.findByText('somewhere else')
    expect(posted()).toHaveLength(1)
  })
})

describe('a form while somebody else saves', () => {
  it('follows in the fields that nobody is at', async () => {
    const { other, save, api, posted } = await openForm()
    type('Purpose (optional)', 'mine')
    await other(update({ memoryMiB: 10_240 }))
    expect([field('Memory').value, field('Purpose (optional)').value]).toEqual(['10 GiB', 'mine'])
    expect(screen.queryByText(/meanwhile/)).toBeNull()
    await save()
    await waitFor(() => expect(posted()).toHaveLength(1))
    // Only what was typed here is sent.
    expect(posted()[0]?.body['commands']).toEqual([update({ purpose: 'mine' })])
    // The page works out findings itself.
    expect(posted()[0]?.path).toContain('?findings=false')
    expect(saved(api)).toMatchObject({ memoryMiB: 10_240, purpose: 'mine' })
  })

  it('a field that was typed in keeps its text, says what the other made of it, and is not saved before one has chosen', async () => {
    const { other, save, posted, api } = await openForm()
    type('Memory', '12 GiB')
    await other(update({ memoryMiB: 10_240 }))
    expect(field('Memory').value).toBe('12 GiB')
    expect(await screen.findByText('Tove Lind changed it to 10 GiB meanwhile.')).toBeDefined()
    await save()
    expect(screen.getByText('Memory was changed meanwhile: choose yours or theirs, then save.')).toBeDefined()
    expect(posted()).toEqual([])
    fireEvent.click(screen.getByRole('button', { name: /^Keep mine ?for Memory/ }))
    expect(screen.queryByText(/changed it to 10 GiB/)).toBeNull()
    await save()
    await waitFor(() => expect(saved(api)?.memoryMiB).toBe(12_288))
  })

  it('theirs is taken by a click', async () => {
    const { other } = await openForm()
    type('Memory', '12 GiB')
    await other(update({ memoryMiB: 10_240 }))
    fireEvent.click(await screen.findByRole('button', { name: /^Take theirs ?for Memory/ }))
    await waitFor(() => expect(field('Memory').value).toBe('10 GiB'))
    expect(screen.queryByText(/made it/)).toBeNull()
  })

  it('who types what the other made of it has nothing to choose', async () => {
    const { other } = await openForm()
    type('Memory', '12 GiB')
    await other(update({ memoryMiB: 10_240 }))
    await screen.findByText(/changed it to 10 GiB/)
    type('Memory', '10 GiB')
    expect(screen.queryByText(/made it/)).toBeNull()
  })

  it('a field one is at keeps its text, also before anything is typed', async () => {
    const { other } = await openForm()
    fireEvent.focus(field('Processors'))
    await other(update({ vcpu: 3 }))
    expect(field('Processors').value).not.toBe('3')
    expect(await screen.findByText('Tove Lind changed it to 3 vCPU meanwhile.')).toBeDefined()
    // Left and changed again by somebody, it is still for the person to say.
    fireEvent.blur(field('Processors'))
    await other(update({ vcpu: 4 }))
    expect(await screen.findByText('Tove Lind changed it to 4 vCPU meanwhile.')).toBeDefined()
  })

  it('the same change by both is none', async () => {
    const { other } = await openForm()
    type('Purpose (optional)', 'wiki')
    await other(update({ purpose: 'wiki' }))
    expect(screen.queryByText(/meanwhile/)).toBeNull()
  })
})

describe('a form whose record is removed', () => {
  it('stays with what was typed, names who removed it, and goes on when that is reverted', async () => {
    const { other, save, api } = await openForm()
    type('Purpose (optional)', 'wiki and calendar')
    await other({ type: 'guest.remove', id: news, withReferring: true })
    expect(await screen.findByText(/Tove Lind removed it with change 2\. What you entered is kept here/)).toBeDefined()
    expect(field('Purpose (optional)').value).toBe('wiki and calendar')
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Save changes/ }).disabled).toBe(true)
    fireEvent.keyDown(document.body, { key: 'Enter', ctrlKey: true })
    await act(() => Promise.resolve(fireEvent.click(screen.getByRole('button', { name: 'Revert change 2' }))))
    await waitFor(() => expect(screen.queryByText(/is kept here/)).toBeNull())
    expect(field('Purpose (optional)').value).toBe('wiki and calendar')
    await save()
    await waitFor(() => expect(saved(api)?.purpose).toBe('wiki and calendar'))
  })

  it('who removes it oneself leaves the page', async () => {
    const { api } = await openForm()
    fireEvent.click(screen.getByRole('button', { name: 'Remove…' }))
    const remove = within(screen.getByRole('group', { name: 'Remove' })).getByRole('button', { name: 'Remove' })
    await waitFor(() => expect((remove as HTMLButtonElement).disabled).toBe(false))
    fireEvent.click(remove)
    expect(await screen.findByText('somewhere else')).toBeDefined()
    expect(api.estate.find('guest', news)).toBeUndefined()
  })

  it('a page of a record that was removed says by whom; of one that never was, what may be', async () => {
    const api = stubServer()
    api.change([{ type: 'guest.remove', id: news, withReferring: true }])
    const { unmount } = renderInEstate(<RemovedPage kind="guest" id={news} />)
    expect(await screen.findByText('Tove Lind removed it with change 2.')).toBeDefined()
    unmount()
    renderInEstate(<RemovedPage kind="host" id={ESTATE_ID} />)
    expect(await screen.findByRole('heading', { name: 'There is no such host' })).toBeDefined()
    expect(await screen.findByText(/may be part of a plan/)).toBeDefined()
  })
})

describe('a form', () => {
  it('puts the server’s sentence at its field, and what concerns no field below', async () => {
    const { api, save } = await openForm()
    type('Purpose (optional)', 'wiki')
    api.instead.set(`/api/v1/estates/${ESTATE_ID}/commands`, () =>
      problem(422, 'invalid', 'Purpose: no.', [{ path: 'commands.0.changes.purpose', code: 'invalid', message: 'Purpose: no.' }]),
    )
    await save()
    expect(await screen.findByText('Purpose: no.')).toBeDefined()
    expect(field('Purpose (optional)').getAttribute('aria-invalid')).toBe('true')
    api.instead.set(`/api/v1/estates/${ESTATE_ID}/commands`, () => problem(503, 'busy', 'Too much at once.'))
    type('Purpose (optional)', 'wiki 2')
    await save()
    expect(await screen.findByText('Too much at once.')).toBeDefined()
    expect(field('Purpose (optional)').value).toBe('wiki 2')
  })

  it('of a record that is only being composed follows what is typed above it, whoever was at the field', async () => {
    stubServer()
    const form = (memoryMiB: number) => (
      <RecordForm
        kind="guest"
        fieldNames={['name', 'memoryMiB']}
        record={{ name: 'new', memoryMiB }}
        saveLabel="Add"
        commandsOf={() => []}
        recorded={() => undefined}
        planAt="board"
      />
    )
    let memory = 2048
    const page = renderInEstate(<Composed read={() => form(memory)} />)
    await screen.findByLabelText('Memory')
    type('Memory', '3 GiB')
    memory = 4096
    fireEvent.click(screen.getByRole('button', { name: 'typed' }))
    await waitFor(() => expect(field('Memory').value).toBe('4 GiB'))
    expect(screen.queryByText(/meanwhile/)).toBeNull()
    page.unmount()
  })

  it('reads every field, and keeps what cannot be read apart', () => {
    const texts = { ...formTexts('guest', { name: 'x', vcpu: 2, memoryMiB: 2048 }), vcpu: 'many' }
    const { values, problems } = readForm('guest', ['name', 'vcpu', 'memoryMiB'], texts)
    expect(values).toEqual({ name: 'x', memoryMiB: 2048 })
    expect(Object.keys(problems)).toEqual(['vcpu'])
    expect(problems['vcpu']).toContain('“many” is not a number')
  })
})

/** Shows a form again when a button is pressed, as a line above it does. */
function Composed({ read }: { read: () => React.ReactNode }) {
  const [, again] = useState(0)
  return (
    <>
      <button type="button" onClick={() => again((count) => count + 1)}>
        typed
      </button>
      {read()}
    </>
  )
}

describe('a form that is left half filled', () => {
  const leave = async (page: Awaited<ReturnType<typeof openForm>>) => {
    cleanup()
    void page
    return openForm()
  }

  it('offers what was typed when one comes back, and only that', async () => {
    const first = await openForm()
    type('Purpose (optional)', 'half a thought')
    const { other } = await leave(first)
    expect(field('Purpose (optional)').value).toBe('')
    expect(screen.getByText(/^Typed here .* and not recorded: Purpose\.$/)).toBeDefined()
    await other(update({ memoryMiB: 10_240 }))
    await act(() => Promise.resolve(fireEvent.click(screen.getByRole('button', { name: 'Take it up' }))))
    await waitFor(() => expect(field('Purpose (optional)').value).toBe('half a thought'))
    expect(field('Memory').value).toBe('10 GiB')
    expect(screen.queryByText(/^Typed here/)).toBeNull()
  })

  it('offers it again when something else was recorded, or typed and taken back, beside the offer', async () => {
    const first = await openForm()
    type('Purpose (optional)', 'half a thought')
    const second = await leave(first)
    type('Note', 'another matter')
    await second.save()
    await screen.findByText('somewhere else')
    const third = await leave(second)
    expect(screen.getByText(/^Typed here .*: Purpose\.$/)).toBeDefined()
    type('Note', 'x')
    type('Note', '')
    await leave(third)
    expect(screen.getByText(/^Typed here .*: Purpose\.$/)).toBeDefined()
  })

  it('offers nothing once it is recorded, discarded or taken back', async () => {
    const first = await openForm()
    type('Purpose (optional)', 'done')
    await first.save()
    await waitFor(() => expect(first.posted()).toHaveLength(1))
    const second = await leave(first)
    expect(screen.queryByText(/^Typed here/)).toBeNull()
    type('Purpose (optional)', 'not wanted')
    const third = await leave(second)
    const discard = () => act(() => Promise.resolve(fireEvent.click(screen.getByRole('button', { name: 'Discard it' }))))
    await discard()
    expect(screen.queryByText(/^Typed here/)).toBeNull()
    // Who thinks better of it has it back.
    act(() => currentMessage()?.undo?.())
    expect(screen.getByText(/^Typed here/)).toBeDefined()
    await discard()
    type('Purpose (optional)', 'x')
    type('Purpose (optional)', '')
    await leave(third)
    expect(screen.queryByText(/^Typed here/)).toBeNull()
  })
})
