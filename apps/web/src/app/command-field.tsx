import { macRows, type Kind } from '@insel/core'
import { Command } from 'cmdk'
import { useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { RECORDED, useEstate } from '../estate'
import { usePaths } from '../lib/paths'
import { allPlaces, sections } from '../lib/places'
import { setTheme, useTheme } from '../lib/theme'

/** One thing that can be found. */
interface Found {
  readonly kind: Kind
  readonly id: string
  readonly title: string
  readonly about: string
  /** What is searched, in lower case. */
  readonly text: string
}

const SHOWN = 24
const row = 'px-3 py-1.5 flex gap-3 justify-between rounded-sm data-[selected=true]:bg-accent-wash'

/** Finds records by name, address or MAC, goes to pages, and starts what can be done. */
export function CommandField({ isOpen, setOpen }: { isOpen: boolean; setOpen: (isOpen: boolean) => void }) {
  const [query, setQuery] = useState('')
  const { to, ofRecord } = usePaths()
  const { estate, showBasis, basis, planInto } = useEstate()
  const theme = useTheme()
  const navigate = useNavigate()
  const close = () => {
    setOpen(false)
    setQuery('')
  }
  const go = (path: string) => {
    close()
    void navigate(path)
  }
  const found = useFound(query, isOpen)
  // An address is shown where it is: on the map of its subnet.
  const pathOf = (kind: Kind, id: string) => {
    const address = kind === 'address' ? estate.find('address', id) : kind === 'lease' ? estate.find('lease', id) : undefined
    const networkId = estate.find('subnet', address?.subnetId)?.networkId
    return address && networkId ? to(`networks/${networkId}?at=${encodeURIComponent(address.ip)}`) : ofRecord(kind, id)
  }
  const actions = [
    ...sections.map(({ path, label, key }) => ({ label: `Go to ${label}`, hint: `g ${key}`, run: () => go(to(path)) })),
    ...allPlaces.flatMap(({ path, find }) => (find ? [{ label: find, hint: '', run: () => go(to(path)) }] : [])),
    { label: 'Add network', hint: '', run: () => go(to('records/network/new')) },
    {
      label: theme === 'dark' ? 'Light theme' : 'Dark theme',
      hint: '',
      run: () => (setTheme(theme === 'dark' ? 'light' : 'dark'), close()),
    },
    ...(basis.on === 'recorded'
      ? []
      : [{ label: 'Show the record', hint: basis.on === 'item' ? 'p' : '', run: () => (showBasis(RECORDED), close()) }]),
    ...(planInto ? [{ label: `Open plan ${planInto.name}`, hint: '', run: () => go(to(`plans/${planInto.id}`)) }] : []),
  ].filter(({ label }) => label.toLowerCase().includes(query.trim().toLowerCase()))

  return (
    <Command.Dialog
      open={isOpen}
      onOpenChange={(open) => (open ? setOpen(true) : close())}
      shouldFilter={false}
      label="Find or do"
      overlayClassName="fixed inset-0 z-40 bg-ink/30 dark:bg-black/50"
      contentClassName="fixed z-50 left-1/2 top-16 -translate-x-1/2 w-[min(620px,94vw)] bg-sheet border border-rule rounded-md shadow-lg"
    >
      <Command.Input
        value={query}
        onValueChange={setQuery}
        placeholder="A name, an address, a MAC, or what to do"
        className="w-full px-4 py-3 bg-transparent outline-none border-b border-line text-lead"
      />
      <Command.List className="max-h-[60vh] overflow-auto p-1.5">
        <Command.Empty className="px-3 py-4 text-soft">No record or action matches “{query}”.</Command.Empty>
        {found.length > 0 && (
          <Command.Group heading={<span className="text-faint text-small px-3">Found</span>}>
            {found.map(({ kind, id, title, about }) => (
              <Command.Item key={id} value={id} className={row} onSelect={() => go(pathOf(kind, id))}>
                <span className="font-medium">{title}</span> <span className="text-soft truncate">{about}</span>
              </Command.Item>
            ))}
          </Command.Group>
        )}
        {actions.length > 0 && (
          <Command.Group heading={<span className="text-faint text-small px-3">Do</span>}>
            {actions.map(({ label, hint, run }) => (
              <Command.Item key={label} value={label} className={row} onSelect={run}>
                <span>{label}</span> <span className="text-soft font-mono text-small">{hint}</span>
              </Command.Item>
            ))}
          </Command.Group>
        )}
      </Command.List>
    </Command.Dialog>
  )
}

function useFound(query: string, isOpen: boolean): readonly Found[] {
  const { estate } = useEstate()
  const all = useMemo((): readonly Found[] => {
    if (!isOpen) return []
    const guestOf = (adapterId: string | null) => estate.find('guest', estate.find('adapter', adapterId)?.guestId)
    const named = (['host', 'guest', 'network', 'store', 'platform'] as const).flatMap((kind) =>
      estate.all(kind).map((record): Found => ({ kind, id: record.id, title: record.name, about: kind, text: record.name.toLowerCase() })),
    )
    const addresses = estate.all('address').map((address): Found => {
      const owner = guestOf(address.adapterId) ?? estate.find('host', address.hostId)
      return {
        kind: 'address',
        id: address.id,
        title: address.ip,
        about: owner ? `address of ${owner.name}` : (address.name ?? address.kind),
        text: `${address.ip} ${address.name ?? ''}`,
      }
    })
    const macs = macRows(estate).map(({ mac, owner, of }): Found => ({
      kind: of.kind,
      id: of.id,
      title: mac,
      about: owner,
      text: `${mac} ${mac.replaceAll(':', '')}`,
    }))
    return [...named, ...addresses, ...macs]
  }, [estate, isOpen])
  const wanted = query.trim().toLowerCase()
  if (wanted.length < 2) return []
  const starts: Found[] = []
  const holds: Found[] = []
  for (const one of all) {
    if (one.text.startsWith(wanted)) starts.push(one)
    else if (one.text.includes(wanted)) holds.push(one)
    if (starts.length >= SHOWN) break
  }
  // A guest may be found by name and by several addresses; one line for each thing is enough.
  const seen = new Set<string>()
  return [...starts, ...holds].filter(({ id }) => !seen.has(id) && seen.add(id)).slice(0, SHOWN)
}
