import { expose } from 'comlink'
import { tablesOfWorkbook, WorkbookError } from './workbook'

/** Reads workbooks off the page's thread. Nothing leaves the browser. */
const workbooks = {
  async read(bytes: ArrayBuffer) {
    try {
      return { tables: await tablesOfWorkbook(bytes) }
    } catch (error) {
      if (error instanceof WorkbookError) return { sentence: error.message }
      throw error
    }
  },
}
export type Workbooks = typeof workbooks
expose(workbooks)
