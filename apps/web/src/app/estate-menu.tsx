import { DropdownMenu } from 'radix-ui'
import { useNavigate } from 'react-router'
import { useEstate } from '../estate'
import { useEstates } from '../features/estates/use-estates'
import { menuBox, menuItem, type MenuProps } from './menu-button'

/** The other estates of this server, and a new one. Opens as it comes: it is fetched when it is first asked for. */
export function EstateMenu({ look, name }: MenuProps) {
  const { estateId } = useEstate()
  const estates = useEstates()
  const navigate = useNavigate()
  return (
    <DropdownMenu.Root defaultOpen>
      <DropdownMenu.Trigger className={look}>{name}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className={menuBox} align="start" sideOffset={4}>
          {estates.data
            ?.filter(({ id, archivedAt }) => archivedAt === null || id === estateId)
            .map(({ id, name }) => (
              <DropdownMenu.Item key={id} className={menuItem} onSelect={() => void navigate(`/estates/${id}/board`)}>
                {name} {id === estateId && <span className="text-faint">shown</span>}
              </DropdownMenu.Item>
            ))}
          <DropdownMenu.Separator className="h-px bg-line my-1" />
          <DropdownMenu.Item className={menuItem} onSelect={() => void navigate('/estates')}>
            All estates
          </DropdownMenu.Item>
          <DropdownMenu.Item className={menuItem} onSelect={() => void navigate('/?new')}>
            New estate
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
