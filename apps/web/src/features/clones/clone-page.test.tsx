import { idOf } from '@insel/core/testing'
import { act, fireEvent, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { leavePage, openPage, press, tick, type } from '../../testing/open-page'

beforeEach(() => localStorage.clear())
afterEach(leavePage)

async function open(guest: string) {
  const page = await openPage(`guests/${idOf(guest)}/clone`)
  const names = await screen.findByLabelText<HTMLTextAreaElement>('Names')
  await screen.findByLabelText('Name of copy 1')
  const copies = () => page.view().estate.referring('guest', 'clonedFromId', idOf(guest))
  return { names, copies, ...page }
}
const cell = (name: string) => screen.getByLabelText<HTMLInputElement>(name)
const button = (name: RegExp) => screen.getByRole<HTMLButtonElement>('button', { name })

describe('one copy', () => {
  it('is called by the first number that is free, and is recorded with what it is made of', async () => {
    const { names, copies } = await open('playout')
    expect(names.value).toBe('playout-2')
    await press(/^Clone playout-1/)
    await waitFor(() => expect(copies()).toHaveLength(1))
    const [copy] = copies()
    expect(copy).toMatchObject({ name: 'playout-2', state: 'stopped', memoryMiB: 8192, identity: 'copied' })
    expect(await screen.findByText(`elsewhere: guests/${copy?.id ?? ''}`)).toBeDefined()
  })

  it('of a template drops what says so from its name', async () => expect((await open('template')).names.value).toBe('server-1'))

  it.each([
    ['pl!ay', /“pl!ay”/],
    ['newsroom', /already used by guest newsroom/],
    ['', /Names are missing/],
    ['edge-{3..1}', /counts backwards/],
  ])('by the name “%s” is not made, and what is wrong is said at once', async (name, sentence) => {
    const { api, names } = await open('playout')
    fireEvent.change(names, { target: { value: name } })
    expect(await screen.findByText(sentence)).toBeDefined()
    expect(names.value).toBe(name)
    await press(/^(Clone|Begin|Record)/)
    expect(api.revision).toBe(1)
  })

  it('to another host takes the stores that are proposed there; planned, it is in the plan alone', async () => {
    const { copies, view } = await open('playout')
    await type('Host of copy 1', idOf('fulmar'))
    await waitFor(() => expect(button(/^Clone playout-1/).disabled).toBe(false))
    await press('Add to plan')
    await waitFor(() => expect(view().basis.on).toBe('item'))
    const [copy] = copies()
    expect(copy?.hostId).toBe(idOf('fulmar'))
    const [disk] = view().estate.referring('disk', 'guestId', copy?.id ?? '')
    expect([disk?.storeId, view().recorded.find('guest', copy?.id)]).toEqual([idOf('nvme2'), undefined])
    expect(view().recorded.all('item')[0]?.kind).toBe('copies')
  })
})

describe('several copies', () => {
  const five = async () => {
    const page = await open('template')
    fireEvent.change(page.names, { target: { value: 'edge-{1..5}' } })
    await screen.findByLabelText('Name of copy 5')
    return page
  }

  it('are begun as a batch, each planned, and what they take is said before', async () => {
    const { copies, view } = await five()
    await type('Addresses', 'next free, fixed')
    await waitFor(() => expect(cell('Address of copy 5').value).toBe('10.61.30.104'))
    expect(screen.getByRole('heading', { name: 'What 5 copies take' })).toBeDefined()
    expect(screen.getByText(/As many fresh installs/)).toBeDefined()
    await press(/^Begin batch of 5/)
    await waitFor(() => expect(copies()).toHaveLength(5))
    expect(copies().map(({ state }) => state)).toEqual(['planned', 'planned', 'planned', 'planned', 'planned'])
    const [batch] = view().estate.all('batch')
    expect(await screen.findByText(`elsewhere: clones/${batch?.id ?? ''}`)).toBeDefined()
    expect(Object.keys(localStorage).some((key) => key.startsWith('insel.batch.'))).toBe(false)
  })

  it('that are made already are recorded without a batch', async () => {
    const { copies, view } = await five()
    await tick(/^They are made already/)
    await press(/^Record 5 copies/)
    await waitFor(() => expect(copies()).toHaveLength(5))
    expect([copies()[0]?.state, view().estate.count('batch')]).toEqual(['stopped', 0])
  })

  it('are changed in the table: typed, filled down, pasted from a spreadsheet, moved through by arrows', async () => {
    const { copies } = await five()
    await type('Memory of copy 2', '1G')
    await act(() => Promise.resolve(fireEvent.keyDown(cell('Memory of copy 2'), { key: 'd', ctrlKey: true })))
    await waitFor(() => expect(cell('Memory of copy 5').value).toBe('1 GiB'))
    expect(cell('Memory of copy 1').value).toBe('2 GiB')
    const pasted = (text: string) => ({ clipboardData: { getData: () => text } })
    await act(() =>
      Promise.resolve(fireEvent.paste(cell('Name of copy 1'), pasted('front\tgannet\t10.61.30.200\nback\tfulmar\t10.61.30.201\n'))),
    )
    await waitFor(() => expect(cell('Name of copy 2').value).toBe('back'))
    cell('Name of copy 2').focus()
    fireEvent.keyDown(cell('Name of copy 2'), { key: 'ArrowDown' })
    expect(document.activeElement).toBe(cell('Name of copy 3'))
    await press(/^Begin batch of 5/)
    await waitFor(() => expect(copies()).toHaveLength(5))
    expect(
      copies()
        .map(({ name, memoryMiB }) => `${name} ${memoryMiB}`)
        .sort(),
    ).toEqual(['back 1024', 'edge-3 1024', 'edge-4 1024', 'edge-5 1024', 'front 2048'])
  })

  it('keep what cannot be read as it was typed, with the reason; what is pasted below the last is said', async () => {
    await five()
    await type('Memory of copy 1', 'lots')
    expect(screen.getByRole('alert').textContent).toMatch(/^Row 1, memory: /)
    fireEvent.blur(cell('Memory of copy 1'))
    expect(cell('Memory of copy 1').value).toBe('lots')
    await act(() => Promise.resolve(fireEvent.paste(cell('Name of copy 5'), { clipboardData: { getData: () => 'a\nb\nc' } })))
    expect(
      screen
        .getAllByRole('alert')
        .map(({ textContent }) => textContent)
        .join(),
    ).toMatch(/2 of the pasted rows are below the last copy/)
  })

  it('are kept in this browser until they are recorded', async () => {
    await five()
    leaveKeepingStorage()
    await openPage(`guests/${idOf('template')}/clone`)
    expect((await screen.findByLabelText<HTMLTextAreaElement>('Names')).value).toBe('edge-{1..5}')
  })

  it('that find no place or no address say which and by how much', async () => {
    await five()
    await type('Memory of copy 3', '4000G')
    expect(await screen.findByText(/No host has room: .* short of/)).toBeDefined()
    await type('Addresses', 'listed, fixed')
    await type('List of addresses', '10.61.30.200-203')
    expect(await screen.findByText('For 1 copy no address is left.')).toBeDefined()
    expect(button(/^Begin batch of 5/).disabled).toBe(true)
  })
})

/** Leaves the page as a reload does. */
function leaveKeepingStorage() {
  const kept = Object.entries(localStorage)
  leavePage()
  for (const [key, value] of kept) localStorage.setItem(key, String(value))
}
