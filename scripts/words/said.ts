import { readdirSync, readFileSync } from 'node:fs'
import { join, relative } from 'node:path'
import ts from 'typescript'
import { root } from '../../workbench/places.js'

/** Something a person can read: where it is written, and its text, with `{}` where a value stands. */
export interface Said {
  readonly at: string
  readonly text: string
}

/** What of a page is no wording: classes, paths, drawings. */
const NO_WORDING = /^(className|d|to|viewBox|id|name|type|role|href|htmlFor|path|fieldWidth|background|transform)$/
/** Texts that programs read: statements, styles, scripts, patterns. */
const FOR_PROGRAMS =
  /^(#!|hashtextextended|select |insert |update |delete |alter |create |drop |with |listen )|\b(flex|grid|border|text-\[|px-\d|gap-\d|min-h-|color-mix|solid var)/

const filesIn = (folder: string): readonly string[] =>
  readdirSync(join(root, folder), { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .map((entry) => relative(root, join(entry.parentPath, entry.name)))

const sources = (): readonly string[] =>
  ['packages/core/src', 'packages/contract/src', 'apps/server/src', 'apps/web/src', 'scripts', 'workbench']
    .flatMap(filesIn)
    .filter((file) => /\.tsx?$/.test(file) && !/\.test\.|\/testing\/|\/database\/steps\/|workbench\/demo\/|scripts\/words\//.test(file))
    .sort()

function saidIn(file: string): Said[] {
  const source = ts.createSourceFile(file, readFileSync(join(root, file), 'utf8'), ts.ScriptTarget.Latest, true)
  const said: Said[] = []
  const add = (node: ts.Node, written: string) => {
    const text = written.replace(/\s+/g, ' ').trim()
    const { line } = source.getLineAndCharacterOfPosition(node.getStart())
    if (/[A-Za-z]/.test(text) && !FOR_PROGRAMS.test(text)) said.push({ at: `${file}:${line + 1}`, text })
  }
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node)) return
    if (ts.isJsxAttribute(node) && NO_WORDING.test(node.name.getText())) return
    if (ts.isJsxText(node)) add(node, node.text)
    else if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) {
      // A single word in small letters is a key; with a space or a capital it is read.
      if (/ /.test(node.text.trim()) || /^[A-Z][a-z]+$/.test(node.text)) add(node, node.text)
    } else if (ts.isTemplateExpression(node))
      add(node, [node.head.text, ...node.templateSpans.map(({ literal }) => literal.text)].join('{}'))
    ts.forEachChild(node, visit)
  }
  visit(source)
  return said
}

const COMMENTS: readonly ts.SyntaxKind[] = [ts.SyntaxKind.SingleLineCommentTrivia, ts.SyntaxKind.MultiLineCommentTrivia]

/** What stands in the comments of a file, one by one. */
function remarkedIn(file: string): Said[] {
  const text = readFileSync(join(root, file), 'utf8')
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.Latest)
  const remarks = new Map<number, Said>()
  const note = (ranges: readonly ts.CommentRange[] = []) => {
    for (const { pos, end, kind } of ranges)
      if (COMMENTS.includes(kind))
        remarks.set(pos, {
          at: `${file}:${source.getLineAndCharacterOfPosition(pos).line + 1}`,
          text: text.slice(pos, end).replace(/\s+\*?\s*/g, ' '),
        })
  }
  const visit = (node: ts.Node): void => {
    note(ts.getLeadingCommentRanges(text, node.pos))
    note(ts.getTrailingCommentRanges(text, node.end))
    ts.forEachChild(node, visit)
  }
  visit(source)
  return [...remarks.values()]
}

/** Everything that colleagues read beside the code. */
export const everythingRemarked = (): readonly Said[] => sources().flatMap(remarkedIn)

/** Everything that the program can say to a person, from its sources. */
export const everythingSaid = (): readonly Said[] => sources().flatMap(saidIn)

/** What a person reads beside the program: the guide and its like, line by line. */
export const everythingWritten = (): readonly Said[] =>
  ['README.md', ...filesIn('docs').filter((file) => file.endsWith('.md'))].flatMap((file) =>
    readFileSync(join(root, file), 'utf8')
      .split('\n')
      .map((text, index) => ({ at: `${file}:${index + 1}`, text: text.trim() }))
      .filter(({ text }) => text !== ''),
  )
