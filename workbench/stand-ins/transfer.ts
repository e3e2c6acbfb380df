import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'

/** A transfer as the person wishes it: what is copied, how fast, and what goes wrong. */
export interface TransferWish {
  /** Bytes of the whole. */
  readonly bytes: number
  /** Bytes a second while it streams. */
  readonly rate: number
  /** Seconds in which nothing moves at first. */
  readonly setup: number
  /** How much the rate wanders, %. */
  readonly noise: number
  /** Share of the whole that is empty and passes ten times as fast, %. */
  readonly sparse: number
  /** Seconds between stalls, and how long one lasts; 0: none. */
  readonly stallEvery: number
  readonly stallFor: number
  /** At which share it fails and stays where it is, %; 0: it does not. */
  readonly failAt: number
  /** How many of its seconds pass in one. */
  readonly speed: number
}

const usual: TransferWish = { bytes: 64e9, rate: 60e6, setup: 45, noise: 15, sparse: 0, stallEvery: 0, stallFor: 60, failAt: 0, speed: 20 }

/** The same for the same second: noise without memory of its own. */
const wave = (second: number): number => Math.sin(second * 12.9898) * 0.6 + Math.sin(second * 0.37 + 1.3) * 0.4

/**
 * Bytes moved after each of some times, in its seconds.
 *
 * @param times in order
 * @example bytesAfter({ ...wish, setup: 10, rate: 100, noise: 0 }, [20]) // [1000]
 */
export function bytesAfter(wish: TransferWish, times: readonly number[]): readonly number[] {
  const end = wish.failAt > 0 ? (wish.bytes * wish.failAt) / 100 : wish.bytes
  let [moved, streamed, second] = [0, 0, wish.setup]
  return times.map((until) => {
    for (; second + 1 <= until && moved < end; second++) {
      const isStalled = wish.stallEvery > 0 && streamed % (wish.stallEvery + wish.stallFor) >= wish.stallEvery
      streamed++
      if (isStalled) continue
      // What is empty comes last, as on most disks.
      const isEmpty = moved >= wish.bytes * (1 - wish.sparse / 100)
      moved += Math.max(0, wish.rate * (isEmpty ? 10 : 1) * (1 + (wish.noise / 100) * wave(second)))
    }
    return Math.floor(Math.min(end, moved))
  })
}

interface Running {
  readonly wish: TransferWish
  readonly begun: number
}

/** A running stand-in. */
export interface TransferStandIn {
  readonly url: string
  stop(): Promise<void>
}

const labels: Readonly<Record<keyof TransferWish, string>> = {
  bytes: 'Bytes of the whole',
  rate: 'Bytes a second',
  setup: 'Seconds of set-up, in which nothing moves',
  noise: 'How much the rate wanders, %',
  sparse: 'Empty part at the end, %',
  stallEvery: 'Seconds between stalls, 0 for none',
  stallFor: 'Seconds a stall lasts',
  failAt: 'Fails at, %, 0 for not at all',
  speed: 'How many of its seconds pass in one',
}

/**
 * A small service that “copies”: a transfer is begun with set-up, noise, an empty part, stalls and a failure as the person chooses, and says how far it
 * is in lines of its own and at an address that Insel asks. It moves nothing.
 *
 * @param port where it listens, on loopback alone; any free one when left out
 */
export async function startTransferStandIn(port = 0): Promise<TransferStandIn> {
  const running: Running[] = []
  const secondsOf = ({ wish, begun }: Running) => ((Date.now() - begun) / 1000) * wish.speed
  const linesOf = (one: Running, times: readonly number[]) =>
    bytesAfter(one.wish, times).map((bytes, index) => {
      const seconds = times[index] ?? 1
      return `${bytes} bytes (${(bytes / 1e9).toFixed(1)} GB) copied, ${seconds} s, ${(bytes / seconds / 1e6).toFixed(1)} MB/s`
    })
  const server = createServer((request, response) => {
    const url = new URL(request.url ?? '/', 'http://127.0.0.1')
    const [, which, number, what] = url.pathname.split('/')
    const say = (status: number, type: string, body: string) => {
      response.writeHead(status, { 'content-type': `${type}; charset=utf-8`, 'cache-control': 'no-store' })
      response.end(body)
    }
    if (url.pathname === '/') return say(200, 'text/html', formOf())
    if (which !== 'transfers') return say(404, 'text/plain', 'There is nothing here; begin at /.\n')
    if (number === undefined || number === 'new') {
      const wish = wishIn(url.searchParams)
      if (typeof wish === 'string') return say(400, 'text/plain', `${wish}\n`)
      running.push({ wish, begun: Date.now() })
      const address = `http://${request.headers.host ?? ''}/transfers/${running.length}`
      return say(200, 'text/plain', `Begun. Its progress is at\n${address}\nand its lines are at\n${address}/lines\n`)
    }
    const one = running[Number(number) - 1]
    if (!one) return say(404, 'text/plain', 'There is not such a transfer; begin one at /.\n')
    const seconds = secondsOf(one)
    if (what === 'lines') {
      const every = Math.max(1, Math.floor(seconds / 500))
      const times = Array.from({ length: Math.floor(seconds / every) }, (_, index) => (index + 1) * every)
      return say(200, 'text/plain', `${linesOf(one, times).join('\n')}\n`)
    }
    const [bytes = 0] = bytesAfter(one.wish, [seconds])
    const isFailed = one.wish.failAt > 0 && bytes >= (one.wish.bytes * one.wish.failAt) / 100
    return say(
      200,
      'application/json',
      JSON.stringify({
        bytes,
        total: one.wish.bytes,
        seconds: Math.floor(seconds),
        state: isFailed ? 'failed' : bytes >= one.wish.bytes ? 'done' : 'copying',
      }),
    )
  })
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, '127.0.0.1', resolve)
  })
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    stop: () =>
      new Promise((resolve) => {
        server.close(() => resolve())
        server.closeAllConnections()
      }),
  }
}

/** What is asked for in an address, or what is wrong with it. */
function wishIn(search: URLSearchParams): TransferWish | string {
  const wish: Record<string, number> = { ...usual }
  for (const [name, text] of search) {
    if (!Object.hasOwn(usual, name)) return `Unknown setting “${name}”; there are ${Object.keys(usual).join(', ')}.`
    const value = Number(text)
    if (text.trim() === '' || !Number.isFinite(value) || value < 0)
      return `${labels[name as keyof TransferWish]} is a number of 0 or more, not “${text}”.`
    wish[name] = value
  }
  const made = wish as unknown as TransferWish
  if (made.bytes < 1 || made.bytes > 1e16) return 'The whole has from 1 byte to 10 PB.'
  if (made.rate < 1 || made.bytes / made.rate > 1_000_000) return 'That would take longer than anybody waits; choose a higher rate.'
  return made
}

const formOf = (): string => `<!doctype html>
<html lang="en"><meta charset="utf-8"><title>Stand-in for a transfer</title>
<style>body{font:16px/1.5 sans-serif;max-width:44rem;margin:2rem auto;padding:0 1rem}label{display:grid;grid-template-columns:1fr 12rem;gap:1rem;margin:.3rem 0}</style>
<h1>Stand-in for a transfer</h1>
<p>It copies nothing. It says its progress as a tool would, so that a move can be followed without a machine.</p>
<form action="/transfers/new">
${(Object.keys(usual) as (keyof TransferWish)[]).map((name) => `<label>${labels[name]} <input name="${name}" value="${usual[name]}" inputmode="decimal"></label>`).join('\n')}
<p><button>Begin</button></p></form></html>
`
