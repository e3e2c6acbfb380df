export { buildSheet } from './build-sheet.js'
export {
  readMinutes,
  sheetOf,
  sheetTimes,
  workSheet,
  type SheetSubject,
  type PlannedStep,
  type SheetStep,
  type StepTool,
  type WorkSheet,
} from './work-sheet.js'
