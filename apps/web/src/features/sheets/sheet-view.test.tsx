import { workSheet, type Command, type PlannedStep } from '@insel/core'
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { idOf } from '@insel/core/testing'
import { useEstate } from '../../estate'
import { renderInEstate, stubServer } from '../../testing/api-stand-in'
import { SheetView } from './sheet-view'

beforeEach(() => localStorage.clear())
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

const host = idOf('gannet')
const sheetId = '01890000-0000-7000-8000-00000000b001'
const planned: readonly PlannedStep[] = [
  { key: 'first', title: 'First thing', lines: ['Do it.'] },
  { key: 'second', title: 'Second thing', lines: [], caution: 'It wipes.', unrecorded: 'the fingerprint' },
]

function Sheet() {
  const { estate } = useEstate()
  const sheet = estate.find('sheet', sheetId)
  return (
    <SheetView
      sheet={sheet}
      built={workSheet(estate, sheet, 'hostId', planned, { first: 5, second: 7 })}
      work={{
        of: 'hostId',
        id: host,
        name: 'gannet',
        title: 'Build sheet',
        words: { done: 'Built', doing: 'Building', start: 'Start', work: 'Build', again: 'Again' },
        tool: () => null,
      }}
    />
  )
}

/** A sheet that is being worked on. */
async function open() {
  const api = stubServer()
  api.change([
    {
      type: 'sheet.add',
      record: { id: sheetId, hostId: host, startedAt: '2027-01-18T08:00:00.000Z', resumedAt: '2027-01-18T08:00:00.000Z' },
    },
  ])
  const page = renderInEstate(<Sheet />)
  await screen.findByText('Building')
  const step = (title: string) => within(screen.getByRole('listitem', { name: new RegExp(title) }))
  const other = async (...commands: Command[]) => {
    api.change(commands)
    act(() => api.tell())
    await waitFor(() => expect(page.view().revision).toBe(api.revision))
  }
  const press = async (title: string, name: RegExp | string) => {
    await act(() => Promise.resolve(fireEvent.click(step(title).getByRole('button', { name }))))
  }
  const sheet = () => api.estate.find('sheet', sheetId)
  const steps = () => api.estate.all('step')
  return { api, step, other, press, sheet, steps, ...page }
}
const settled = (step: string): Command => ({
  type: 'step.add',
  record: { sheetId, step, state: 'done', personId: idOf('ola'), at: '2027-01-18T09:00:00.000Z' },
})

