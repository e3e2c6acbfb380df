import { counted } from '../units/index.js'
import { cut, parsePiece, refusal, tooManyLines } from '../formats/index.js'
import { join, nothingFound, withUse, type FoundReading, type Unread } from './found.js'
import { isRedfishTree, readRedfish } from './redfish.js'
import { readLines } from './text-tools.js'
import { jsonReaders } from './tools.js'

/** Documents, and blocks of lines between them, that one text is cut into; all tools together print some dozens. */
const PIECES_MAX = 1000
/** Lines of all tools together; the longest, a controller’s tree that is written out, has some hundred thousand. */
const LINES_MAX = 250_000

/**
 * Reads what tools printed on a machine, whichever they are and however many follow each other: `lscpu`, `lsblk`, `ip address`, each with
 * or without JSON, `lshw -json`, `free -b`, `df`, `/proc/meminfo`, `dmidecode`, `ethtool`, or a Redfish tree.
 *
 * @param text what was pasted, dropped or sent
 * @param system for a Redfish tree of several systems: the path of the one that is meant
 * @returns what was found, what it was found by, and each place that could not be read, with the reason; nothing is thrown
 */
export function readFound(text: string, system?: string): FoundReading {
  const refused = refusal(text) ?? tooManyLines(text, LINES_MAX)
  if (refused) return { found: nothingFound, sources: [], unread: [{ line: 1, text: '', sentence: refused }] }
  let found = nothingFound
  const sources: string[] = []
  const unread: Unread[] = []
  const pieces = cut(text, PIECES_MAX + 1)
  const [beyond] = pieces.slice(PIECES_MAX)
  if (beyond)
    unread.push({
      line: beyond.line,
      text: '',
      sentence: `This is of more than ${counted(PIECES_MAX, 'document')}; what follows is not read. Paste the output of one machine at a time.`,
    })
  for (const piece of pieces.slice(0, PIECES_MAX)) {
    if (piece.kind === 'lines') {
      const lines = readLines(piece.text, piece.line)
      for (const { source, part } of lines.sections) {
        found = join(found, part)
        sources.push(source)
      }
      unread.push(...lines.unread)
      continue
    }
    const parsed = parsePiece(piece)
    const excerpt = piece.text.split('\n')[0]?.slice(0, 120) ?? ''
    if ('sentence' in parsed) {
      unread.push({ line: parsed.line, text: excerpt, sentence: parsed.sentence })
      continue
    }
    if (isRedfishTree(parsed.value)) {
      found = join(found, readRedfish(parsed.value, system))
      sources.push('Redfish')
      continue
    }
    const reader = jsonReaders.find((one) => one.recognises(parsed.value))
    if (reader) {
      found = join(found, reader.read(parsed.value))
      sources.push(reader.name)
    } else
      unread.push({
        line: piece.line,
        text: excerpt,
        sentence: 'This JSON is not from a known tool: lscpu, lsblk, ip, lshw or Redfish.',
      })
  }
  return { found: withUse(found), sources: [...new Set(sources)], unread }
}
