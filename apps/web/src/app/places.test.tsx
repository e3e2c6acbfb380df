import { Estate, type Command } from '@insel/core'
import { idOf, smallEstate } from '@insel/core/testing'
import { screen } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { places } from '../lib/places'
import { stubServer } from '../testing/api-stand-in'
import { giveSizes } from '../testing/layout'
import { leavePage } from '../testing/open-page'
import { renderPlace } from '../testing/render-place'

beforeEach(giveSizes)
afterEach(() => {
  leavePage()
  vi.restoreAllMocks()
})

/** Things of the small estate that paths with an id in them are tried with. */
const things = { hosts: 'gannet', networks: 'office', stores: 'nvme1', guests: 'playout' } as const

/** A place with an id, where it has one: that of the thing its path is about. */
function pathOf(path: string, id?: string): string {
  const about = Object.entries(things).findLast(([part]) => path.includes(`${part}/:id`))
  return path
    .replace(':kind', 'network')
    .replace(':id', id ?? idOf(about?.[1] ?? 'office'))
    .replace(/\/\*$/, '')
}

/** Opens a place and gives what its page is called; whatever React complains of on the way fails the test. */
async function headingOf(path: string): Promise<string> {
  const complaints = vi.spyOn(console, 'error').mockImplementation(() => undefined)
  await renderPlace(path)
  const [heading] = await screen.findAllByRole('heading')
  expect(complaints.mock.calls.map(([first]) => String(first))).toEqual([])
  return heading?.textContent ?? ''
}

describe('every place', () => {
  it.each(places.map(({ path }) => path))('%s has a page with a heading', async (path) => {
    stubServer()
    expect(await headingOf(pathOf(path))).not.toBe('')
  })

  // What people see in the first minute: nothing is recorded but the estate and who records.
  it.each(places.map(({ path }) => path).filter((path) => !path.includes(':')))('%s has one on an empty estate, too', async (path) => {
    const full = smallEstate()
    stubServer(Estate.fromRecords({ estate: full.all('estate'), person: full.all('person'), policy: full.all('policy') }))
    expect(await headingOf(path)).not.toBe('')
  })

  it.each(places.map(({ path }) => path))('%s has one as it would be after an item of a plan', async (path) => {
    const api = stubServer()
    const [planId, itemId] = ['018a0000-0000-7000-8000-000000000001', '018b0000-0000-7000-8000-000000000001']
    const commands: Command[] = [{ type: 'guest.resize', guestId: idOf('playout'), memoryMiB: 12_288 }]
    api.change([
      { type: 'plan.add', record: { id: planId, name: 'Saturday' } },
      { type: 'item.write', id: itemId, planId, title: 'More', commands },
    ])
    expect(await headingOf(`${pathOf(path)}?basis=${planId}~${itemId}`)).not.toBe('')
  })

  it.each(places.map(({ path }) => path).filter((path) => path.includes(':id')))('%s of what is not there says so', async (path) => {
    stubServer()
    await renderPlace(pathOf(path, '01890000-0000-7000-8000-0000000fffff'))
    expect((await screen.findAllByText(/There is no|was removed|is not there|no longer/i)).length).toBeGreaterThan(0)
  })
})
