import { planFile, type Command, type Plan } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { act, fireEvent, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeAll, describe, expect, it } from 'vitest'
import type { ApiStandIn } from '../../testing/api-stand-in'
import { giveSizes } from '../../testing/layout'
import { leavePage, openPage, press, rows, type } from '../../testing/open-page'

beforeAll(giveSizes)
afterEach(leavePage)

const PLAN = '018a0000-0000-7000-8000-000000000001'
const plan: readonly Command[] = [
  { type: 'plan.add', record: { id: PLAN, name: 'Saturday' } },
  {
    type: 'item.write',
    planId: PLAN,
    title: 'More memory',
    commands: [{ type: 'guest.resize', guestId: idOf('news'), memoryMiB: 6144 }],
  },
  { type: 'item.write', planId: PLAN, title: 'A copy', commands: [{ type: 'guest.clone', guestId: idOf('template'), name: 'edge-1' }] },
]
const give = (text: string) =>
  act(async () => {
    const file = { text: () => Promise.resolve(text) }
    fireEvent.change(screen.getByLabelText(/^Choose a plan’s file/), { target: { files: [file] } })
    await Promise.resolve()
  })
const fileOf = ({ estate }: ApiStandIn) => JSON.stringify(planFile(estate, estate.find('plan', PLAN) as Plan, '2027-01-18T08:00:00Z'))

describe('a plan from a file', () => {
  it('shows what can be taken before anything is recorded, and is added as one change', async () => {
    const { api, view } = await openPage('plans/import', plan)
    await give(fileOf(api))
    expect((await screen.findByRole('status')).textContent).toBe('“Saturday”, 2 items; 1 cannot be taken as it is and becomes a task.')
    expect(rows().map((cells) => cells.slice(1))).toEqual([
      ['More memory', 'change', '1', 'yes'],
      ['A copy', 'task', '0', 'Name edge-1 is planned already in “Saturday”, item “A copy”; choose another.'],
    ])
    const before = api.revision
    await press('Add plan')
    await waitFor(() =>
      expect(
        view()
          .recorded.all('plan')
          .map(({ name }) => name),
      ).toEqual(['Saturday', 'Saturday 2']),
    )
    expect(api.revision).toBe(before + 1)
    expect(await screen.findByText('elsewhere: plans')).toBeDefined()
  })

  it('asks what is meant by a name that is not found, and takes what is chosen', async () => {
    const { api } = await openPage('plans/import', plan)
    const text = fileOf(api).replaceAll(idOf('news'), '018d0000-0000-7000-8000-000000000001').replaceAll('newsroom', 'news-desk')
    await give(text)
    expect(await screen.findByText('It names guest “news-desk”, not found here.')).toBeDefined()
    await type('What news-desk is here', idOf('news'))
    await waitFor(() => expect(screen.queryByText(/not found here/)).toBeNull())
  })

  it('that is none is said to be none', async () => {
    const { api } = await openPage('plans/import', plan)
    await give('{"format":"insel-estate"}')
    expect((await screen.findByRole('alert')).textContent).toContain('This is not a plan’s file')
    expect([screen.queryByRole('button', { name: 'Add plan' }), api.revision]).toEqual([null, 2])
  })
})
