import type { Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { screen, within } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { leavePage, openPage } from '../testing/open-page'

afterEach(leavePage)

const [planId, itemId] = ['01890000-0000-7000-8000-0000000000a1', '01890000-0000-7000-8000-0000000000a2']
/** Opens a place as it would be after an item that does this. */
const openAfter = (at: string, commands: readonly Command[]) =>
  openPage(`${at}?basis=${planId}~${itemId}`, [
    { type: 'plan.add', record: { id: planId, name: 'Saturday' } },
    { type: 'item.write', id: itemId, planId, title: 'Some', commands },
  ])
const NET = '01890000-0000-7000-8000-0000000000b2'
const give: Command = {
  type: 'address.assign',
  id: '01890000-0000-7000-8000-0000000000b1',
  adapterId: idOf('newsAdapter'),
  ip: '10.61.30.150',
}

describe('what differs from the record is marked', () => {
  it('on the ruler of addresses, at the address and in what it is called', async () => {
    await openAfter(`networks/${idOf('office')}`, [give])
    expect(await screen.findByRole('gridcell', { name: /^10\.61\.30\.150, .*newsroom.*, new, not in the record$/ })).toBeDefined()
    expect(screen.getByRole('gridcell', { name: '10.61.30.151, free' })).toBeDefined()
  })

  it('on the list of zones, at those whose names differ', async () => {
    await openAfter('networks/names', [give])
    const zone = await screen.findByRole('row', { name: /skerry\.example/ })
    expect(within(zone).getByRole('img', { name: /record/ })).toBeDefined()
    expect(within(screen.getByRole('row', { name: /40\.61\.10/ })).queryByRole('img')).toBeNull()
  })

  it('on the table of networks by host', async () => {
    const added: Command = { type: 'network.add', record: { id: NET, name: 'news-net' } }
    await openAfter('networks/carried', [added, { type: 'attachment.add', record: { hostId: idOf('gannet'), networkId: NET } }])
    const row = await screen.findByRole('row', { name: /news-net/ })
    expect(within(row).getByRole('img', { name: /on 1 host it differs from the record/ })).toBeDefined()
    expect(within(screen.getByRole('row', { name: /^office/ })).queryByRole('img', { name: /differs/ })).toBeNull()
  })

  it.each([
    ['guests', /not here: newsroom\.$/],
    ['board', /not here: newsroom\.$/],
    ['networks/macs', /not here: .*newsroom\.$/],
  ])('what %s leaves out is named there', async (at, sentence) => {
    await openAfter(at, [{ type: 'guest.remove', id: idOf('news'), withReferring: true }])
    expect(await screen.findByText(sentence)).toBeDefined()
  })
})
