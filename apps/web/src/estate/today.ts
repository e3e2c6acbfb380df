import { dayOf } from '@insel/core'
import { instantOf, useEstate } from '.'

/** The day it is in the estate's time zone, `YYYY-MM-DD`; where the past is shown, the day it was. */
export function useToday(): string {
  const { estate, basis } = useEstate()
  return dayOf(estate, instantOf(basis))
}
