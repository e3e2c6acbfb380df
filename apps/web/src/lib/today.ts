import { dayOf } from '@insel/core'
import { useEstate } from '../estate'
import { now } from './time'

/** The day it is in the estate's time zone, `YYYY-MM-DD`. */
export function useToday(): string {
  const { estate } = useEstate()
  return dayOf(estate, now())
}
