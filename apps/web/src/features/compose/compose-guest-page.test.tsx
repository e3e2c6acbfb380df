import { Estate } from '@insel/core'
import { idOf, smallEstate } from '@insel/core/testing'
import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { stubServer } from '../../testing/api-stand-in'
import { renderPlace } from '../../testing/render-place'
import { press } from '../../testing/open-page'

beforeEach(() => localStorage.clear())
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

const LINE = 'playout-2 2cpu 4G 40G on gannet net studio'

async function open(line = '') {
  const api = stubServer()
  const page = await renderPlace(`guests/new?line=${encodeURIComponent(line)}`)
  const field = (label: string | RegExp) => screen.getByLabelText<HTMLInputElement>(label)
  const made = () => page.view().estate.byKey('guest', { name: 'playout-2' })[0]
  await screen.findByLabelText('The guest in a line')
  return { api, field, made, ...page }
}

describe('a guest composed on one page', () => {
  it('is read from its line into the fields, and recorded with its disk and adapter', async () => {
    const { field, made, view } = await open(LINE)
    expect([field('Name').value, field('Memory').value, field('Processors').value]).toEqual(['playout-2', '4 GiB', '2'])
    await press(/^Add guest/)
    await waitFor(() => expect(made()).toMatchObject({ hostId: idOf('gannet'), vcpu: 2, memoryMiB: 4096 }))
    const id = made()?.id ?? ''
    expect(view().estate.referring('disk', 'guestId', id)).toMatchObject([{ storeId: idOf('nvme1'), sizeBytes: 40 * 2 ** 30 }])
    expect(view().estate.referring('adapter', 'guestId', id)).toMatchObject([{ networkId: idOf('studio') }])
    expect(await screen.findByText(`elsewhere: guests/${id}`)).toBeDefined()
  })

  it('keeps what was typed in a field when the line goes on', async () => {
    const { field } = await open(LINE)
    fireEvent.change(field('Memory'), { target: { value: '6G' } })
    fireEvent.change(field('The guest in a line'), { target: { value: `${LINE} steady` } })
    expect([field('Memory').value, field('Name').value]).toEqual(['6G', 'playout-2'])
  })

  it('says what is wrong at its field, and adds nothing', async () => {
    const { api, field } = await open(LINE)
    fireEvent.change(field('Memory'), { target: { value: 'much' } })
    await press(/^Add guest/)
    expect(field('Memory').getAttribute('aria-invalid')).toBe('true')
    expect(api.revision).toBe(1)
  })

  it('by a name that is taken is refused with the reason, and everything stays as typed', async () => {
    const { api, field } = await open(LINE)
    fireEvent.change(field('Name'), { target: { value: 'playout-1' } })
    await press(/^Add guest/)
    expect((await screen.findAllByRole('alert')).map(({ textContent }) => textContent).join(' ')).toContain('playout-1')
    expect([field('Name').value, field('Memory').value, api.revision]).toEqual(['playout-1', '4 GiB', 1])
  })

  it('goes into the plan, beside the record', async () => {
    const { made, view } = await open(LINE)
    await press('Add to plan')
    await waitFor(() => expect(view().basis.on).toBe('item'))
    expect([made()?.hostId, view().recorded.byKey('guest', { name: 'playout-2' })]).toEqual([idOf('gannet'), []])
  })

  it('in an estate without hosts leads to the first of them', async () => {
    stubServer(Estate.fromRecords({ ...smallEstate().toRecords(), host: [], guest: [] }))
    await renderPlace('guests/new')
    expect(screen.getByRole('link', { name: 'Add host' }).getAttribute('href')).toContain('hosts/new')
  })
})
