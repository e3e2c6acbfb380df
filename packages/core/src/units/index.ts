export { formatBytes, formatExactBytes, formatLabelBytes, formatMiB, formatNumber, GB, GiB, KiB, MB, MiB, TB, TiB } from './bytes.js'
export { formatDuration, timeReadProblem } from './duration.js'
export { sumFigure, type Figure, type FigureInput, type FigureUnit } from './figure.js'
export { shownWorking, type ShownTerm, type ShownWorking } from './working.js'
export { counted, withArticle } from './counted.js'
export { formatUnit } from './format-unit.js'
export { formatMbps, tcpPayloadRate } from './link-rate.js'
export {
  BARE_MEMORY_MIN_MIB,
  parseSize,
  sizeUnits,
  unitInHeading,
  type SizeContext,
  type SizeHints,
  type SizeReading,
  type SizeUnit,
} from './parse-size.js'
export { readDay, type DayReading } from './read-day.js'
export { readAmount } from './read-amount.js'
export { numberStyleOf, numberStyles, readNumber, type NumberReading, type NumberStyle } from './read-number.js'
