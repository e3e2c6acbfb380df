import { XMLParser } from 'fast-xml-parser'
import { SyntaxValidator } from 'fast-xml-validator'
import { lineAt } from '../safe-text.js'

/** The largest XML document that is read, characters. */
export const XML_MAX = 10_000_000
/** Elements within elements, at most: no document of ours needs more, and it is a way to exhaust a reader. */
const DEPTH_MAX = 64

/** An element of a document: its name and attributes without their prefixes, in the document's order. */
export interface XmlElement {
  readonly name: string
  readonly attributes: Readonly<Record<string, string>>
  readonly children: readonly XmlElement[]
  /** Its own text, trimmed. */
  readonly text: string
}

export type XmlReading = { readonly root: XmlElement } | { readonly line: number; readonly sentence: string }

const parser = new XMLParser({
  preserveOrder: true,
  ignoreAttributes: false,
  attributeNamePrefix: '',
  removeNSPrefix: true,
  parseTagValue: false,
  parseAttributeValue: false,
  trimValues: true,
  ignoreDeclaration: true,
  ignorePiTags: true,
  // Only the predefined entities and character numbers are left: a document that declares its own is refused before.
  // oxlint-disable-next-line typescript/no-deprecated -- what replaces it is a decoder of one’s own, and the predefined ones are all that is wanted
  htmlEntities: true,
  maxNestedTags: DEPTH_MAX,
})

/**
 * Reads an XML document without following anything in it: a document type, and with it every entity it defines, is refused.
 *
 * @param text the document
 * @returns its root, or the line and a sentence on why it is not read
 * @see W3C XML 1.0, sections 2.8 and 4; the attack by nested entities it allows is why they are refused
 */
export function readXml(text: string): XmlReading {
  if (text.length > XML_MAX)
    return { line: 1, sentence: `This is ${(text.length / 1e6).toFixed(1)} MB of XML; at most ${XML_MAX / 1e6} MB are read.` }
  const declared = /<!(DOCTYPE|ENTITY)/i.exec(text)
  if (declared)
    return {
      line: lineAt(text, declared.index),
      sentence: 'The document declares a type or entities of its own. Such documents are not read: remove the declaration.',
    }
  try {
    SyntaxValidator.validate(text, { allowBooleanAttributes: false })
  } catch (error) {
    if (!(error instanceof Error)) throw error
    const line = 'line' in error && typeof error.line === 'number' ? error.line : 1
    return { line, sentence: `This is not well-formed XML: ${error.message.replace(/\.$/, '')}.` }
  }
  try {
    const nodes = parser.parse(text) as readonly Node[]
    const root = elementsOf(nodes)[0]
    return root ? { root } : { line: 1, sentence: 'This XML document is empty.' }
  } catch (error) {
    // The parser's own limits: how deep elements nest, how many entities are replaced.
    if (!(error instanceof Error)) throw error
    return { line: 1, sentence: `This XML document is not read: ${error.message}.` }
  }
}

type Node = Readonly<Record<string, unknown>>

function elementsOf(nodes: readonly Node[]): XmlElement[] {
  return nodes.flatMap((node): XmlElement[] => {
    const name = Object.keys(node).find((key) => key !== ':@')
    if (name === undefined || name === '#text') return []
    const inner = node[name] as readonly Node[]
    return [
      {
        name,
        attributes: (node[':@'] as Readonly<Record<string, string>> | undefined) ?? {},
        children: elementsOf(inner),
        text: inner
          .map((child) => ('#text' in child ? String(child['#text']) : ''))
          .join('')
          .trim(),
      },
    ]
  })
}

/** The first child of a name. */
export const childOf = (element: XmlElement | undefined, name: string): XmlElement | undefined =>
  element?.children.find((child) => child.name === name)
/** Every child of a name. */
export const childrenOf = (element: XmlElement | undefined, name: string): readonly XmlElement[] =>
  element?.children.filter((child) => child.name === name) ?? []
/** The text of the first child of a name; undefined where it is not there or empty. */
export const childText = (element: XmlElement | undefined, name: string): string | undefined => childOf(element, name)?.text || undefined
