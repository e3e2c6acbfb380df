import type { Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { act, cleanup, fireEvent, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { renderInEstate, stubServer } from '../../testing/api-stand-in'
import { Effect } from './effect'
import { ProposalFooter } from './proposal-footer'
import { useProposal, type Proposed } from './use-proposal'

beforeEach(() => localStorage.clear())
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

const resize: Command = { type: 'guest.resize', guestId: idOf('playout'), memoryMiB: 12_288 }
const unknown: Command = { type: 'guest.resize', guestId: idOf('ola'), memoryMiB: 12_288 }
const button = (name: string) => screen.getByRole<HTMLButtonElement>('button', { name })
const press = (name: string) => act(() => Promise.resolve(fireEvent.click(button(name))))

async function propose(proposed: Proposed, options?: Parameters<typeof renderInEstate>[1]) {
  function Proposing() {
    return <ProposalFooter proposal={useProposal(proposed)} label="Do it" leave={() => undefined} />
  }
  const api = stubServer()
  const page = renderInEstate(<Proposing />, options)
  await screen.findByRole('button', { name: 'Do it' })
  return { api, memory: () => page.view().recorded.find('guest', idOf('playout'))?.memoryMiB, ...page }
}

describe('what is proposed', () => {
  it('is recorded, said in its own words, and what follows is done', async () => {
    const recorded = vi.fn()
    const { api, memory } = await propose({ commands: [resize], says: 'Made larger', recorded })
    await press('Do it')
    await waitFor(() => expect(memory()).toBe(12_288))
    expect(recorded).toHaveBeenCalledWith([resize])
    expect(api.revision).toBe(2)
  })

  it('is recorded once, and planned once, by whoever presses twice', async () => {
    const recorded = vi.fn()
    const { api, view } = await propose({ commands: [resize], recorded })
    const twice = (name: string) =>
      act(() => {
        fireEvent.click(button(name))
        fireEvent.click(button(name))
        return Promise.resolve()
      })
    await twice('Do it')
    await waitFor(() => expect(recorded).toHaveBeenCalledTimes(1))
    await twice('Add to plan')
    await waitFor(() => expect(view().recorded.all('item')).toHaveLength(1))
    expect([api.revision, view().recorded.all('item').length, view().recorded.all('plan').length]).toEqual([3, 1, 1])
    expect(recorded).toHaveBeenCalledTimes(1)
  })

  it('goes into a new plan, which is shown, and the record stays', async () => {
    const planned = vi.fn()
    const { memory, view } = await propose({ commands: [resize], planned })
    expect(screen.queryByLabelText('Plan it is added to')).toBeNull()
    const name = screen.getByLabelText<HTMLInputElement>('Name of the new plan')
    expect(name.value).toMatch(/^Plan of \d{4}-\d\d-\d\d$/)
    fireEvent.change(name, { target: { value: ' ' } })
    expect(button('Add to plan').disabled).toBe(true)
    fireEvent.change(name, { target: { value: 'Saturday' } })
    await press('Add to plan')
    await waitFor(() => expect(view().basis.on).toBe('item'))
    expect(planned).toHaveBeenCalledOnce()
    expect(view().recorded.all('plan')).toMatchObject([{ name: 'Saturday' }])
    expect([memory(), view().estate.find('guest', idOf('playout'))?.memoryMiB]).toEqual([8192, 12_288])
  })

  it('goes into the plan that is shown, and nowhere else', async () => {
    const recorded = vi.fn()
    const { memory, view } = await propose({ commands: [resize], recorded })
    await act(async () =>
      expect(await view().addToPlan([{ type: 'guest.power', guestId: idOf('playout'), state: 'stopped' }], 'Saturday')).toBeUndefined(),
    )
    await screen.findByText(/^It becomes an item after/)
    expect(screen.queryByRole('button', { name: 'Do it' })).toBeNull()
    await press('Add to plan “Saturday”')
    await waitFor(() => expect(view().recorded.all('item')).toHaveLength(2))
    expect([memory(), recorded.mock.calls.length]).toEqual([8192, 0])
  })

  it('goes into a plan that there is where one is chosen, and the page shows the estate after it', async () => {
    const plan = '018a0000-0000-7000-8000-000000000001'
    const { api, memory, view } = await propose({ commands: [resize] })
    act(() => {
      api.change([{ type: 'plan.add', record: { id: plan, name: 'Saturday' } }])
      api.tell()
    })
    fireEvent.change(await screen.findByLabelText('Plan it is added to'), { target: { value: plan } })
    await press('Add to plan')
    await waitFor(() => expect(view().basis.on).toBe('item'))
    expect(view().recorded.all('item')).toMatchObject([{ planId: plan, title: 'Resize playout-1 to 12 GiB', kind: 'change' }])
    expect([memory(), view().estate.find('guest', idOf('playout'))?.memoryMiB]).toEqual([8192, 12_288])
    // It is remembered, until the plan is over.
    act(() => {
      api.change([{ type: 'plan.drop', planId: plan }])
      api.tell()
    })
    await waitFor(() => expect(view().planInto).toBeUndefined())
  })

  it('is asked for when it is wanted, and nothing is done while it is not there', async () => {
    let ready = undefined as readonly Command[] | undefined
    const { api } = await propose({ commands: () => Promise.resolve(ready) })
    await press('Do it')
    await press('Add to plan')
    expect(api.revision).toBe(1)
    ready = [resize]
    await press('Do it')
    await waitFor(() => expect(api.revision).toBe(2))
  })

  it('that is refused says why, in the record as in the plan, and does not go on', async () => {
    const [recorded, planned] = [vi.fn(), vi.fn()]
    const { view } = await propose({ commands: [unknown], recorded, planned })
    await press('Do it')
    expect((await screen.findByRole('alert')).textContent).toContain('There is no guest')
    await press('Add to plan')
    expect(screen.getByRole('alert').textContent).toContain('There is no guest')
    expect([recorded, planned].map((one) => one.mock.calls.length)).toEqual([0, 0])
    expect(view().recorded.all('plan')).toEqual([])
  })

  it('is recorded by the way that is given', async () => {
    const recordBy = vi.fn(() => Promise.resolve({ sentence: 'Not on a Friday.', problems: [] }))
    const { api } = await propose({ commands: [resize], recordBy })
    await press('Do it')
    expect((await screen.findByRole('alert')).textContent).toBe('Not on a Friday.')
    expect([recordBy.mock.calls, api.revision]).toEqual([[[[resize]]], 1])
  })

  it('cannot be taken in the past, which says so', async () => {
    const api = stubServer()
    api.change([resize])
    function Proposing() {
      return <ProposalFooter proposal={useProposal({ commands: [resize] })} label="Do it" />
    }
    const page = renderInEstate(<Proposing />, { at: 'board?basis=change-1' })
    await waitFor(() => expect(page.view().basis.on).toBe('asOf'))
    expect([button('Do it').disabled, button('Add to plan').disabled]).toEqual([true, true])
    expect(screen.getByText(/as of change 1/)).toBeDefined()
  })
})

describe('the effect', () => {
  it('is what would change and which findings that raises and settles', async () => {
    stubServer()
    renderInEstate(<Effect commands={[{ type: 'guest.update', id: idOf('news'), changes: { backupStoreId: null } }]} />)
    expect((await screen.findByText(/no backup/i)).textContent).toContain('newsroom')
    expect(screen.getByText('guest newsroom')).toBeDefined()
  })

  it('is the reason where it cannot be done, and nothing where nothing is asked', async () => {
    stubServer()
    const page = renderInEstate(<Effect commands={[unknown]} />)
    expect((await screen.findByRole('alert')).textContent).toContain('There is no guest')
    page.unmount()
    renderInEstate(<Effect commands={undefined} />)
    expect(await screen.findByText(/when all fields are valid/)).toBeDefined()
  })
})
