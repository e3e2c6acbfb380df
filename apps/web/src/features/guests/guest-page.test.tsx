// @vitest-environment jsdom
import { idOf } from '@insel/core/testing'
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { stubServer } from '../../testing/api-stand-in'
import { renderPlace } from '../../testing/render-place'

beforeEach(() => localStorage.clear())
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

async function open(guest: string, before: Parameters<ReturnType<typeof stubServer>['change']>[0] = []) {
  const api = stubServer()
  if (before.length > 0) api.change(before)
  const page = await renderPlace(`guests/${idOf(guest)}`)
  await screen.findByRole('heading', { level: 1 })
  return { api, ...page }
}
const press = (name: RegExp | string) => act(() => Promise.resolve(fireEvent.click(screen.getByRole('button', { name }))))
/** What stands beside a term of the list of facts; undefined where the list does not have it. */
const fact = (label: string) => screen.queryByText(label, { selector: 'dt' })?.nextElementSibling?.textContent ?? undefined
const rowOf = (text: string) => {
  const row = screen.getByText(text).closest('tr')
  if (!row) throw new Error(`${text} is in no row`)
  return within(row)
}

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
    fireEvent.change(field, { target: { value: '10.61.40.9' } })
    await press('Assign')
    await waitFor(() => expect(view().estate.referring('address', 'adapterId', idOf('playoutAdapter'))).toHaveLength(2))
    await waitFor(() => expect(field.value).toBe(''))
    fireEvent.change(field, { target: { value: '10.61.40.9' } })
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
