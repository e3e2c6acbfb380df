import { Estate } from '@insel/core'
import { idOf, smallEstate } from '@insel/core/testing'
import { screen, waitFor } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { stubServer } from '../../testing/api-stand-in'
import { leavePage, openPage, press, type } from '../../testing/open-page'
import { renderPlace } from '../../testing/render-place'

afterEach(leavePage)

const line = (text: string) => type('The host in a line', text)

describe('a new host', () => {
  it('is recorded from a line, with its store and the networks it carries', async () => {
    const { view } = await openPage('hosts/new')
    await line('kittiwake 2x16 128G +7.68T at studio runs Brackwater-5 net office')
    await press(/^Add host/)
    await waitFor(() => expect(view().estate.byKey('host', { name: 'kittiwake' })).toHaveLength(1))
    const [host] = view().estate.byKey('host', { name: 'kittiwake' })
    expect(host).toMatchObject({ sockets: 2, coresPerSocket: 16, memoryMiB: 131_072, site: 'studio', platformId: idOf('brackwater') })
    // A label counts in powers of ten: 7.68 TB.
    expect(
      view()
        .estate.referring('store', 'hostId', host?.id ?? '')
        .map(({ capacityBytes }) => capacityBytes),
    ).toEqual([7.68e12])
    expect(
      view()
        .estate.referring('attachment', 'hostId', host?.id ?? '')
        .map(({ networkId }) => networkId),
    ).toEqual([idOf('office')])
  })

  it('says beside the fields what it could carry, and whether it will do', async () => {
    await openPage('hosts/new')
    await line('kittiwake 2x16 128G at studio runs Brackwater-5')
    expect(await screen.findByText(/32 cores/)).toBeDefined()
    expect(screen.getByText('Compatibility')).toBeDefined()
  })

  it('with a word that means nothing says which, and Tab takes the nearest', async () => {
    await openPage('hosts/new')
    await line('kittiwake 2x16 128G runs Brakwater-5')
    expect(screen.getByLabelText('The host in a line').getAttribute('aria-invalid')).toBe('true')
    expect(screen.getAllByText(/Brackwater/).length).toBeGreaterThan(0)
  })

  it('with a word that is not understood is not saved without it', async () => {
    const { api } = await openPage('hosts/new')
    await line('kittiwake 2x16 128G lots at studio runs Brackwater-5')
    await press(/^Add host/)
    expect((await screen.findAllByText(/^Nothing was saved: “lots” is not understood/)).length).toBeGreaterThan(0)
    expect(api.revision).toBe(1)
  })

  it('comes with its modules, drives and ports from the line, in one change', async () => {
    const { view, api } = await openPage('hosts/new')
    await line('kittiwake 2x16 4x32G drives 6x3.84T ports 4x10G:eno1 at studio runs Brackwater-5')
    await press(/^Add host/)
    await waitFor(() => expect(view().estate.byKey('host', { name: 'kittiwake' })).toHaveLength(1))
    const [host] = view().estate.byKey('host', { name: 'kittiwake' })
    const count = (kind: 'module' | 'drive' | 'port') => view().estate.referring(kind, 'hostId', host?.id ?? '').length
    expect([host?.memoryMiB, count('module'), count('drive'), count('port'), api.revision]).toEqual([131_072, 4, 6, 4, 2])
  })

  it('like another one takes over what that has', async () => {
    const { view } = await openPage(`hosts/new?like=${idOf('gannet')}`)
    const gannet = view().estate.find('host', idOf('gannet'))
    await line('kittiwake')
    await press(/^Add host/)
    await waitFor(() => expect(view().estate.byKey('host', { name: 'kittiwake' })).toHaveLength(1))
    const [host] = view().estate.byKey('host', { name: 'kittiwake' })
    expect(host).toMatchObject({
      sockets: gannet?.sockets,
      memoryMiB: gannet?.memoryMiB,
      platformId: gannet?.platformId,
      state: 'on order',
    })
    const names = (id: string) => view().estate.referring('attachment', 'hostId', id).length
    expect(names(host?.id ?? '')).toBe(names(idOf('gannet')))
  })

  it('by a name that is taken is refused, and the line stays', async () => {
    const { api } = await openPage('hosts/new')
    await line('gannet 2x16 128G at studio runs Brackwater-5')
    await press(/^Add host/)
    expect((await screen.findAllByRole('alert')).map((one) => one.textContent).join(' ')).toContain('gannet')
    expect(screen.getByLabelText<HTMLInputElement>('The host in a line').value).toContain('gannet')
    expect(api.revision).toBe(1)
  })

  it('waits for a platform where none is recorded', async () => {
    const full = smallEstate()
    stubServer(Estate.fromRecords({ estate: full.all('estate'), person: full.all('person'), policy: full.all('policy') }))
    await renderPlace('hosts/new')
    expect(screen.getByText(/^A host runs a platform/)).toBeDefined()
  })
})
