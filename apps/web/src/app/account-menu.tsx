import { Moon, Sun } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { useNavigate } from 'react-router'
import { usePaths } from '../lib/paths'
import { setTheme, useTheme } from '../lib/theme'
import { menuBox, menuItem, type MenuProps } from './menu-button'

/** Who records, the theme, the setup. Opens as it comes: it is fetched when it is first asked for. */
export function AccountMenu({ look, name, label, askWho }: MenuProps & { readonly askWho: () => void }) {
  const { to } = usePaths()
  const theme = useTheme()
  const navigate = useNavigate()
  const other = theme === 'dark' ? 'light' : 'dark'
  return (
    <DropdownMenu.Root defaultOpen>
      <DropdownMenu.Trigger className={look} aria-label={label}>
        {name}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className={menuBox} align="end" sideOffset={4}>
          <DropdownMenu.Item className={menuItem} onSelect={askWho}>
            Recorded as…
          </DropdownMenu.Item>
          <DropdownMenu.Item className={menuItem} onSelect={() => setTheme(other)}>
            <span>{other === 'dark' ? 'Dark' : 'Light'} theme</span>{' '}
            {other === 'dark' ? <Moon size={15} aria-hidden /> : <Sun size={15} aria-hidden />}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={menuItem} onSelect={() => void navigate(to('setup'))}>
            Setup and policies
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
