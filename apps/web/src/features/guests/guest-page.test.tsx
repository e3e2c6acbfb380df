import { idOf } from '@insel/core/testing'
import { screen, waitFor } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { leavePage, openPage, press, rowOf, type } from '../../testing/open-page'

afterEach(leavePage)

const open = (guest: string, before: Parameters<typeof openPage>[1] = []) => openPage(`guests/${idOf(guest)}`, before)
/** What is beside a term of the list of facts; undefined where the list does not have it. */
const fact = (label: string) => screen.queryByText(label, { selector: 'dt' })?.nextElementSibling?.textContent ?? undefined
describe('the page of a guest', () => {
  it('says what is recorded, and nothing of what is not', async () => {
    await open('playout', [
      {
        type: 'guest.update',
        id: idOf('playout'),
        changes: { sockets: 2, memoryMinMiB: 4096, isRouter: true, apartFromId: idOf('news'), tags: ['on-air'], note: 'Never at noon.' },
      },
    ])
    expect(fact('Processors')).toBe('4 vCPU in 2 sockets, general')
    expect(fact('Memory')).toContain('at least 4')
    expect(fact('Forwards packets')).toContain('router')
    expect(fact('Kept apart from')).toBe('newsroom')
    expect(fact('Tags')).toBe('#on-air')
    expect(fact('Backed up to')).toBe('vault-store')
    expect([fact('Cloned from'), fact('Copies'), fact('Sized for')]).toEqual([undefined, undefined, undefined])
    expect(screen.getByText('Never at noon.')).toBeDefined()
  })

  it('shows of an adapter whether its cable is in, and of a disk where it is', async () => {
    await open('playout', [{ type: 'adapter.update', id: idOf('playoutAdapter'), changes: { isConnected: false, model: 'emulated' } }])
    expect(rowOf('02:1a:4b:00:00:01').getByText('emulated')).toBeDefined()
    expect(rowOf('02:1a:4b:00:00:01').getByText(', not connected')).toBeDefined()
    expect(rowOf('nvme-1').getByText(/^200\sGiB$/)).toBeDefined()
  })

  it('assigns the address that was typed, and empties the field; one that is refused stays typed', async () => {
    const { view } = await open('playout')
    const field = screen.getByLabelText<HTMLInputElement>('Address for adapter 1')
    await type('Address for adapter 1', '10.61.40.9')
    await press('Assign')
    await waitFor(() => expect(view().estate.referring('address', 'adapterId', idOf('playoutAdapter'))).toHaveLength(2))
    await waitFor(() => expect(field.value).toBe(''))
    await type('Address for adapter 1', '10.61.40.9')
    await press('Assign')
    expect((await screen.findByRole('alert')).textContent).toContain('10.61.40.9')
    expect(field.value).toBe('10.61.40.9')
  })

  it('releases an address', async () => {
    const { view } = await open('playout')
    await press(/^Release 10\.61\.40\./)
    await waitFor(() => expect(view().estate.find('address', idOf('playoutAddress'))).toBeUndefined())
  })

  it('offers what may follow its state, and records it', async () => {
    const { view } = await open('playout')
    expect(screen.queryByRole('button', { name: 'Retire' })).toBeNull()
    await press('Record as stopped')
    await waitFor(() => expect(view().estate.find('guest', idOf('playout'))?.state).toBe('stopped'))
    expect(await screen.findByRole('button', { name: 'Retire' })).toBeDefined()
  })

  it('of a template asks for no start and shows its copies', async () => {
    await open('template', [{ type: 'guest.clone', guestId: idOf('template'), name: 'server-1', hostId: idOf('gannet') }])
    expect(fact('Copies')).toBe('server-1')
    expect(screen.queryByText('Starts after')).toBeNull()
    expect(screen.queryByRole('button', { name: /^Record as/ })).toBeNull()
  })
})

describe('a disk of a guest', () => {
  const openExtend = async (before: Parameters<typeof openPage>[1] = []) => {
    const page = await open('playout', before)
    await press(/^Extend\s*disk 1/)
    return page
  }

  it('is extended to a size that is larger, and the order of work is said', async () => {
    const { view } = await openExtend()
    await type('New size', '150G')
    expect(screen.getByText(/A disk only grows/)).toBeDefined()
    await type('New size', '300G')
    expect(screen.getByText(/Extend the partition/)).toBeDefined()
    await press('Record the new size')
    await waitFor(() => expect(view().estate.find('disk', idOf('playoutDisk'))?.sizeBytes).toBe(300 * 2 ** 30))
  })

  it('says what no size is, and that a snapshot is in the way', async () => {
    await openExtend([{ type: 'snapshot.add', record: { guestId: idOf('playout'), name: 'before', takenAt: '2027-01-17T08:00:00.000Z' } }])
    await type('New size', 'twice')
    expect(screen.getByText(/“twice”/)).toBeDefined()
    expect(screen.getByText(/1 snapshot/)).toBeDefined()
  })

  it('is made thick, with what that takes at once', async () => {
    const { view } = await openExtend()
    expect(screen.getByText(/It takes 120\sGiB more of nvme-1 at once/)).toBeDefined()
    await press('Record it as thick')
    await waitFor(() => expect(view().estate.find('disk', idOf('playoutDisk'))?.provisioning).toBe('thick'))
  })
})

describe('snapshots of a guest', () => {
  it('are recorded one upon the other, and one that goes hands on what stands on it', async () => {
    const { view } = await open('playout')
    const names = () => view().estate.referring('snapshot', 'guestId', idOf('playout'))
    for (const name of ['before update', 'after update']) {
      await type('Purpose of the snapshot', name)
      await press('Record a snapshot')
      await waitFor(() => expect(names().map((one) => one.name)).toContain(name))
    }
    const [first, second] = names()
    expect(second?.parentId).toBe(first?.id)
    await press(/^Record as removed\s*before update/)
    await waitFor(() => expect(names().map(({ name, parentId }) => [name, parentId])).toEqual([['after update', null]]))
  })
})
