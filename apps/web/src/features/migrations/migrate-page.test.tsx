import { Estate } from '@insel/core'
import { idOf, smallEstate } from '@insel/core/testing'
import { act, cleanup, fireEvent, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { stubServer } from '../../testing/api-stand-in'
import { renderPlace } from '../../testing/render-place'
import { press } from '../../testing/open-page'

beforeEach(() => localStorage.clear())
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

async function open(estate?: Estate) {
  const api = stubServer(estate)
  const page = await renderPlace(`guests/${idOf('playout')}/migrate`)
  await screen.findByRole('heading', { name: 'Migrate playout-1' })
  const guest = () => page.view().estate.find('guest', idOf('playout'))
  const choose = (host: string) => act(() => Promise.resolve(fireEvent.click(screen.getByLabelText(new RegExp(`^${host}`)))))
  return { api, guest, choose, ...page }
}

describe('a guest’s move to another host', () => {
  it('asks for the host first: where it is now is not among them, what fits comes first', async () => {
    await open()
    const hosts = screen.getAllByRole('radio').map((one) => one.closest('label')?.textContent ?? '')
    expect(hosts).toHaveLength(2)
    expect(hosts[0]).toContain('fulmar')
    expect(screen.getByText('Choose a host to see what would change.')).toBeDefined()
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Record as done/ }).disabled).toBe(true)
  })

  it('is recorded with its disks on the stores that are proposed there', async () => {
    const { guest, choose, view } = await open()
    await choose('fulmar')
    await press(/^Record as done/)
    await waitFor(() => expect(guest()?.hostId).toBe(idOf('fulmar')))
    expect(view().recorded.find('disk', idOf('playoutDisk'))?.storeId).toBe(idOf('nvme2'))
    expect(view().recorded.all('migration')).toMatchObject([{ guestId: idOf('playout'), method: 'live' }])
    expect(await screen.findByText(`elsewhere: guests/${idOf('playout')}`)).toBeDefined()
  })

  it('into the plan leaves the record as it is', async () => {
    const { guest, choose, view } = await open()
    await choose('fulmar')
    await press('Add to plan')
    await waitFor(() => expect(view().basis.on).toBe('item'))
    expect([guest()?.hostId, view().recorded.find('guest', idOf('playout'))?.hostId]).toEqual([idOf('fulmar'), idOf('gannet')])
    expect(view().recorded.all('item')).toMatchObject([{ title: 'Migrate playout-1 to fulmar', kind: 'move' }])
  })

  it('is decided by a time of the estate’s zone, wherever the browser is', async () => {
    const records = smallEstate().toRecords()
    const { choose, view } = await open(
      Estate.fromRecords({ ...records, estate: records.estate.map((one) => ({ ...one, timeZone: 'Europe/Berlin' })) }),
    )
    await choose('fulmar')
    fireEvent.change(screen.getByLabelText(/^Decide by/), { target: { value: '2027-03-29T22:00' } })
    await press(/^Begin migration/)
    await waitFor(() => expect(view().recorded.all('migration')).toHaveLength(1))
    // Berlin is two hours before UTC from 2027-03-28 on: IANA tz database.
    expect(view().recorded.all('migration')[0]?.decideBy).toBe('2027-03-29T20:00:00.000Z')
  })

  it('that the host cannot take is refused with the reason', async () => {
    const { api, choose } = await open()
    await choose('tern')
    await press(/^Record as done/)
    await waitFor(() => expect(screen.queryAllByRole('alert').length + api.revision).toBeGreaterThan(1))
    if (api.revision === 1) expect(screen.getAllByRole('alert')[0]?.textContent).toMatch(/tern|studio/)
  })
})
