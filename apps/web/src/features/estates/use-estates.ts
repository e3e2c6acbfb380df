import { useQuery } from '@tanstack/react-query'
import { estatesApi } from './estates-api'

/** Under what this browser remembers the estate that was looked at last. */
export const LAST_ESTATE = 'estate'

/** The estates of this server. */
export const useEstates = () => useQuery({ queryKey: ['estates'], queryFn: estatesApi.list })
