import { HtmlRenderer, Parser } from 'commonmark'
import fc from 'fast-check'
import Papa from 'papaparse'
import { describe, expect, it } from 'vitest'
import { apply, type Command } from '../commands/index.js'
import { guestMarkdown, guestsCsv, planMarkdown } from '../exchange/index.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { cellsOf, fileName, markdownCell, markdownCode, markdownQuote, writeCsv } from './index.js'

/** What the reference implementation of CommonMark makes of a text. @see CommonMark 0.31.2 and its `commonmark` package */
const rendered = (markdown: string): string => new HtmlRenderer().render(new Parser().parse(markdown))
/** The text that a reader sees. */
const seenIn = (html: string): string =>
  html
    .replace(/<[^>]*>/g, '')
    .replaceAll('&lt;', '<')
    .replaceAll('&gt;', '>')
    .replaceAll('&quot;', '"')
    .replaceAll('&amp;', '&')

const hostile = [
  '<script>alert(1)</script>',
  '<img src=x onerror=alert(1)>',
  '[click](javascript:alert(1))',
  '![x](https://elsewhere.example/pixel)',
  '<https://elsewhere.example>',
  '&lt;b&gt; &#60;i&#62;',
  '# no heading',
  '- no list',
  '1. no list',
  '2) no list',
  '~~~',
  '```',
  '===',
  '---',
  '> no quotation',
  '| no | table |',
  '*no* _emphasis_ `no code`',
  '\\*',
]

describe('what people wrote, in Markdown', () => {
  it('is text: no markup of theirs takes effect, and every sign is seen', () => {
    for (const text of hostile)
      for (const make of [markdownQuote, (one: string) => `# ${markdownCell(one)}`]) {
        const html = rendered(make(text))
        expect([text, html.replace(/<\/?(?:blockquote|p|h1)>/g, '').includes('<')]).toEqual([text, false])
        expect(seenIn(html).trim()).toBe(text.trim())
      }
  })

  it('whatever it is, of several lines too', () =>
    fc.assert(
      fc.property(fc.array(fc.oneof(fc.constantFrom(...hostile), fc.string({ maxLength: 30 })), { maxLength: 6 }), (lines) => {
        const html = rendered(markdownQuote(lines.join('\n')))
        expect(html.replace(/<\/?(?:blockquote|p)>/g, '')).not.toMatch(/<\/?[a-z]/i)
      }),
    ))

  it('as code has a fence longer than any in it', () => {
    expect([markdownCode('4cpu 8G'), markdownCode('a `b` ``c``')]).toEqual(['`4cpu 8G`', '``` a `b` ``c`` ```'])
    expect(rendered(markdownCode('`</code><script>`'))).toBe('<p><code>`&lt;/code&gt;&lt;script&gt;`</code></p>\n')
  })

  it('on the page of a guest and of a plan, notes are no markup', () => {
    const note = hostile.join('\n')
    const plan = '018a0000-0000-7000-8000-000000000001'
    const commands: Command[] = [
      { type: 'guest.update', id: idOf('playout'), changes: { note, group: '<b>x</b>' } },
      { type: 'plan.add', record: { id: plan, name: '<i>Saturday</i>', note } },
      { type: 'item.write', planId: plan, kind: 'task', title: '<u>t</u>', note },
    ]
    const estate = commands.reduce((before, command) => apply(before, command, testContext()).estate, smallEstate())
    const playout = estate.all('guest').find(({ id }) => id === idOf('playout'))
    const saturday = estate.find('plan', plan)
    if (!playout || !saturday) throw new Error('they are there')
    for (const page of [guestMarkdown(estate, playout), planMarkdown(estate, saturday)]) {
      const html = rendered(page)
      expect(html).not.toMatch(/<(?:script|img|i|b|u|a)[\s>]/)
      expect(seenIn(html)).toContain('<script>alert(1)</script>')
    }
    const quotes = (page: string) => page.split('\n').filter((line) => line.startsWith('>')).length
    expect(quotes(planMarkdown(estate, saturday))).toBeGreaterThan(0)
    expect(quotes(planMarkdown(estate, { ...saturday, note: '' }))).toBe(0)
  })
})

describe('CSV', () => {
  // OWASP, CSV Injection: = + - @, tab, carriage return, line feed, and their full-width forms.
  const formulas = ['=1+1', '+1', '-1', '@x', '\t=1', '\r=1', '\n=1', '＝1', '＋1', '－1', '＠x', "=cmd|'/C calc'!A0\nsecond line"]
  it('holds no text that a spreadsheet takes for a formula, whatever lines it has', () => {
    const { data } = Papa.parse<string[]>(
      writeCsv(
        ['a'],
        formulas.map((text) => [text]),
      ),
      { skipEmptyLines: true },
    )
    expect(data.slice(1).map(([cell]) => cell)).toEqual(formulas.map((text) => `'${text}`))
  })

  it('our own reader gives back what was written', () => {
    const mapping = { columns: ['note'], units: [null], style: null } as never
    for (const text of ['=1+1', '-5', '=a\nb', '＝1', "'quoted'", 'plain'])
      expect(cellsOf([Papa.parse<string[]>(writeCsv(['note'], [[text]])).data[1]?.[0] ?? ''], mapping).text('note')).toBe(text)
  })

  it('of guests, networks and the rest is written by the one function', () => {
    const estate = apply(
      smallEstate(),
      { type: 'guest.update', id: idOf('playout'), changes: { note: '=1+1\nsecond' } },
      testContext(),
    ).estate
    expect(guestsCsv(estate)).toContain(`"'=1+1\nsecond"`)
  })
})

describe('a name for a file', () => {
  it.each([
    ['Saturday: puffin / memory', 'Saturday-puffin-memory.md'],
    ['../../etc/passwd', 'etc-passwd.md'],
    ['-rf *', 'rf.md'],
    ['.hidden', 'hidden.md'],
    ['$(reboot) `id` "x" \'y\'', 'reboot-id-x-y.md'],
    ['a\u202Egnp.exe', 'a-gnp.exe.md'],
    ['a\nb\0c', 'a-b-c.md'],
    ['CON', 'insel-CON.md'],
    ['nul.txt', 'insel-nul.txt.md'],
    ['   ', 'insel.md'],
    ['Büro 中文', 'Büro-中文.md'],
    ['x'.repeat(300), `${'x'.repeat(80)}.md`],
  ])('%j is %j', (called, name) => expect(fileName(called, 'md')).toBe(name))

  it('holds letters, digits, dots, hyphens and underscores, whatever it is made of', () =>
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (called) => {
        expect(fileName(called, 'md')).toMatch(/^[\p{L}\p{N}][\p{L}\p{N}._-]*\.md$/u)
      }),
    ))
})