describe('a sheet', () => {
  it('is settled step by step, with the last one it ends', async () => {
    const { press, sheet, steps, step } = await open()
    fireEvent.change(step('First thing').getByLabelText('Minutes for First thing'), { target: { value: '12,5' } })
    await press('First thing', /^Done/)
    expect(steps()[0]).toMatchObject({ step: 'first', state: 'done', minutes: 12.5, personId: idOf('ola') })
    expect(sheet()?.finishedAt).toBeNull()
    await press('Second thing', /^Done/)
    await waitFor(() => expect(sheet()?.finishedAt).not.toBeNull())
    expect(screen.getByText('Built')).toBeDefined()
  })

  it('however quickly one presses, the last step ends it', async () => {
    const { step, press, sheet, steps } = await open()
    fireEvent.click(step('First thing').getByRole('button', { name: /^Done/ }))
    fireEvent.click(step('Second thing').getByRole('button', { name: /^Done/ }))
    await waitFor(() => expect(steps().length).toBeGreaterThan(0))
    // The second press came while the first was being recorded: the button waits, so that the last step is known as the last.
    expect(steps()).toHaveLength(1)
    await waitFor(() => expect(step('Second thing').getByRole<HTMLButtonElement>('button', { name: /^Done/ }).disabled).toBe(false))
    await press('Second thing', /^Done/)
    await waitFor(() => expect(steps()).toHaveLength(2))
    await waitFor(() => expect(sheet()?.finishedAt).not.toBeNull())
  })

  it('when two people settle the last two at once, it can be finished', async () => {
    const { other, sheet } = await open()
    await other(settled('first'))
    expect(screen.queryByRole('button', { name: 'Finish' })).toBeNull()
    await other(settled('second'))
    fireEvent.click(await screen.findByRole('button', { name: 'Finish' }))
    await waitFor(() => expect(sheet()?.finishedAt).not.toBeNull())
  })

  it('0 minutes and none are no measurement; what is no number is said and not recorded', async () => {
    const { step, press, steps } = await open()
    const minutes = () => step('First thing').getByLabelText('Minutes for First thing')
    fireEvent.change(minutes(), { target: { value: 'soon' } })
    expect(step('First thing').getByRole('alert').textContent).toContain('Write minutes')
    expect(step('First thing').getByRole<HTMLButtonElement>('button', { name: /^Done/ }).disabled).toBe(true)
    fireEvent.change(minutes(), { target: { value: '0' } })
    await press('First thing', /^Done/)
    await waitFor(() => expect(steps()).toHaveLength(1))
    expect(steps()[0]?.minutes).toBeNull()
  })

  it('a note that is being written stays when a colleague settles the step first', async () => {
    const { step, press, other, steps } = await open()
    await press('First thing', /^Failed/)
    fireEvent.change(step('First thing').getByLabelText('What went wrong with First thing'), { target: { value: 'the rail is bent' } })
    await other(settled('first'))
    expect(step('First thing').getByRole('alert').textContent).toContain('“the rail is bent”')
    await press('First thing', /^Reopen/)
    await waitFor(() => expect(steps()).toMatchObject([{ step: 'first', state: 'open' }]))
    // Opened again, it is where it was.
    await press('First thing', /^Failed/)
    expect(step('First thing').getByLabelText<HTMLInputElement>('What went wrong with First thing').value).toBe('the rail is bent')
    await press('First thing', 'Record as failed')
    await waitFor(() => expect(steps()[0]).toMatchObject({ state: 'failed', note: 'the rail is bent', attempts: 2 }))
    expect(step('First thing').getByText(/attempt 2/)).toBeTruthy()
    expect(step('First thing').queryByRole('alert')).toBeNull()
  })

  it('what is done without what it claims says so with it', async () => {
    const { press, steps } = await open()
    await press('Second thing', /^Done/)
    await waitFor(() => expect(steps()[0]).toMatchObject({ state: 'done', note: 'Not recorded then: the fingerprint.' }))
  })

  it('what failed stays in the heading until it is settled', async () => {
    const { step, press } = await open()
    await press('First thing', /^Failed/)
    fireEvent.change(step('First thing').getByLabelText('What went wrong with First thing'), { target: { value: 'no link' } })
    await press('First thing', 'Record as failed')
    expect(await screen.findByText('Failed: First thing. Reopen what is to be tried again.')).toBeDefined()
    await press('First thing', /^Reopen/)
    expect(await screen.findByText('To be done again: First thing.')).toBeDefined()
    await press('First thing', /^Done/)
    await waitFor(() => expect(screen.queryByText(/^(Failed|To be done again):/)).toBeNull())
  })

  it('a step of one’s own is on every new sheet of its kind where that is wanted, until it is removed there', async () => {
    const { api, press, steps } = await open()
    fireEvent.change(screen.getByLabelText('Another step'), { target: { value: 'Label the cables' } })
    fireEvent.click(screen.getByLabelText('and on every new sheet of this kind'))
    await act(() => Promise.resolve(fireEvent.click(screen.getByRole('button', { name: 'Add step' }))))
    await waitFor(() => expect(api.estate.all('routine')).toMatchObject([{ of: 'host', work: 'set-up', title: 'Label the cables' }]))
    for (const title of ['First thing', 'Second thing', 'Label the cables']) {
      await screen.findByRole('listitem', { name: new RegExp(title) })
      await press(title, /^Done/)
      await waitFor(() =>
        expect(
          steps().some((one) => one.state === 'done' && (one.title === title || title.startsWith(one.step.slice(0, 1).toUpperCase()))),
        ).toBe(true),
      )
    }
    fireEvent.click(await screen.findByRole('button', { name: 'Again' }))
    await waitFor(() => expect(steps().filter(({ title }) => title === 'Label the cables')).toHaveLength(2))
    expect(new Set(steps().flatMap(({ title, sheetId: of }) => (title === 'Label the cables' ? [of] : []))).size).toBe(2)
    await act(() => Promise.resolve(fireEvent.click(screen.getByRole('button', { name: /^Remove\s*Label the cables from new sheets$/ }))))
    await waitFor(() => expect(api.estate.all('routine')).toEqual([]))
  })

  it('a step of one’s own is added, settled like the others, and removed while nobody has', async () => {
    const { step, press, steps, sheet } = await open()
    const add = async (title: string) => {
      fireEvent.change(screen.getByLabelText('Another step'), { target: { value: title } })
      await act(() => Promise.resolve(fireEvent.click(screen.getByRole('button', { name: 'Add step' }))))
      await screen.findByRole('listitem', { name: new RegExp(title) })
    }
    await add('Label the cables')
    await add('Added by mistake')
    await press('Added by mistake', /^Remove/)
    await waitFor(() => expect(steps()).toHaveLength(1))
    await press('First thing', /^Done/)
    await press('Second thing', /^Done/)
    await waitFor(() => expect(steps()).toHaveLength(3))
    expect(sheet()?.finishedAt).toBeNull()
    await press('Label the cables', /^Done/)
    await waitFor(() => expect(sheet()?.finishedAt).not.toBeNull())
    expect(steps().find(({ title }) => title === 'Label the cables')).toMatchObject({ state: 'done', attempts: 1 })
    expect(step('Label the cables').queryByRole('button', { name: /^Remove/ })).toBeNull()
  })

  it('a step is skipped with a reason only', async () => {
    const { step, press, steps } = await open()
    await press('Second thing', /^Skip/)
    const record = step('Second thing').getByRole<HTMLButtonElement>('button', { name: 'Record as skipped' })
    expect(record.disabled).toBe(true)
    fireEvent.change(step('Second thing').getByLabelText('Why Second thing is skipped'), { target: { value: 'there is none' } })
    await press('Second thing', 'Record as skipped')
    await waitFor(() => expect(steps()[0]).toMatchObject({ state: 'skipped', note: 'there is none' }))
  })
})
