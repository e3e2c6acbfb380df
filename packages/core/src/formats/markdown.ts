/** A text on one line of Markdown, its signs without a meaning. @see CommonMark 0.31, section 2.4 */
export const markdownCell = (text: string) =>
  text
    .replace(/[\\|`*_<>[\]]/g, (character) => `\\${character}`)
    .split('\n')
    .map((line) => line.trim())
    .join(' ')

/** A table as GitHub Flavored Markdown has it. */
export const markdownTable = (headings: readonly string[], rows: readonly (readonly string[])[]): string =>
  [headings, headings.map(() => '---'), ...rows]
    .map((row, index) => `| ${row.map((text) => (index === 1 ? text : markdownCell(text))).join(' | ')} |`)
    .join('\n')
