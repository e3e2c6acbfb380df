import { applyAll } from '@insel/core'
import { generateEstate, idOf, smallEstate, testContext } from '@insel/core/testing'
import { act, cleanup, fireEvent, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { RECORDED } from '../../estate'
import { stubServer } from '../../testing/api-stand-in'
import { renderPlace } from '../../testing/render-place'

beforeEach(() => localStorage.clear())
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

/** A guest without a backup, and a network that its host no longer carries. */
const troubled = () => {
  const start = smallEstate()
  const attachment = start.byKey('attachment', { hostId: idOf('fulmar'), networkId: idOf('office') })[0]
  return applyAll(
    start,
    [
      { type: 'guest.update', id: idOf('news'), changes: { backupStoreId: null } },
      { type: 'attachment.remove', id: attachment?.id ?? '' },
    ],
    testContext(21),
  ).estate
}
const press = (name: RegExp | string) =>
  act(() => Promise.resolve(fireEvent.click(screen.getAllByRole('button', { name })[0] as HTMLElement)))

describe('what is wrong', () => {
  it('stands by severity, with evidence and what to do, and can be narrowed to a rule', async () => {
    stubServer(troubled())
    await renderPlace('findings')
    expect(await screen.findByRole('heading', { name: /^Errors, 1/ })).toBeDefined()
    expect(screen.getAllByText(/^What to do:/).length).toBeGreaterThan(1)
    fireEvent.change(screen.getByLabelText('Rule'), { target: { value: 'guest.no-backup' } })
    await waitFor(() => expect(screen.queryByRole('heading', { name: /^Errors/ })).toBeNull())
    expect(screen.getByText(/newsroom/)).toBeDefined()
  })

  it('is mended by the fix that is shown first, or the fix goes into the plan', async () => {
    const api = stubServer(troubled())
    const { view } = await renderPlace('findings?rule=adapter.network-not-on-host')
    await screen.findByText('Show the fix')
    await press('Show the fix')
    expect(await screen.findByText('office on fulmar')).toBeDefined()
    await press('Add to plan')
    await waitFor(() => expect(view().recorded.all('item')[0]?.commands).toMatchObject([{ type: 'attachment.add' }]))
    // After the item there is nothing to mend.
    expect(await screen.findByText('This rule has no findings now.')).toBeDefined()
    act(() => view().showBasis(RECORDED))
    await screen.findByText('Show the fix')
    await press('Show the fix')
    await screen.findByText('office on fulmar')
    await press('Apply fix')
    expect(await screen.findByText('This rule has no findings now.')).toBeDefined()
    expect(api.revision).toBe(3)
  })

  it('of a large estate says what is still being worked out, then has it', async () => {
    const api = stubServer(generateEstate({ hosts: 25, guests: 1000, adapters: 1200 }))
    const { view } = await renderPlace('findings', { person: null })
    await screen.findByRole('heading', { level: 1 })
    const seen: string[] = []
    const watch = new MutationObserver(() => {
      const note = screen.queryByText(/^Still being calculated/)?.textContent
      if (note) seen.push(note)
    })
    watch.observe(document.body, { subtree: true, childList: true })
    const guest = api.estate.all('guest')[0]
    api.change([{ type: 'guest.resize', guestId: guest?.id ?? '', memoryMiB: 300_000 }])
    act(() => api.tell())
    await waitFor(() => expect(view().revision).toBe(2))
    await waitFor(() => expect(seen[0]).toContain('Not enough room for guests if the host fails'))
    await waitFor(() => expect(screen.queryByText(/^Still being calculated/)).toBeNull())
    watch.disconnect()
  })
})

describe('findings that may stay as they are', () => {
  it('are chosen and accepted together, are listed by themselves, and reopened', async () => {
    stubServer(troubled())
    const { view } = await renderPlace('findings')
    await screen.findByRole('heading', { name: /^Errors, 1/ })
    await press(/^Choose all \d+ shown/)
    fireEvent.change(screen.getByLabelText('Why they may stay as they are'), { target: { value: 'known' } })
    fireEvent.change(screen.getByLabelText('until'), { target: { value: '2000-01-01' } })
    await press(/^Accept \d+ findings/)
    expect((await screen.findByRole('alert')).textContent).toContain('Until is over')
    fireEvent.change(screen.getByLabelText('until'), { target: { value: '2099-01-01' } })
    await press(/^Accept \d+ findings/)
    expect(await screen.findByText(/^No finding is open; \d+ accepted\.$/)).toBeDefined()
    const accepted = view().recorded.all('acceptance')
    expect(new Set(accepted.map(({ reason }) => reason))).toEqual(new Set(['known']))
    const [reopen] = screen.getAllByRole('button', { name: /^Reopen/ })
    await act(() => Promise.resolve(fireEvent.click(reopen as HTMLElement)))
    await waitFor(() => expect(view().recorded.all('acceptance')).toHaveLength(accepted.length - 1))
  })
})
