import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { root } from '../../workbench/places.js'
import { everythingRemarked, everythingSaid, everythingWritten, type Said } from './said.js'
import { wordings } from './wordings.js'

const said = everythingSaid()
const all = [...said, ...everythingWritten()]
const remarks = everythingRemarked()

/** Nouns that are counted; see `counted`. */
const NOUNS = 'hosts|guests|disks|adapters|networks|stores|changes|addresses|observations|drives|findings|copies|snapshots|rows|segments'
/** A number that is never one: a limit, or of the generated estate. */
const NEVER_ONE = /^(At most|\{\} has more than|“\{\}”: from 1 to|\{\} cores, Node)/

describe('what a person reads', () => {
  it('is all of it', () => {
    expect(said.length).toBeGreaterThan(3500)
    expect(all.length).toBeGreaterThan(said.length + 200)
    for (const text of ['Compatibility', 'Nothing would change.', 'Stop the pretence'])
      expect([text, said.some((one) => one.text === text)]).toEqual([text, text !== 'Stop the pretence'])
  })

  it.each(wordings.map(({ no, better }) => [better, no] as const))('says %s', (_, no) => {
    expect(all.filter(({ text }) => no.test(text)).map(({ at, text }) => `${at}: ${text.slice(0, 160)}`)).toEqual([])
  })

  it.each(wordings.filter(({ isEverywhere }) => isEverywhere).map(({ no, better }) => [better, no] as const))(
    'and what colleagues read says %s, too',
    (_, no) => {
      expect(remarks.length).toBeGreaterThan(3000)
      expect(remarks.filter(({ text }) => no.test(text)).map(({ at, text }) => `${at}: ${text.slice(0, 160)}`)).toEqual([])
    },
  )

  it('agrees in number: what may be one is counted with its noun', () => {
    const loose = ({ text }: Said) => new RegExp(String.raw`\{\} (${NOUNS})\b`).test(text) && !NEVER_ONE.test(text)
    expect(said.filter(loose).map(({ at, text }) => `${at}: ${text}`)).toEqual([])
  })

  it('is spelled right (British English, and the words of the trade)', () => {
    const folder = mkdtempSync(join(tmpdir(), 'insel-words-'))
    try {
      const file = join(folder, 'all.txt')
      writeFileSync(
        file,
        all.map(({ at, text }) => `${text.replaceAll(/`[^`]*`|\{[^}]*\}/g, ' ')}\t${at.replaceAll(/[^/:\n]*\//g, '')}`).join('\n'),
      )
      const { stdout, status } = spawnSync(
        join(root, 'node_modules/.bin/cspell'),
        [
          'lint',
          '--no-progress',
          '--no-summary',
          '--words-only',
          '--unique',
          '--config',
          'scripts/words/cspell.json',
          '--root',
          folder,
          file,
        ],
        { cwd: root, encoding: 'utf8' },
      )
      expect([stdout.split('\n').filter(Boolean), status]).toEqual([[], 0])
    } finally {
      rmSync(folder, { recursive: true, force: true })
    }
  })
})
