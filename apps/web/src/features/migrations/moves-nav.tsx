import { usePaths } from '../../lib/paths'
import { PageNav } from '../../ui/page-nav'

const views = [
  { path: '', label: 'Under way' },
  { path: '/history', label: 'History' },
] as const

/** The ways between the pages about moves. */
export function MovesNav() {
  const { to } = usePaths()
  return <PageNav label="Pages of migrations" base={to('migrations')} views={views} />
}
