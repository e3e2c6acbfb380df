import { chmodSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { LogFile } from './log-file.js'

let folder: string
beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'insel-log-'))))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

describe('a log', () => {
  it('is begun anew when it is full, keeps as many as it should, and is for its user alone', async () => {
    const file = join(folder, 'server.log')
    writeFileSync(file, 'of an earlier version\n')
    chmodSync(file, 0o644)
    const log = new LogFile(file, { size: '100K', kept: 3 })
    // Twelve times as much as one holds, in pieces, so that it turns over as it would in use.
    for (let piece = 0; piece < 120; piece++) {
      for (let line = 0; line < 100; line++) log.write(`${String(piece * 100 + line).padStart(99, '0')}\n`)
      await new Promise((resolve) => setImmediate(resolve))
    }
    await log.end()
    const files = readdirSync(folder).sort()
    expect(files).toEqual(['server.log', 'server.log.1', 'server.log.2', 'server.log.3'])
    for (const name of files) expect([name, statSync(join(folder, name)).mode & 0o777]).toEqual([name, 0o600])
    expect(files.reduce((sum, name) => sum + statSync(join(folder, name)).size, 0)).toBeLessThan(1_000_000)
    const newest = ['server.log.1', 'server.log'].map((name) => readFileSync(join(folder, name), 'utf8')).join('')
    expect(newest.trimEnd().split('\n').at(-1)).toBe('11999'.padStart(99, '0'))
  })

  it('that cannot be written stops nobody', async () => {
    const taken = join(folder, 'taken')
    mkdirSync(taken)
    const said: string[] = []
    const { write } = process.stderr
    process.stderr.write = (text: string) => said.push(text) > 0
    try {
      const log = new LogFile(taken)
      log.write('lost\n')
      await expect.poll(() => said.join('')).toContain('cannot be written')
      expect(() => log.write('lost, too\n')).not.toThrow()
      await log.end()
    } finally {
      process.stderr.write = write
    }
  })
})
