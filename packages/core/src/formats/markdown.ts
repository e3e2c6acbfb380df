/** What begins a block at the start of a line: a heading, a list, a quote, a rule, a fence. @see CommonMark 0.31, section 4 and 5 */
const BLOCK = /^(?:[-+=#~>]|\d+(?=[.)]))/

const escaped = (text: string) => text.replace(/[\\|`*_<>[\]&]/g, (character) => `\\${character}`)

/** A text on one line of Markdown, its signs without a meaning. @see CommonMark 0.31, section 2.4 */
export const markdownCell = (text: string): string =>
  escaped(text)
    .split(/[\r\n]+/)
    .map((line) => line.trim())
    .join(' ')

/** A text on a line of its own, which begins nothing. */
export const markdownLine = (text: string): string => {
  const line = markdownCell(text)
  return BLOCK.test(line) ? line.replace(BLOCK, (begin) => (/^\d/.test(begin) ? `${begin}\\` : `\\${begin}`)) : line
}

/** A note as a quotation: what somebody wrote, line by line, none of it markup. */
export const markdownQuote = (note: string): string =>
  note
    .split(/\r\n|\r|\n/)
    .map((line) => `> ${markdownLine(line)}`)
    .join('\n')

/** A text as code: its fence is longer than any within it. @see CommonMark 0.31, section 6.1 */
export function markdownCode(text: string): string {
  const line = text.replace(/[\r\n]+/g, ' ')
  const fence = '`'.repeat(Math.max(0, ...[...line.matchAll(/`+/g)].map(([run]) => run.length)) + 1)
  return fence.length === 1 ? `\`${line}\`` : `${fence} ${line} ${fence}`
}

/** A table as GitHub Flavored Markdown has it. */
export const markdownTable = (headings: readonly string[], rows: readonly (readonly string[])[]): string =>
  [headings, headings.map(() => '---'), ...rows]
    .map((row, index) => `| ${row.map((text) => (index === 1 ? text : markdownCell(text))).join(' | ')} |`)
    .join('\n')
