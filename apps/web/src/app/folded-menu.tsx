import { DropdownMenu } from 'radix-ui'
import { NavLink } from 'react-router'
import { useEstate } from '../estate'
import { usePaths } from '../lib/paths'
import { sections } from '../lib/places'
import { AccountItems } from './account-items'
import { menuBox, menuItem, type MenuProps } from './menu-button'

const line = `${menuItem} min-h-11 items-center`

/** The head folded into one line: sections and account in a menu. Opens as it comes: it is fetched when it is first asked for. */
export function FoldedMenu({ look, name, label, count, askWho }: MenuProps & { readonly count: number; readonly askWho: () => void }) {
  const { person } = useEstate()
  const { to } = usePaths()
  return (
    <DropdownMenu.Root defaultOpen>
      <DropdownMenu.Trigger className={look} aria-label={label}>
        {name}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          className={`${menuBox} max-h-[var(--radix-dropdown-menu-content-available-height)] overflow-auto`}
          align="end"
          sideOffset={4}
        >
          {sections.map(({ path, label: section }) => (
            <DropdownMenu.Item key={path} asChild>
              <NavLink to={to(path)} className={({ isActive }) => `${line} ${isActive ? 'font-bold text-accent' : ''}`}>
                {section} {path === 'findings' && count > 0 && <span className="font-bold">{count}</span>}
              </NavLink>
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Separator className="h-px bg-line my-1" />
          <AccountItems look={line} who={person ? `Recorded as ${person.name}` : 'Recorded as…'} askWho={askWho} />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
