import type { Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { act, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { leavePage, openPage, press, type } from '../../testing/open-page'

beforeEach(() => localStorage.clear())
afterEach(leavePage)

const BATCH = '01890000-0000-7000-8000-0000000000c1'
const guestId = (index: number) => `01890000-0000-7000-8000-0000000000d${index}`
const clone = (index: number): Command => ({ type: 'guest.clone', id: guestId(index), guestId: idOf('template'), name: `edge-${index}` })
const batch: Command = { type: 'batch.begin', id: BATCH, name: 'Edges', copies: [clone(1), clone(2)] }

async function open(...more: Command[]) {
  const page = await openPage(`clones/${BATCH}`, [batch, ...more])
  await screen.findByRole('heading', { level: 1, name: 'Edges' })
  const guest = (index: number) => page.view().estate.find('guest', guestId(index))
  const copy = (index: number) =>
    page
      .view()
      .estate.referring('copy', 'batchId', BATCH)
      .find(({ position }) => position === index)
  return { guest, copy, ...page }
}
const card = (name: RegExp) => within(screen.getByRole('region', { name }))
const pressIn = (name: RegExp, label: RegExp | string) =>
  act(() => Promise.resolve(fireEvent.click(card(name).getByRole('button', { name: label }))))

describe('a batch that is followed', () => {
  it('has a copy to a row and a step to a column; a step is ticked for every copy that is ready', async () => {
    const { guest } = await open()
    expect(screen.getByRole('button', { name: 'edge-1, copied: open' })).toBeDefined()
    await press('Tick 2: Copied')
    await waitFor(() => expect([guest(1)?.state, guest(2)?.state]).toEqual(['stopped', 'stopped']))
    expect(await screen.findByRole('button', { name: 'edge-2, copied: done' })).toBeDefined()
  })

  it('a copy in hand: begun, ticked with its minutes, failed with the reason, dropped and begun once more', async () => {
    const { guest, copy, view } = await open()
    await press('edge-1, copied: open')
    await pressIn(/^edge-1/, /^Begin copying/)
    await waitFor(() => expect(guest(1)?.state).toBe('being copied'))
    await type(/^Minutes it took/, '7')
    await pressIn(/^edge-1/, /^Copied: done/)
    await waitFor(() => expect(guest(1)?.state).toBe('stopped'))
    expect(
      view()
        .estate.all('step')
        .map(({ step, minutes }) => [step, minutes]),
    ).toEqual([['copied', 7]])
    await pressIn(/^edge-1/, /^Failed/)
    await type('What went wrong', 'no network')
    await press('Record as failed')
    await waitFor(() => expect(copy(1)?.state).toBe('failed'))
    expect(screen.getByText('Attached: no network')).toBeDefined()
    await pressIn(/^edge-1/, /^Drop/)
    await type('Why it is dropped', 'broken')
    await press('Drop the copy')
    await waitFor(() => expect(guest(1)).toBeUndefined())
    await press('Begin another in its place')
    await waitFor(() => expect(copy(3)?.state).toBe('planned'))
    expect(view().estate.byKey('guest', { name: 'edge-1' })).toHaveLength(1)
  })

  it('a whole row at once, and the batch is over with its last copy', async () => {
    const { guest, view } = await open()
    for (const index of [1, 2]) {
      await press(`edge-${index}, copied: open`)
      await pressIn(new RegExp(`^edge-${index}`), /^All 11 left are done/)
      await waitFor(() => expect(guest(index)?.state).toBe('running'))
      await press('All copies')
    }
    expect(view().estate.find('batch', BATCH)?.endedAt).not.toBeNull()
    expect(await screen.findByText('Every copy is in service or dropped.')).toBeDefined()
  })

  it('a step that somebody else ticked is said to be theirs', async () => {
    const { api } = await open()
    await press('edge-1, copied: open')
    const copyId = api.estate.referring('copy', 'guestId', guestId(1))[0]?.id ?? ''
    api.change([{ type: 'copy.settle', copyId, step: 'copied', state: 'done' }])
    await pressIn(/^edge-1/, /^Copied: done/)
    expect((await screen.findByText(/done already|changed meanwhile|somebody/i)).textContent).toBeTruthy()
  })

  it('a settled step is reopened', async () => {
    const { view } = await open()
    await press('Tick 2: Copied')
    await press('edge-2, copied: done')
    fireEvent.click(screen.getByText(/^Reopen/))
    await waitFor(() =>
      expect(
        view()
          .estate.all('step')
          .map(({ state }) => state)
          .sort(),
      ).toEqual(['done', 'open']),
    )
  })
})

describe('the copies of an item', () => {
  it('are begun from the plan and followed there', async () => {
    const [planId, itemId] = ['01890000-0000-7000-8000-0000000000a1', '01890000-0000-7000-8000-0000000000a2']
    const { view } = await openPage(`plans/${planId}`, [
      { type: 'plan.add', record: { id: planId, name: 'Saturday' } },
      { type: 'item.write', id: itemId, planId, title: 'Two edges', kind: 'copies', commands: [clone(1), clone(2)] },
    ])
    await press(/^Begin, and follow each copy/)
    await waitFor(() => expect(view().recorded.find('item', itemId)?.state).toBe('under way'))
    const [made] = view().recorded.all('batch')
    expect([made?.name, made?.itemId]).toEqual(['Two edges', itemId])
    expect(await screen.findByText(`elsewhere: clones/${made?.id ?? ''}`)).toBeDefined()
  })
})

describe('a template', () => {
  it('is renewed by its sheet: patched, what is installed, what was removed', async () => {
    const { view } = await openPage(`guests/${idOf('template')}/template`)
    await press('Start the renewal')
    await press('Record it as running')
    await waitFor(() => expect(view().estate.find('guest', idOf('template'))?.state).toBe('running'))
    await press('Record it as patched today')
    await type('What is installed', 'remote login, agent')
    await press('Record')
    await type('host keys of remote login', 'no')
    await waitFor(() =>
      expect(view().estate.find('template', idOf('templateVersion'))).toMatchObject({
        installed: 'remote login, agent',
        hostKeysRemoved: 'no',
      }),
    )
    await press('All of it was removed')
    await waitFor(() => expect(view().estate.find('template', idOf('templateVersion'))?.hostKeysRemoved).toBe('yes'))
  })

  it('gets a next version, and is withdrawn with the reason', async () => {
    const { view } = await openPage(`guests/${idOf('template')}/template`)
    await type('Why it is withdrawn', 'old keys')
    await press('Withdraw version')
    await waitFor(() => expect(view().estate.find('template', idOf('templateVersion'))?.withdrawnFor).toBe('old keys'))
    await type('Version', '13')
    await press(/^Begin/)
    await waitFor(() => expect(view().estate.byKey('guest', { name: 'tpl-server-13' })).toHaveLength(1))
  })
})

describe('first-boot files', () => {
  it('are shown by form, with what the record lacks', async () => {
    await openPage(`guests/${idOf('playout')}/first-boot`)
    expect(screen.getByText(/local-hostname: "playout-1"/)).toBeDefined()
    await press('interfaces(5)')
    expect(await screen.findByText(/auto \/mac\/02:1a:4b:00:00:01=lan1/)).toBeDefined()
    leavePage()
    await openPage(`guests/${idOf('news')}/first-boot`)
    expect(screen.getByText(/has no planned address/)).toBeDefined()
  })
})

describe('the identity of a guest', () => {
  it('is shown with who shares it, and recorded as its own', async () => {
    const { view } = await openPage(`guests/${guestId(1)}`, [{ type: 'guest.clone', id: guestId(1), guestId: idOf('news'), name: 'twin' }])
    expect(await screen.findByText('copied from newsroom.')).toBeDefined()
    await press('It has its own now')
    await waitFor(() => expect(view().estate.find('guest', guestId(1))?.identity).toBe('its own'))
    await type('Its identity is copied from', idOf('playout'))
    await waitFor(() => expect(view().estate.find('guest', guestId(1))?.identityFromId).toBe(idOf('playout')))
  })
})
