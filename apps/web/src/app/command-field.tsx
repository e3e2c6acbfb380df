import { Command } from 'cmdk'
import { useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { RECORDED, useEstate } from '../estate'
import { usePaths } from '../lib/paths'
import { allPlaces, sections } from '../lib/places'
import { setTheme, useTheme } from '../lib/theme'
import { wordsOf } from '../lib/words'
import { find, findable, type Found } from './find'

const SHOWN = 24
const row = 'px-3 py-1.5 flex gap-3 justify-between rounded-sm data-[selected=true]:bg-accent-wash'

/** Finds what is recorded, goes to pages, and starts what can be done. */
export function CommandField({ isOpen, setOpen }: { isOpen: boolean; setOpen: (isOpen: boolean) => void }) {
  const [query, setQuery] = useState('')
  const { to, ofRecord } = usePaths()
  const { showBasis, basis, planInto } = useEstate()
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
  const pathOf = ({ kind, id, at }: Found) => (at === undefined ? ofRecord(kind, id) : to(at))
  const wanted = wordsOf(query)
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
  ].filter(({ label }) => wanted.every((word) => label.toLowerCase().includes(word)))

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
        placeholder="A name, an address, a MAC, a VLAN, a serial, or what to do"
        className="w-full px-4 py-3 bg-transparent outline-none border-b border-line text-lead"
      />
      <Command.List className="max-h-[60vh] overflow-auto p-1.5">
        <Command.Empty className="px-3 py-4 text-soft">No record or action matches “{query}”.</Command.Empty>
        {found.length > 0 && (
          <Command.Group heading={<span className="text-faint text-small px-3">Found</span>}>
            {found.map((one) => (
              <Command.Item key={one.id} value={one.id} className={row} onSelect={() => go(pathOf(one))}>
                <span className="font-medium">{one.title}</span> <span className="text-soft truncate">{one.about}</span>
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
  const all = useMemo(() => (isOpen ? findable(estate) : []), [estate, isOpen])
  return useMemo(() => find(estate, all, query, SHOWN), [estate, all, query])
}
