export { daysToFullFrom, forecastStore, storeUseCommand, type DailyBytes, type Driver, type Forecast } from './forecast.js'
export {
  mapObservations,
  observationColumns,
  observationSizeColumns,
  readObservationTable,
  type ObservationColumn,
  type ObservationReading,
  type ObservationTable,
  type Observed,
} from './read-observations.js'
export { adviceCommands, growthCommands, rightSize, type Advice } from './right-size.js'
export { measures, sampleProblem, type Measure, type Sample } from './sample.js'
export { percentile, theilSen, type Slope } from './statistics.js'
export { daysUntil, offAfter, paceOf, trendOf, type Trend, type TrendSpread } from './trend.js'
export {
  daysOf,
  mergeSamples,
  summarise,
  summariseDays,
  summaryDays,
  type Growth,
  type SampleDay,
  type Spread,
  type Summary,
  type SummaryDays,
} from './summary.js'
