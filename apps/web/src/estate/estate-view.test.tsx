import type { Command } from '@insel/core'
import { act, cleanup, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { applyAll, dayOf, itemsOf } from '@insel/core'
import { idOf, smallEstate, testContext } from '@insel/core/testing'
import { ESTATE_ID, problem, renderInEstate, stubServer } from '../testing/api-stand-in'
import { instantOf, RECORDED } from '../basis/basis'
import type { useEstate } from './estate-view'
import { say } from '../lib/messages'
import { MessageLine } from '../app/message-line'

beforeEach(() => {
  localStorage.clear()
  say(undefined)
})
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

const power = (state: 'running' | 'stopped'): Command => ({ type: 'guest.power', guestId: idOf('playout'), state })
const rename = (name: string): Command => ({ type: 'guest.update', id: idOf('news'), changes: { name } })

async function open(options?: Parameters<typeof renderInEstate>[1]) {
  const api = stubServer()
  const page = renderInEstate(<MessageLine />, options)
  await waitFor(() => expect(page.view().revision).toBe(1))
  const sent = () => api.asked.filter(({ method }) => method === 'POST')
  return { api, sent, ...page }
}

describe('what is submitted', () => {
  it('is recorded upon the revision that was shown, said, and can be undone from the line', async () => {
    const { api, sent, view } = await open()
    await act(async () => expect(await view().submit([power('stopped')])).toBeUndefined())
    expect(sent()[0]?.body).toMatchObject({ commands: [power('stopped')], expectedRevision: 1, expectedEpoch: 'epoch-one' })
    expect(view().recorded.find('guest', idOf('playout'))?.state).toBe('stopped')
    expect(screen.getByRole('status').textContent).toContain('Power off playout-1: recorded as change 2.')
    act(() => screen.getByRole('button', { name: 'Undo' }).click())
    await waitFor(() => expect(screen.getByRole('status').textContent).toBe('Change 2 is undone.'))
    expect(view().recorded.find('guest', idOf('playout'))?.state).toBe('running')
    expect(api.revision).toBe(3)
  })

  it('what changes nothing is not called recorded, and has no undo', async () => {
    const { api, view } = await open()
    const news = view().recorded.find('guest', idOf('news'))?.name ?? ''
    await act(async () => expect(await view().submit([rename(news)])).toBeUndefined())
    expect(screen.getByRole('status').textContent).toBe('This is already recorded; nothing changed.')
    expect([api.revision, screen.queryByRole('button', { name: 'Undo' })]).toEqual([1, null])
  })

  it('is shown by the answer itself; only what others did in between is asked for', async () => {
    const { api, view } = await open()
    const reads = () => api.asked.filter(({ path }) => path.includes('/records?since'))
    await act(async () => expect(await view().submit([rename('news-2')])).toBeUndefined())
    expect([view().revision, view().recorded.find('guest', idOf('news'))?.name, reads().length]).toEqual([2, 'news-2', 0])
    api.change([{ type: 'guest.update', id: idOf('playout'), changes: { purpose: 'on air' } }])
    await act(async () => expect(await view().submit([rename('news-3')])).toBeUndefined())
    expect([view().revision, view().recorded.find('guest', idOf('playout'))?.purpose, reads().length]).toEqual([4, 'on air', 1])
  })

  it('what is recorded is not called refused when reading on fails; it comes with the next that is heard', async () => {
    const { api, view } = await open()
    api.change([{ type: 'guest.update', id: idOf('playout'), changes: { purpose: 'on air' } }])
    api.instead.set(`/api/v1/estates/${ESTATE_ID}/records`, () => Promise.reject(new TypeError('Failed to fetch')))
    await act(async () => expect(await view().submit([rename('news-2')])).toBeUndefined())
    expect(screen.getByRole('status').textContent).toContain('recorded as change 3.')
    expect(view().revision).toBe(1)
    act(() => api.tell())
    await waitFor(() => expect(view().recorded.find('guest', idOf('news'))?.name).toBe('news-2'))
  })

  it('one after the other: the second builds upon the first, however quick one is', async () => {
    const { sent, view } = await open()
    await act(async () => {
      const both = [view().submit([power('stopped')]), view().submit([power('running')])]
      expect(await Promise.all(both)).toEqual([undefined, undefined])
    })
    expect(sent().map(({ body }) => body['expectedRevision'])).toEqual([1, 2])
    expect(view().recorded.find('guest', idOf('playout'))?.state).toBe('running')
  })

  it('is refused here where the server would refuse it, without asking', async () => {
    const { sent, view } = await open()
    await act(async () => expect((await view().submit([rename('playout-1')]))?.sentence).toContain('is already used by'))
    expect(sent()).toEqual([])
    expect(screen.getByRole('status').textContent).toBe('Nothing changed from this page yet.')
  })

  it('says what the server refused, with the fields it concerns, and what follows is not held up', async () => {
    const { api, view } = await open()
    api.instead.set(`/api/v1/estates/${ESTATE_ID}/commands`, () =>
      problem(409, 'changed-since', 'Tove Lind changed newsroom meanwhile.', [
        { path: 'commands.0.id', code: 'changed', message: 'changed' },
      ]),
    )
    await act(async () =>
      expect(await view().submit([rename('news-2')])).toEqual({
        sentence: 'Tove Lind changed newsroom meanwhile.',
        problems: [{ path: 'commands.0.id', code: 'changed', message: 'changed' }],
      }),
    )
    await act(async () => expect(await view().submit([rename('news-3')])).toBeUndefined())
    expect(view().recorded.find('guest', idOf('news'))?.name).toBe('news-3')
  })

  it('a server that does not answer is said, and nothing is shown as recorded', async () => {
    const { api, view } = await open()
    api.instead.set(`/api/v1/estates/${ESTATE_ID}/commands`, () => Promise.reject(new TypeError('Failed to fetch')))
    await act(async () =>
      expect((await view().submit([rename('news-2')]))?.sentence).toContain('The server does not answer. What you entered is still here'),
    )
    expect(view().recorded.find('guest', idOf('news'))?.name).toBe('newsroom')
  })

  it('whose answer is lost is recorded once, however often it is submitted', async () => {
    const { api, view } = await open()
    const add: Command = { type: 'network.add', record: { name: 'phones' } }
    api.isAnswerLost = true
    await act(async () => expect((await view().submit([add]))?.isUnreachable).toBe(true))
    expect(api.revision).toBe(2)
    api.isAnswerLost = false
    await act(async () => expect(await view().submit([add])).toBeUndefined())
    expect([
      api.revision,
      view()
        .recorded.all('network')
        .filter(({ name }) => name === 'phones').length,
    ]).toEqual([2, 1])
    expect(screen.getByRole('status').textContent).toContain('recorded as change 2.')
    // Answered, it is over: the same again is another wish, which the record refuses.
    await act(async () => expect((await view().submit([add]))?.sentence).toContain('is already used by'))
  })

  it('of unknown outcome is sent again by itself, with its id, and is recorded once', async () => {
    const { api, sent, view } = await open()
    const unknown = () => problem(503, 'outcome-unknown', 'The database was asked and did not answer.')
    api.instead.set(`/api/v1/estates/${ESTATE_ID}/commands`, unknown)
    await act(async () => expect(await view().submit([rename('news-2')])).toBeUndefined())
    expect([sent().length, api.revision, view().recorded.find('guest', idOf('news'))?.name]).toEqual([2, 2, 'news-2'])
  })

  it('of unknown outcome to the last says what to do, in words of the page', async () => {
    const { view } = await open()
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    vi.stubGlobal('fetch', () => Promise.resolve(problem(503, 'outcome-unknown', 'Send it again with the same Insel-Submission.')))
    const done = view().submit([rename('news-2')])
    await act(() => vi.advanceTimersByTimeAsync(10_000))
    const why = await act(() => done)
    expect([why?.isUnreachable, why?.sentence]).toEqual([true, expect.stringMatching(/Save it again: it is recorded once/)])
    vi.useRealTimers()
  })

  it('shown at once, it is there before the answer, and gone again when it is refused', async () => {
    const { api, view } = await open()
    let answer: (response: Response) => void = () => undefined
    api.instead.set(`/api/v1/estates/${ESTATE_ID}/commands`, () => new Promise((resolve) => (answer = resolve)))
    let done: Promise<unknown> = Promise.resolve()
    act(() => void (done = view().submit([rename('news-2')], undefined, true)))
    await waitFor(() => expect(view().estate.find('guest', idOf('news'))?.name).toBe('news-2'))
    await act(async () => {
      answer(problem(422, 'invalid', 'No.'))
      expect(await done).toMatchObject({ sentence: 'No.' })
    })
    expect(view().estate.find('guest', idOf('news'))?.name).toBe('newsroom')
  })

  it('needs to know who records; a new person may record themselves', async () => {
    const { sent, view } = await open({ person: null })
    await act(async () => expect((await view().submit([rename('news-2')]))?.sentence).toContain('Say who you are first'))
    expect((await view().revert(1))?.sentence).toContain('Say who you are first')
    expect(sent()).toEqual([])
    const id = '01890000-0000-7000-8000-00000000aa01'
    await act(async () => expect(await view().submit([{ type: 'person.add', record: { id, name: 'Una Holm' } }])).toBeUndefined())
    act(() => view().setPerson(id))
    expect(view().person?.name).toBe('Una Holm')
    // That is no change to be undone from the line.
    expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull()
  })

  it('what cannot be undone any more says why, in the line', async () => {
    const { api, view } = await open()
    await act(async () => expect(await view().submit([rename('news-2')])).toBeUndefined())
    api.change([rename('news-3')])
    act(() => screen.getByRole('button', { name: 'Undo' }).click())
    await waitFor(() => expect(screen.getByRole('status').textContent).toContain('cannot be reverted'))
  })
})

describe('what others do', () => {
  it('is told by the stream and fetched as the difference', async () => {
    const { api, view } = await open()
    expect(api.streams.map(({ url }) => url)).toEqual([`/api/v1/events?estates=${ESTATE_ID}`])
    api.change([rename('news-2')])
    api.change([rename('news-3')])
    act(() => api.tell())
    await waitFor(() => expect(view().revision).toBe(3))
    expect(view().recorded.find('guest', idOf('news'))?.name).toBe('news-3')
    expect(api.asked.at(-1)?.path).toBe(`/api/v1/estates/${ESTATE_ID}/records?since=1&epoch=epoch-one`)
    // Told again of what is known, nothing is asked.
    const before = api.asked.length
    act(() => api.tell())
    await Promise.resolve()
    expect(api.asked.length).toBe(before)
  })

  it('a server that is away is asked again when it says where the estate stands', async () => {
    const { api, view } = await open()
    api.change([rename('news-2')])
    api.instead.set(`/api/v1/estates/${ESTATE_ID}/records`, () => Promise.reject(new TypeError('Failed to fetch')))
    act(() => api.tell())
    await waitFor(() => expect(api.instead.size).toBe(0))
    expect(view().revision).toBe(1)
    act(() => api.tell())
    await waitFor(() => expect(view().revision).toBe(2))
  })

  it('what was asked for again when the server was back does not hide what was recorded meanwhile', async () => {
    const { api, view, client, sent } = await open()
    const asItWas = { revision: api.revision, epoch: api.epoch, records: api.estate.toRecords() }
    let answer: (response: Response) => void = () => undefined
    api.instead.set(`/api/v1/estates/${ESTATE_ID}/records`, () => new Promise((resolve) => (answer = resolve)))
    const asked = client.invalidateQueries()
    await waitFor(() => expect(api.instead.size).toBe(0))
    const done = view().submit([rename('news-2')])
    await waitFor(() => expect(sent()).toHaveLength(1))
    await act(async () => {
      answer(Response.json(asItWas))
      await Promise.all([asked, done])
    })
    expect([view().revision, view().recorded.find('guest', idOf('news'))?.name]).toEqual([2, 'news-2'])
  })

  it('after a restore all is read again, although the revision is no newer', async () => {
    const { api, view } = await open()
    await act(async () => expect(await view().submit([rename('news-2')])).toBeUndefined())
    const restored = applyAll(smallEstate(), [rename('as-in-backup')], testContext(71)).estate
    api.restore(restored)
    api.revision = 1
    act(() => api.tell())
    await waitFor(() => expect(view().recorded.find('guest', idOf('news'))?.name).toBe('as-in-backup'))
    expect(view().revision).toBe(1)
  })

  it('a change upon the record of before a restore is not recorded, and the page shows the restored one', async () => {
    const { api, view } = await open()
    api.restore(applyAll(smallEstate(), [rename('as-in-backup')], testContext(72)).estate)
    await act(async () => expect((await view().submit([power('stopped')]))?.sentence).toContain('restored from a backup'))
    expect(view().recorded.find('guest', idOf('news'))?.name).toBe('as-in-backup')
    await act(async () => expect(await view().submit([power('stopped')])).toBeUndefined())
    expect(api.estate.find('guest', idOf('playout'))?.state).toBe('stopped')
  })

  it('stops hearing when the estate is left', async () => {
    const { api, unmount } = await open()
    unmount()
    expect(api.streams.every(({ readyState }) => readyState === 2)).toBe(true)
  })
})

describe('a plan', () => {
  const planned = (view: () => ReturnType<typeof useEstate>) =>
    view()
      .recorded.all('item')
      .map(({ title, kind }) => [title, kind])

  it('takes what is proposed as an item, and is shown; the record stays as it is', async () => {
    const { view } = await open()
    await act(async () => expect(await view().addToPlan([power('stopped')], 'Saturday')).toBeUndefined())
    await waitFor(() => expect(view().basis.on).toBe('item'))
    expect([view().estate, view().recorded].map((estate) => estate.find('guest', idOf('playout'))?.state)).toEqual(['stopped', 'running'])
    expect(view().ahead?.updated[idOf('playout')]).toBeDefined()
    expect(view().recorded.all('plan')).toMatchObject([{ name: 'Saturday', ownerId: idOf('ola') }])
    // The next goes into the same plan, by whatever page it is proposed.
    act(() => view().showBasis(RECORDED))
    expect([view().ahead, view().planInto?.name]).toEqual([undefined, 'Saturday'])
    await act(async () => expect(await view().addToPlan([rename('news-2')])).toBeUndefined())
    await waitFor(() => expect(planned(view)).toHaveLength(2))
  })

  it('that is shown takes what is changed there, after the item one looks at; what no item holds is recorded', async () => {
    const { view } = await open()
    await act(async () => expect(await view().addToPlan([power('stopped')], 'Saturday')).toBeUndefined())
    await act(async () => expect(await view().submit([rename('news-2')])).toBeUndefined())
    await waitFor(() => expect(planned(view)).toHaveLength(2))
    const [first] = itemsOf(view().recorded, view().recorded.all('plan')[0]?.id ?? '')
    act(() => view().showBasis({ on: 'item', planId: first?.planId ?? '', itemId: first?.id ?? '' }))
    await waitFor(() => expect(view().estate.find('guest', idOf('news'))?.name).toBe('newsroom'))
    await act(async () => expect(await view().submit([rename('news-3')])).toBeUndefined())
    await waitFor(() =>
      expect(itemsOf(view().recorded, first?.planId ?? '').map(({ commands }) => commands[0])[1]).toMatchObject({
        changes: { name: 'news-3' },
      }),
    )
    expect(view().estate.find('guest', idOf('news'))?.name).toBe('news-3')
    expect(view().recorded.find('guest', idOf('news'))?.name).toBe('newsroom')
    await act(async () => expect(await view().submit([{ type: 'person.add', record: { name: 'Tove Lind' } }])).toBeUndefined())
    await waitFor(() =>
      expect(
        view()
          .recorded.all('person')
          .map(({ name }) => name),
      ).toContain('Tove Lind'),
    )
    expect(planned(view)).toHaveLength(3)
    const both = [rename('news-4'), { type: 'plan.drop', planId: first?.planId }] as Command[]
    await act(async () => expect((await view().submit(both))?.sentence).toContain('is recorded at once and the rest would be planned'))
  })

  it('is kept when it does not fit any more, and what cannot be done is left out of what is shown', async () => {
    const { view, api } = await open()
    await act(async () => expect(await view().addToPlan([power('stopped')], 'Saturday')).toBeUndefined())
    api.change([{ type: 'guest.remove', id: idOf('playout'), withReferring: true }])
    act(() => api.tell())
    await waitFor(() => expect(view().estate.find('guest', idOf('playout'))).toBeUndefined())
    expect([view().basis.on, planned(view).length]).toEqual(['item', 1])
  })
})

it('an estate that is not there is said', async () => {
  const api = stubServer()
  api.instead.set(`/api/v1/estates/${ESTATE_ID}/records`, () => problem(404, 'not-found', 'There is no estate with that id.'))
  api.instead.set(`/api/v1/estates/${ESTATE_ID}/record`, () => problem(404, 'not-found', 'There is no estate with that id.'))
  renderInEstate(<p>shown</p>)
  expect(await screen.findByText('failed: There is no estate with that id.', undefined, { timeout: 5000 })).toBeDefined()
})

describe('the past', () => {
  it('is the record as of a change: nothing is recorded there, and what others do meanwhile does not change it', async () => {
    const { api, view } = await open({ at: 'board?basis=change-1' })
    api.change([rename('news-2')])
    act(() => api.tell())
    await waitFor(() => expect(view().basis.on).toBe('asOf'))
    const name = () => [view().estate.find('guest', idOf('news'))?.name, view().recorded.find('guest', idOf('news'))?.name]
    expect(name()).toEqual(['newsroom', 'news-2'])
    // Dates are looked at from there.
    expect(dayOf(view().estate, instantOf(view().basis))).toBe('2026-03-02')
    await act(async () => expect((await view().submit([power('stopped')]))?.sentence).toContain('as of change 1'))
    await act(async () => expect((await view().revert(2))?.sentence).toContain('as of change 1'))
    expect(api.revision).toBe(2)
    api.change([rename('news-3')])
    act(() => api.tell())
    await waitFor(() => expect(name()).toEqual(['newsroom', 'news-3']))
    act(() => view().showBasis(RECORDED))
    expect(name()).toEqual(['news-3', 'news-3'])
  })

  it('is not worked out from an answer that is of another revision than the one that is shown', async () => {
    const { api, view } = await open()
    api.change([rename('news-2')])
    act(() => api.tell())
    await waitFor(() => expect(view().revision).toBe(2))
    const path = `/api/v1/estates/${ESTATE_ID}/records`
    api.instead.set(path, () => {
      api.change([rename('news-3')])
      return api.fetch(`${path}?since=1&epoch=${api.epoch}`)
    })
    act(() => view().showBasis({ on: 'asOf', revision: 1 }))
    await waitFor(() => expect(api.instead.size).toBe(0))
    await act(() => new Promise((next) => setTimeout(next)))
    expect([view().revision, view().basis.on, view().basisNote]).toEqual([2, 'recorded', expect.stringContaining('is loading')])
    act(() => api.tell())
    await waitFor(() => expect([view().revision, view().basis.on]).toEqual([3, 'asOf']))
    expect(view().estate.find('guest', idOf('news'))?.name).toBe('newsroom')
  })

  it('that is still to come is the record, and says so; so is one too long ago', async () => {
    const { api, view } = await open({ at: 'board?basis=change-9' })
    await waitFor(() => expect(view().basisNote).toContain('There is no change 9'))
    expect(view().basis).toBe(RECORDED)
    api.change([rename('news-2')])
    const { epoch } = api
    api.instead.set(`/api/v1/estates/${ESTATE_ID}/records?since=1`, () =>
      Response.json({ revision: 2, epoch, records: api.estate.toRecords() }),
    )
    act(() => view().showBasis({ on: 'asOf', revision: 1 }))
    act(() => api.tell())
    await waitFor(() => expect(view().revision).toBe(2))
    await waitFor(() => expect(view().basisNote).toMatch(/too far back|as of change/))
  })
})
