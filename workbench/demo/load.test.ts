import { afterEach, expect, it, vi } from 'vitest'
import { loadReadings } from './load.js'

afterEach(() => vi.unstubAllGlobals())

it('the demo’s readings leave its move begun when its story says, and are up to now', async () => {
  const move = { id: 'm', state: 'copying', ownerId: 'p', totalBytes: 60e9, startedAt: '2026-11-28T08:10:00.000Z' }
  const sent: unknown[] = []
  vi.stubGlobal('fetch', (_: string, init?: RequestInit) => {
    if (typeof init?.body === 'string') sent.push(JSON.parse(init.body))
    return Promise.resolve(new Response(JSON.stringify({ items: [move] })))
  })
  await loadReadings('http://127.0.0.1:1', 'e')
  const [changed, read] = sent as [{ commands: { changes: object }[] }, { samples: { at: string; bytes: number }[] }]
  expect(changed.commands.map(({ changes }) => Object.keys(changes))).toEqual([['copyingAt']])
  expect(read.samples).toHaveLength(81)
  expect(Math.abs(Date.parse(read.samples.at(-1)?.at ?? '') - Date.now())).toBeLessThan(60_000)
  for (const [at, { bytes }] of read.samples.entries()) expect(bytes).toBeGreaterThanOrEqual(read.samples[at - 1]?.bytes ?? 0)
})
