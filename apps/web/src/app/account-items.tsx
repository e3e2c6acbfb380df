import { Moon, Sun } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { useNavigate } from 'react-router'
import { usePaths } from '../lib/paths'
import { setTheme, useTheme } from '../lib/theme'

/** What is chosen once, in whichever menu: who records, the theme, the setup. */
export function AccountItems({ look, who, askWho }: { look: string; who: string; askWho: () => void }) {
  const { to } = usePaths()
  const theme = useTheme()
  const navigate = useNavigate()
  const other = theme === 'dark' ? 'light' : 'dark'
  return (
    <>
      <DropdownMenu.Item className={look} onSelect={askWho}>
        {who}
      </DropdownMenu.Item>
      <DropdownMenu.Item className={look} onSelect={() => setTheme(other)}>
        <span>{other === 'dark' ? 'Dark' : 'Light'} theme</span>{' '}
        {other === 'dark' ? <Moon size={15} aria-hidden /> : <Sun size={15} aria-hidden />}
      </DropdownMenu.Item>
      <DropdownMenu.Item className={look} onSelect={() => void navigate(to('setup'))}>
        Setup and policies
      </DropdownMenu.Item>
    </>
  )
}
