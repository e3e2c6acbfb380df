import { PageNav } from '../../ui/page-nav'
import { usePaths } from '../../lib/paths'

/** What one can look at of the guests, each with its own address. */
const views = [
  { path: '', label: 'List' },
  { path: '/order', label: 'Start order' },
  { path: '/sizes', label: 'Right sizes' },
  { path: '/stores', label: 'Stores' },
  { path: '/images', label: 'Images' },
  { path: '/systems', label: 'Systems and workloads' },
  { path: '/exchange', label: 'Import and export' },
] as const

/** The ways between the pages about guests. */
export const GuestsNav = () => <PageNav label="Pages about guests" base={usePaths().to('guests')} views={views} />
