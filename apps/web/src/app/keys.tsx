import { aheadOf } from '@insel/core'
import { useCallback, useState } from 'react'
import { useLocation, useNavigate } from 'react-router'
import { RECORDED, useEstate } from '../estate'
import { useGoKeys, useKey } from '../lib/keys'
import { usePaths } from '../lib/paths'
import { allPlaces, sections } from '../lib/places'
import { onDemand, useOnceWanted } from '../lib/on-demand'

const KeysDialog = onDemand(async () => (await import('./keys-dialog')).KeysDialog)

/** The keys that work on every page, and the dialog that lists them. */
export function Keys() {
  const { to } = usePaths()
  const { recorded, basis, showBasis, planInto } = useEstate()
  const navigate = useNavigate()
  const { pathname } = useLocation()
  const [isOpen, setOpen] = useState(false)
  useGoKeys(
    useCallback(
      (key: string) => {
        const section = sections.find((one) => one.key === key)
        if (section) void navigate(to(section.path))
      },
      [navigate, to],
    ),
  )
  useKey('p', () => {
    if (basis.on !== 'recorded') return showBasis(RECORDED)
    const last = planInto && aheadOf(recorded, planInto.id).at(-1)
    if (last) showBasis({ on: 'item', planId: last.planId, itemId: last.id })
  })
  useKey('n', () => {
    const section = pathname.split('/')[3] ?? 'board'
    const addition = allPlaces.find((place) => place.section === section && place.adds)?.adds
    if (addition) void navigate(to(addition))
  })
  useKey('/', () => document.querySelector<HTMLInputElement>('[data-filter]')?.focus())
  useKey('?', () => setOpen(true))
  const isOpenOnce = useOnceWanted(isOpen)
  return isOpenOnce && <KeysDialog isOpen={isOpen} setOpen={setOpen} />
}
