import { NavLink, parsePath } from 'react-router'

/**
 * The ways between the pages about one thing, each with its own address.
 *
 * @param base where they begin; the first of the views is the base itself
 */
export function PageNav({
  label,
  base,
  views,
}: {
  label: string
  base: string
  views: readonly { readonly path: string; readonly label: string }[]
}) {
  const { pathname = '', search = '' } = parsePath(base)
  return (
    <nav aria-label={label} className="flex flex-wrap gap-x-5 mt-2 print:hidden">
      {views.map((view) => (
        <NavLink
          key={view.path}
          end={view.path === ''}
          to={{ pathname: `${pathname}${view.path}`, search }}
          className={({ isActive }) =>
            `min-h-7 inline-flex items-center border-b-2 ${isActive ? 'border-accent text-ink font-medium' : 'border-transparent text-accent hover:underline underline-offset-4'}`
          }
        >
          {view.label}
        </NavLink>
      ))}
    </nav>
  )
}
