import type { Guest } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { useEstate } from '../../estate'
import { renderInEstate, stubServer } from '../../testing/api-stand-in'
import { BulkChange } from './bulk-change'
import { press } from '../../testing/open-page'

beforeEach(() => localStorage.clear())
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

async function open() {
  const done = vi.fn()
  function Chosen() {
    const guests = useEstate().recorded.all('guest')
    return <BulkChange guests={guests} done={done} />
  }
  const api = stubServer()
  const page = renderInEstate(<Chosen />)
  await screen.findByLabelText('Change')
  const guests = (): readonly Guest[] => page.view().recorded.all('guest')
  const choose = (what: string) => fireEvent.change(screen.getByLabelText('Change'), { target: { value: what } })
  return { api, done, guests, choose, ...page }
}
const type = (text: string) => {
  const [input] = screen.getAllByRole('textbox')
  if (input) fireEvent.change(input, { target: { value: text } })
}

describe('one change of several guests', () => {
  it('says what it would do before it is done, and is one change in the logbook', async () => {
    const { api, done, guests } = await open()
    type('edge')
    await press('Show what it does')
    expect((await screen.findAllByText(/^guest /)).length).toBeGreaterThanOrEqual(guests().length)
    await press(`Change ${guests().length}`)
    await waitFor(() => expect(guests().every(({ tags }) => tags.includes('edge'))).toBe(true))
    expect([api.revision, done.mock.calls.length]).toEqual([2, 1])
  })

  it('counts only those that would change', async () => {
    const { guests, choose } = await open()
    choose('backupStoreId')
    const others = guests().filter(({ backupStoreId }) => backupStoreId !== idOf('vaultStore')).length
    const select = screen.getAllByRole('combobox')[1]
    if (select) fireEvent.change(select, { target: { value: idOf('vaultStore') } })
    expect(screen.getByText(`${others} of ${guests().length} would change.`)).toBeDefined()
  })

  it('does not go on with a proposal that is no longer what the form says', async () => {
    const { choose } = await open()
    type('edge')
    await press('Show what it does')
    expect(screen.getByRole('button', { name: /^Change \d/ })).toBeDefined()
    choose('remove tags')
    expect(screen.queryByRole('button', { name: /^Change \d/ })).toBeNull()
  })

  it('goes into the plan as well', async () => {
    const { api, guests, view } = await open()
    type('edge')
    await press('Show what it does')
    await press('Add to plan')
    await waitFor(() => expect(view().recorded.all('item')[0]?.commands).toHaveLength(guests().length))
    expect(api.revision).toBe(2)
  })
})
