import type { Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { act, fireEvent, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeAll, describe, expect, it } from 'vitest'
import { giveSizes } from '../../testing/layout'
import { leavePage, openPage, press, rows, tick, type } from '../../testing/open-page'

beforeAll(giveSizes)
afterEach(leavePage)

const PLAN = '018a0000-0000-7000-8000-000000000001'
const [MORE, TELL, COPY] = [1, 2, 3].map((number) => `018b0000-0000-7000-8000-00000000000${number}`) as [string, string, string]
const item = (id: string, title: string, commands: readonly Command[]): Command =>
  ({ type: 'item.write', id, planId: PLAN, title, kind: commands.length > 0 ? 'change' : 'task', commands }) as unknown as Command

async function open(...more: Command[]) {
  const page = await openPage(`plans/${PLAN}`, [
    { type: 'plan.add', record: { id: PLAN, name: 'Saturday' } },
    item(MORE, 'More memory', [{ type: 'guest.resize', guestId: idOf('news'), memoryMiB: 6144 }]),
    item(TELL, 'Tell the newsroom', []),
    item(COPY, 'A copy', [{ type: 'guest.clone', guestId: idOf('template'), name: 'edge-1' }]),
    ...more,
  ])
  await press('Edit as table')
  return page
}
const fill = async (label: string, value: string) => {
  await type(label, value)
  act(() => void fireEvent.blur(screen.getByLabelText(label)))
}

describe('the items as a table', () => {
  it('are changed in place, and saved together as one change', async () => {
    const { api, view } = await open()
    await fill('Title of “More memory”', 'More memory for the newsroom')
    await fill('Minutes of “Tell the newsroom”', '10')
    await fill('After of “A copy”', '1, 2')
    await type('For of “A copy”', idOf('ola'))
    await type('Decide by of “A copy”', '2027-01-18T23:30')
    await fill('Otherwise of “A copy”', 'try on Sunday')
    await tick('Cannot be undone of “A copy”')
    const before = api.revision
    await press('Save 3 items')
    await waitFor(() => expect(view().recorded.find('item', TELL)?.minutes).toBe(10))
    expect(api.revision).toBe(before + 1)
    expect(view().recorded.find('item', COPY)).toMatchObject({
      afterIds: [MORE, TELL],
      personId: idOf('ola'),
      decideBy: '2027-01-18T23:30:00.000Z',
      otherwise: 'try on Sunday',
      isFinal: true,
    })
    expect(view().recorded.find('item', MORE)?.title).toBe('More memory for the newsroom')
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Save 0 items' }).disabled).toBe(true)
  })

  it('say what cannot be read, and refuse a circle with its members; nothing that was typed is lost', async () => {
    const { view } = await open()
    await fill('Minutes of “More memory”', 'long')
    await fill('After of “A copy”', '7')
    const alerts = screen.getAllByRole('alert').map(({ textContent }) => textContent)
    expect(alerts).toEqual([expect.stringMatching(/^Minutes of item 1: /), expect.stringMatching(/^After of item 3: numbers of items/)])
    await press('Discard changes')
    expect(screen.queryByRole('alert')).toBeNull()
    await fill('After of “A copy”', '1')
    await fill('After of “More memory”', '3')
    await press('Save 2 items')
    expect((await screen.findByRole('alert')).textContent).toMatch(/would wait for each other: .*More memory.*A copy|A copy.*More memory/)
    expect(view().recorded.find('item', COPY)?.afterIds).toEqual([])
    expect(screen.getByLabelText<HTMLInputElement>('After of “A copy”').value).toBe('1')
  })

  it('that are settled stay as they are, and the list is there again by a press', async () => {
    await open({ type: 'item.skip', itemId: TELL, reason: 'they know' })
    expect(rows(screen.getAllByRole('table')[0])[1]).toEqual(['2', 'Tell the newsroom', 'skipped'])
    await press('Show as list')
    expect(screen.getAllByRole('listitem').length).toBeGreaterThan(2)
  })
})
