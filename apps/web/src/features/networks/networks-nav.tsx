import { NavLink } from 'react-router'
import { usePaths } from '../../lib/paths'

/** What one can look at of the networks, each with an address of its own. */
const views = [
  { path: '', label: 'List' },
  { path: '/carried', label: 'Carried where' },
  { path: '/reach', label: 'Who reaches whom' },
  { path: '/plan', label: 'Plan a block' },
  { path: '/names', label: 'Names' },
  { path: '/macs', label: 'MAC addresses' },
] as const

/** The ways between the pages about networks. */
export function NetworksNav() {
  const { to } = usePaths()
  return (
    <nav aria-label="Pages about networks" className="flex flex-wrap gap-x-5 mt-2 print:hidden">
      {views.map(({ path, label }) => (
        <NavLink
          key={path}
          end
          to={to(`networks${path}`)}
          className={({ isActive }) =>
            `min-h-7 inline-flex items-center border-b-2 ${isActive ? 'border-accent text-ink font-medium' : 'border-transparent text-accent hover:underline underline-offset-4'}`
          }
        >
          {label}
        </NavLink>
      ))}
    </nav>
  )
}
