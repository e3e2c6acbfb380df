import { useState, type KeyboardEvent, type ReactNode } from 'react'

export const menuBox = 'z-40 bg-sheet border border-rule rounded-md shadow-lg py-1 min-w-48'
export const menuItem = 'px-3 py-1.5 outline-none data-[highlighted]:bg-accent-wash cursor-pointer flex justify-between gap-4'

/** What a menu and the button that stands in for it have in common. */
export interface MenuProps {
  readonly look: string
  readonly name: ReactNode
  readonly label?: string | undefined
}

/** The button of a menu whose code is fetched when it is first opened. */
export function MenuButton({ look, name, label, menu }: MenuProps & { readonly menu: (meanwhile: ReactNode) => ReactNode }) {
  const [isWanted, setWanted] = useState(false)
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key !== 'ArrowDown') return
    event.preventDefault()
    setWanted(true)
  }
  const button = (
    <button
      type="button"
      className={look}
      aria-label={label}
      aria-haspopup="menu"
      aria-expanded={isWanted}
      onClick={() => setWanted(true)}
      onKeyDown={onKeyDown}
    >
      {name}
    </button>
  )
  return isWanted ? menu(button) : button
}
