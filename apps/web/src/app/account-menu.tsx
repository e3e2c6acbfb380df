import { DropdownMenu } from 'radix-ui'
import { AccountItems } from './account-items'
import { menuBox, menuItem, type MenuProps } from './menu-button'

/** Who records, the theme, the setup. Opens as it comes: it is fetched when it is first asked for. */
export function AccountMenu({ look, name, label, askWho }: MenuProps & { readonly askWho: () => void }) {
  return (
    <DropdownMenu.Root defaultOpen>
      <DropdownMenu.Trigger className={look} aria-label={label}>
        {name}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className={menuBox} align="end" sideOffset={4}>
          <AccountItems look={menuItem} who="Recorded as…" askWho={askWho} />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
