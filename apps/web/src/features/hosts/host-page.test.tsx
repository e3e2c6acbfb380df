import { idOf } from '@insel/core/testing'
import { screen, waitFor, within } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { leavePage, openPage, press, rowOf, tick, type } from '../../testing/open-page'

afterEach(leavePage)

describe('the page of a host', () => {
  it('shows what it has, what is left, and its guests', async () => {
    await openPage(`hosts/${idOf('gannet')}`)
    // common practice, no source: 32 GiB less the platform's own, playout-1 with its overhead.
    expect(screen.getAllByText(/GiB/).length).toBeGreaterThan(2)
    expect(rowOf('playout-1').getByText('running')).toBeDefined()
    expect(screen.getByText('nvme-1')).toBeDefined()
  })

  it('carries another network at once, and then no longer offers it', async () => {
    const { view } = await openPage(`hosts/${idOf('tern')}`)
    expect(screen.getByText('None: its guests cannot reach anything.')).toBeDefined()
    await type('Attach network', idOf('office'))
    await waitFor(() => expect(view().estate.referring('attachment', 'hostId', idOf('tern'))).toHaveLength(1))
    expect(await screen.findByText('VLAN 30')).toBeDefined()
    const offered = [...screen.getByLabelText('Attach network').querySelectorAll('option')].map((one) => one.textContent)
    expect(offered).toEqual(['attach network…', 'studio'])
  })

  it('gets the next free address of the subnet that is chosen, and gives it back', async () => {
    const { view } = await openPage(`hosts/${idOf('gannet')}`)
    await type('Subnet for a management address', idOf('officeNet'))
    await press('Assign next free')
    const addresses = () => view().estate.referring('address', 'hostId', idOf('gannet'))
    await waitFor(() => expect(addresses()).toHaveLength(1))
    const ip = addresses()[0]?.ip ?? ''
    expect(ip).toMatch(/^10\.61\.30\./)
    await press(`Release ${ip}`)
    await waitFor(() => expect(addresses()).toHaveLength(0))
  })
})

describe('the ports of a host', () => {
  const ports = [
    { type: 'port.add' as const, record: { id: idOf('port'), hostId: idOf('gannet'), name: 'eno1', speedMbps: 1000 } },
    { type: 'port.add' as const, record: { hostId: idOf('gannet'), name: 'ens1f0', speedMbps: 10_000 } },
  ]

  it('are read off the machine where none is recorded', async () => {
    await openPage(`hosts/${idOf('gannet')}/ports`)
    expect(screen.getByText(/^No port is recorded yet/)).toBeDefined()
  })

  it('carry what is chosen, and say whether a cable is in', async () => {
    const { view } = await openPage(`hosts/${idOf('gannet')}/ports`, ports)
    const port = () => view().estate.find('port', idOf('port'))
    await type('What eno1 carries', 'management')
    await waitFor(() => expect(port()?.role).toBe('management'))
    const before = port()?.cable
    await tick(/in eno1$/)
    await waitFor(() => expect(port()?.cable).not.toBe(before))
  })

  it('get proposed roles in one change', async () => {
    const { view, api } = await openPage(`hosts/${idOf('gannet')}/ports`, ports)
    await press(/^Propose roles for 2 ports/)
    // They are shown first, and nothing is recorded by that.
    expect(within(screen.getByRole('group', { name: 'Proposed roles' })).getAllByRole('listitem')).toHaveLength(2)
    expect(api.revision).toBe(2)
    await press('Record these roles')
    await waitFor(() =>
      expect(
        view()
          .estate.all('port')
          .every(({ role }) => role !== null),
      ).toBe(true),
    )
    expect(api.revision).toBe(3)
  })
})

describe('the hardware of a host', () => {
  it('gets several modules, drives and ports alike in a line each', async () => {
    const { view } = await openPage(`hosts/${idOf('gannet')}/hardware`)
    await type('Several modules alike', '4 x 16 GiB 3200')
    expect(screen.getByText('4 of 16 GiB, 3200 MT/s, in slots 1 to 4')).toBeDefined()
    await press('Add 4')
    await waitFor(() => expect(view().estate.referring('module', 'hostId', idOf('gannet'))).toHaveLength(4))
    leavePage()
    const drives = await openPage(`hosts/${idOf('gannet')}/drives`)
    await type('Several drives alike', '6 x many')
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Add several' }).disabled).toBe(true)
    await type('Several drives alike', '6 x 3.84 TB nvme')
    await press('Add 6')
    await waitFor(() => expect(drives.view().estate.referring('drive', 'hostId', idOf('gannet'))).toHaveLength(6))
    leavePage()
    const ports = await openPage(`hosts/${idOf('gannet')}/ports`)
    await type('Several ports alike', '4 x 10G fibre ens1f0')
    await press('Add 4')
    await waitFor(() => expect(ports.view().estate.referring('port', 'hostId', idOf('gannet'))).toHaveLength(4))
  })

  it('counts its slots, and what is planned is fitted in one change with what becomes usable', async () => {
    const { view } = await openPage(`hosts/${idOf('gannet')}/hardware`, [
      { type: 'host.update', id: idOf('gannet'), changes: { memorySlots: 4 } },
      { type: 'module.add', record: { hostId: idOf('gannet'), slot: 1, sizeMiB: 32768, state: 'fitted' } },
      { type: 'module.add', record: { hostId: idOf('gannet'), slot: 2, sizeMiB: 16384, state: 'planned' } },
    ])
    expect(screen.getByText(/2 of 4 slots free/)).toBeDefined()
    expect(screen.getByLabelText(/^Slot 3: free/)).toBeDefined()
    await press('Record as fitted')
    await waitFor(() => expect(view().estate.find('host', idOf('gannet'))?.memoryMiB).toBe(32768 + 16384))
    expect(
      view()
        .estate.all('module')
        .map(({ state }) => state),
    ).toEqual(['fitted', 'fitted'])
  })

  it('lists what the build needs, and remembers what is at hand', async () => {
    const { view } = await openPage(`hosts/${idOf('gannet')}/hardware`)
    const [first] = screen.getAllByRole<HTMLInputElement>('checkbox', { name: /×/ })
    if (!first) throw new Error('nothing to tick')
    const before = view().estate.find('host', idOf('gannet'))?.atHand
    first.click()
    await waitFor(() => expect(view().estate.find('host', idOf('gannet'))?.atHand).not.toBe(before))
  })
})
