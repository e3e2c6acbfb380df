export {
  cellsOf,
  headingsIn,
  readTable,
  rowsIn,
  tableOf,
  tableTooLong,
  type RowCells,
  type Table,
  type TableMapping,
  type TableReader,
  type TableRow,
} from './tables/table.js'
export { jsonFault, type JsonFault } from './json-fault.js'
export { jsonShapeFault, type JsonLimits } from './json-shape.js'
export { has, isObject, numberIn, objectIn, objectsIn, present, textIn, type JsonObject } from './json-values.js'
export { cut, DEPTH_MAX, parsePiece, refusal, TEXT_MAX, tooManyLines } from './safe-text.js'
export { readOsinfo, type Catalogue, type CatalogueSystem } from './osinfo/read-osinfo.js'
export { childOf, childrenOf, childText, readXml, XML_MAX, type XmlElement, type XmlReading } from './xml/read-xml.js'
export { writeXml, type XmlNode } from './xml/write-xml.js'
export { LineWords, nearest, type SpecMeaning, type SpecPart, type Trouble } from './line-words.js'
export { writeCsv } from './csv.js'
export { fileName } from './file-name.js'
export { markdownCell, markdownCode, markdownLine, markdownQuote, markdownTable } from './markdown.js'
