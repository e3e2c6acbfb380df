import XMLBuilder from 'fast-xml-builder'

/** An element to be written: its name with prefix, attributes, and its text or children. */
export interface XmlNode {
  readonly name: string
  readonly attributes?: Readonly<Record<string, string | undefined>>
  readonly text?: string
  readonly children?: readonly XmlNode[]
}

const builder = new XMLBuilder({
  preserveOrder: true,
  ignoreAttributes: false,
  attributeNamePrefix: '',
  format: true,
  indentBy: '  ',
  suppressEmptyNode: true,
  suppressBooleanAttributes: false,
})

/** A document of one root element, indented, its texts escaped. */
export function writeXml(root: XmlNode): string {
  return `<?xml version="1.0" encoding="UTF-8"?>\n${builder.build([nodeOf(root)]).trim()}\n`
}

const nodeOf = ({ name, attributes = {}, text, children = [] }: XmlNode): Record<string, unknown> => ({
  [name]: [...(text === undefined ? [] : [{ '#text': text }]), ...children.map(nodeOf)],
  ':@': Object.fromEntries(Object.entries(attributes).filter(([, value]) => value !== undefined)),
})
