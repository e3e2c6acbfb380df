import { EVENT_ESTATES_MAX, type RevisionEvent } from '@insel/contract'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { AWAY } from '../lib/api'
import { EventSourceStandIn } from '../testing/api-stand-in'
import { follow } from './follow'
import { RevisionStream } from './revision-stream'

let sources: EventSourceStandIn[]
beforeEach(() => {
  sources = EventSourceStandIn.all = []
  vi.stubGlobal('EventSource', EventSourceStandIn)
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})
const open = () => sources.filter(({ readyState }) => readyState === 1)
const event = (estateId: string, revision: number): RevisionEvent => ({ estateId, revision, epoch: 'e' })

describe('one connection for all that is wanted', () => {
  it('is opened for the first, kept for the same, made again for others, closed for none', () => {
    const stream = new RevisionStream(() => undefined)
    stream.want(new Set(['b', 'a']))
    expect(open().map(({ url }) => url)).toEqual(['/api/v1/events?estates=a,b'])
    stream.want(new Set(['a', 'b']))
    expect(sources).toHaveLength(1)
    stream.want(new Set(['a']))
    expect(open().map(({ url }) => url)).toEqual(['/api/v1/events?estates=a'])
    stream.want(new Set())
    expect(open()).toEqual([])
  })

  it('passes on what it hears and remembers the last of what is still wanted', () => {
    const told: RevisionEvent[] = []
    const stream = new RevisionStream((one) => told.push(one))
    stream.want(new Set(['a', 'b']))
    sources[0]?.emit('revision', event('a', 4))
    sources[0]?.emit('revision', event('b', 9))
    sources[0]?.emit('heartbeat', {})
    expect(told).toEqual([event('a', 4), event('b', 9)])
    expect(stream.last('b')).toEqual(event('b', 9))
    stream.want(new Set(['a']))
    expect([stream.last('a')?.revision, stream.last('b')]).toEqual([4, undefined])
  })

  it('a connection that was ended is opened again after a while; one that only broke is the browser’s to make again', () => {
    vi.useFakeTimers()
    const stream = new RevisionStream(() => undefined)
    stream.want(new Set(['a']))
    const [first] = sources
    if (!first) throw new Error('nothing was opened')
    const away = vi.fn()
    addEventListener(AWAY, away)
    first.readyState = EventSourceStandIn.CONNECTING
    first.dispatchEvent(new Event('error'))
    removeEventListener(AWAY, away)
    // Either way it is looked at once whether the server is there.
    expect(away).toHaveBeenCalledOnce()
    vi.advanceTimersByTime(60_000)
    expect(sources).toHaveLength(1)
    first.end()
    vi.advanceTimersByTime(2_900)
    expect(sources).toHaveLength(1)
    vi.advanceTimersByTime(200)
    expect(open().map(({ url }) => url)).toEqual(['/api/v1/events?estates=a'])
    // Nobody wants it any more: nothing is opened by a timer that is left.
    sources.at(-1)?.end()
    stream.want(new Set())
    vi.advanceTimersByTime(60_000)
    expect(open()).toEqual([])
  })

  it('asks for no more estates than the server tells of', () => {
    const stream = new RevisionStream(() => undefined)
    stream.want(new Set(Array.from({ length: EVENT_ESTATES_MAX + 7 }, (_, index) => `e${index}`)))
    const asked = new URL(sources[0]?.url ?? '', 'http://insel.test').searchParams.get('estates')?.split(',') ?? []
    expect(asked).toHaveLength(EVENT_ESTATES_MAX)
    // The newest are kept.
    expect(asked).toContain(`e${EVENT_ESTATES_MAX + 6}`)
    expect(asked).not.toContain('e0')
  })
})

describe('the worker that all pages share', () => {
  /** A page, as the worker sees it. */
  class Page {
    readonly heard: RevisionEvent[] = []
    readonly port = {
      postMessage: (one: RevisionEvent) => this.heard.push(one),
      onmessage: undefined as ((event: unknown) => void) | undefined,
    }
    constructor() {
      const connect = new Event('connect')
      Object.assign(connect, { ports: [this.port] })
      dispatchEvent(connect)
    }
    show(estateId: string | undefined): void {
      this.port.onmessage?.({ data: { estateId } })
    }
  }

  it('holds one stream, tells each page of its estate, and a late one what is known', async () => {
    await import('./revisions.worker')
    const [one, two, three] = [new Page(), new Page(), new Page()]
    one.show('a')
    two.show('b')
    expect(open().map(({ url }) => url)).toEqual(['/api/v1/events?estates=a,b'])
    open()[0]?.emit('revision', event('a', 4))
    open()[0]?.emit('revision', event('b', 7))
    expect([one.heard, two.heard]).toEqual([[event('a', 4)], [event('b', 7)]])
    three.show('a')
    expect([open().length, three.heard]).toEqual([1, [event('a', 4)]])
    // A page that goes to another estate hears of that alone; one that is closed of nothing.
    one.show('b')
    three.show(undefined)
    expect(open().map(({ url }) => url)).toEqual(['/api/v1/events?estates=b'])
    open()[0]?.emit('revision', event('b', 8))
    expect([one.heard.at(-1), two.heard.at(-1), three.heard]).toEqual([event('b', 8), event('b', 8), [event('a', 4)]])
    one.show(undefined)
    two.show(undefined)
    expect(open()).toEqual([])
  })
})

describe('a page that follows', () => {
  it('has a stream of its own where the browser shares no workers', () => {
    const told: number[] = []
    const stop = follow('a', ({ revision }) => told.push(revision))
    sources[0]?.emit('revision', event('a', 2))
    stop()
    expect([told, open()]).toEqual([[2], []])
  })

  it('tells the shared worker what it shows, when it is hidden for good and when it comes back', () => {
    const said: unknown[] = []
    const port = {
      postMessage: (one: unknown) => said.push(one),
      close: vi.fn(),
      onmessage: undefined as ((event: unknown) => void) | undefined,
    }
    vi.stubGlobal(
      'SharedWorker',
      class {
        readonly port = port
      },
    )
    const told: number[] = []
    const stop = follow('a', ({ revision }) => told.push(revision))
    port.onmessage?.({ data: event('a', 3) })
    dispatchEvent(new Event('pagehide'))
    dispatchEvent(new Event('pageshow'))
    stop()
    dispatchEvent(new Event('pageshow'))
    expect(said).toEqual([{ estateId: 'a' }, { estateId: undefined }, { estateId: 'a' }, { estateId: undefined }])
    expect([told, sources, port.close.mock.calls.length]).toEqual([[3], [], 1])
  })
})
