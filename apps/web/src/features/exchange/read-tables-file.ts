import { sourceOf, type SourceTable } from '@insel/core'
import { WorkFailed } from '../../lib/work-failed'
import type { Workbooks } from './workbook.worker'

/** A file that is larger is no list of machines. */
const FILE_MAX = 20_000_000
/** A file that unpacks to more than a browser holds is given up. */
const READ_MS = 30_000
/** Signatures of files: a zip archive, and the container of older spreadsheets. */
const ZIP = [0x50, 0x4b]
const OLDER = [0xd0, 0xcf, 0x11, 0xe0]

type Reading = { readonly tables: readonly SourceTable[]; readonly text?: string } | { readonly sentence: string }

/** The tables of a file: a workbook’s sheets, or the one of a text. */
export async function readTablesFile(file: File): Promise<Reading> {
  if (file.size > FILE_MAX)
    return { sentence: `This file has ${Math.round(file.size / 1e6)} MB; at most ${FILE_MAX / 1e6} MB are read. Cut it in two.` }
  const bytes = await file.arrayBuffer()
  const start = new Uint8Array(bytes.slice(0, 4))
  const begins = (signature: readonly number[]) => signature.every((byte, at) => start[at] === byte)
  if (begins(OLDER))
    return { sentence: `${file.name} is an older spreadsheet. Save it as .xlsx (Office Open XML) or as CSV, and choose that.` }
  if (begins(ZIP)) return readWorkbook(bytes)
  const text = new TextDecoder().decode(bytes)
  if (text.includes('\u0000'))
    return { sentence: `${file.name} is neither text nor a workbook. Save it as .xlsx (Office Open XML) or as CSV, and choose that.` }
  const source = sourceOf(text)
  return 'sentence' in source ? source : { tables: [source], text }
}

const FAILED = 'This workbook could not be read, or takes too long. Save the sheets you need as CSV, and choose those.'

async function readWorkbook(bytes: ArrayBuffer): Promise<Reading> {
  const [{ transfer }, { inWorker }] = await Promise.all([import('comlink'), import('../../lib/in-worker')])
  try {
    return await inWorker<Workbooks, Reading>(
      () => new Worker(new URL('workbook.worker.ts', import.meta.url), { type: 'module' }),
      (workbooks) => workbooks.read(transfer(bytes, [bytes])),
      FAILED,
      READ_MS,
    )
  } catch (error) {
    if (error instanceof WorkFailed) return { sentence: error.message }
    throw error
  }
}
