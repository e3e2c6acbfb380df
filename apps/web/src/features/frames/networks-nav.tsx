import { PageNav } from '../../ui/page-nav'
import { usePaths } from '../../lib/paths'

/** What one can look at of the networks, each with its own address. */
const views = [
  { path: '', label: 'List' },
  { path: '/carried', label: 'Networks by host' },
  { path: '/reach', label: 'Reachability' },
  { path: '/plan', label: 'Plan a block' },
  { path: '/names', label: 'DNS' },
  { path: '/macs', label: 'MAC addresses' },
] as const

/** The ways between the pages about networks. */
export const NetworksNav = () => <PageNav label="Pages about networks" base={usePaths().to('networks')} views={views} />
