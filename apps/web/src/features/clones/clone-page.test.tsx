import { idOf } from '@insel/core/testing'
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

async function open(guest: string) {
  const api = stubServer()
  const page = await renderPlace(`guests/${idOf(guest)}/clone`)
  const name = await screen.findByLabelText<HTMLInputElement>('Name of the copy')
  await screen.findByText('gannet')
  const copies = () => page.view().estate.referring('guest', 'clonedFromId', idOf(guest))
  return { api, name, copies, ...page }
}

describe('a copy of a guest', () => {
  it('is called by the first number that is free, and is recorded with what it is made of', async () => {
    const { name, copies } = await open('playout')
    expect(name.value).toBe('playout-2')
    await press(/^Clone playout-1/)
    await waitFor(() => expect(copies()).toHaveLength(1))
    const [copy] = copies()
    expect(copy).toMatchObject({ name: 'playout-2', state: 'stopped', memoryMiB: 8192 })
    expect(await screen.findByText(`elsewhere: guests/${copy?.id ?? ''}`)).toBeDefined()
  })

  it('of a template drops what says so from its name', async () => {
    const { name } = await open('template')
    expect(name.value).toBe('server-1')
  })

  it('without a name one can use is not made, and what is wrong is said at once', async () => {
    const { api, name } = await open('playout')
    fireEvent.change(name, { target: { value: 'play out' } })
    expect(name.getAttribute('aria-invalid')).toBe('true')
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Clone playout-1/ }).disabled).toBe(true)
    expect(document.getElementById('clone-name-about')?.textContent).not.toBe('')
    expect(api.revision).toBe(1)
  })

  it('by a name that is taken is refused with the reason, and what was typed stays', async () => {
    const { name, copies } = await open('playout')
    fireEvent.change(name, { target: { value: 'newsroom' } })
    await press(/^Clone playout-1/)
    expect((await screen.findAllByRole('alert'))[0]?.textContent).toContain('newsroom')
    expect([name.value, copies().length]).toEqual(['newsroom', 0])
  })

  it('to another host takes the stores that are proposed there; planned, it is in the plan alone', async () => {
    const { copies, view } = await open('playout')
    await act(() => Promise.resolve(fireEvent.click(screen.getByLabelText(/^fulmar/))))
    await press('Add to plan')
    await waitFor(() => expect(view().basis.on).toBe('item'))
    const [copy] = copies()
    expect(copy?.hostId).toBe(idOf('fulmar'))
    const [disk] = view().estate.referring('disk', 'guestId', copy?.id ?? '')
    expect([disk?.storeId, view().recorded.find('guest', copy?.id)]).toEqual([idOf('nvme2'), undefined])
    expect(await screen.findByText('elsewhere: board')).toBeDefined()
  })
})
