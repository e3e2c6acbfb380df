import { idOf } from '@insel/core/testing'
import { screen, waitFor } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { leavePage, openPage, press, tick, type } from '../../testing/open-page'

afterEach(leavePage)

const open = (ip: string) => openPage(`networks/${idOf('office')}?at=${ip}`)

describe('an address of a network', () => {
  it('is assigned to a guest by the guest’s name alone', async () => {
    const { view } = await open('10.61.30.150')
    await type('Assign to', 'newsroom')
    await press('Assign 10.61.30.150')
    await waitFor(() => expect(view().estate.byKey('address', { ip: '10.61.30.150' })[0]?.adapterId).toBe(idOf('newsAdapter')))
  })

  it('is assigned to nobody who is not here', async () => {
    await open('10.61.30.150')
    await type('Assign to', 'playout-1')
    expect(screen.getByText('No adapter on this network and no host has this name.')).toBeDefined()
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Assign 10.61.30.150' }).disabled).toBe(true)
  })

  it('of a pool is offered as a DHCP reservation, one beside it as fixed', async () => {
    await open('10.61.30.50')
    expect(screen.getByLabelText<HTMLSelectElement>('Kind').value).toBe('DHCP reservation')
    leavePage()
    await open('10.61.30.150')
    expect(screen.getByLabelText<HTMLSelectElement>('Kind').value).toBe('fixed')
  })

  it('is kept free under a name, and released again', async () => {
    const { view } = await open('10.61.30.200')
    await type('Or reserve it, under a name', 'printer-2')
    await press('Reserve 10.61.30.200')
    const kept = () => view().estate.byKey('address', { ip: '10.61.30.200' })[0]
    await waitFor(() => expect(kept()).toMatchObject({ kind: 'reserved', name: 'printer-2' }))
    await press('Release 10.61.30.200')
    await waitFor(() => expect(kept()).toBeUndefined())
  })

  it('that the network itself has is offered to nobody', async () => {
    await open('10.61.30.0')
    expect(screen.queryByRole('button', { name: /^Assign/ })).toBeNull()
  })
})

describe('the choice of an attachment', () => {
  const answers = () => screen.getAllByRole('listitem').map((item) => item.textContent)

  it('is bridged when others on the LAN have to reach in, and says why the rest will not do', async () => {
    await openPage('networks/reach')
    await tick('Others on the LAN must reach its guests')
    const [bridged, translated] = ['bridged', 'NAT'].map((kind) => answers().find((text) => text.includes(kind)))
    expect(bridged).not.toContain('no:')
    expect(translated).toContain('no:')
  })

  it('differs by platform: on one with a private segment for each guest they do not see each other', async () => {
    await openPage('networks/reach')
    await type('On platform', idOf('marram'))
    const translated = () => answers().find((text) => text.startsWith('NAT')) ?? ''
    expect(translated()).toContain('no:')
    await tick('Its guests must see each other')
    expect(translated()).not.toContain('no:')
  })
})

describe('ping, as a machine would see it', () => {
  it('answers with the outcome and its reason, the last first', async () => {
    await openPage('networks/reach')
    await type('On', 'newsroom')
    await type('Ping', '10.61.30.1')
    await press('Ping')
    expect(await screen.findByText(/newsroom → 10\.61\.30\.1/)).toBeDefined()
    await type('Ping', 'no-such-name')
    await press('Ping')
    await screen.findByText(/→ no-such-name/)
    const [first, second] = screen.getAllByText(/→/).map((line) => line.textContent)
    expect([first, second]).toEqual(['newsroom → no-such-name', 'newsroom → 10.61.30.1'])
  })

  it('is asked of one machine, not of a network', async () => {
    await openPage('networks/reach')
    await type('On', 'network office')
    expect(screen.getByText('Choose one machine: a network does not ping.')).toBeDefined()
  })
})
