import { counted, formatBytes, formatMiB, shippedSystems, type NewRecord, type System } from '@insel/core'
import { useQuery } from '@tanstack/react-query'
import { Command } from 'cmdk'
import { Popover } from 'radix-ui'
import { useState } from 'react'
import { api } from '../../lib/api'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'

const row = 'px-2 py-1.5 rounded-sm cursor-pointer data-[selected=true]:bg-accent-wash grid'
const heading = (text: string) => <span className="text-faint text-small px-2">{text}</span>

/** A system's least needs in a line. */
function needsOf({
  minVcpu,
  minMemoryMiB,
  minStorageBytes,
}: Pick<NewRecord<'system'>, 'minVcpu' | 'minMemoryMiB' | 'minStorageBytes'>): string {
  const needs = [
    ...(minVcpu ? [`${minVcpu} vCPU`] : []),
    ...(minMemoryMiB ? [formatMiB(minMemoryMiB)] : []),
    ...(minStorageBytes ? [`${formatBytes(minStorageBytes)} disk`] : []),
  ]
  return needs.length > 0 ? `at least ${needs.join(', ')}` : 'needs not known'
}

/** Chooses a system: recorded, a generic profile, or one of the catalogue, which is recorded with what is being composed. */
export function SystemChoice({
  id,
  system,
  choose,
}: {
  id: string
  system: System | undefined
  choose: (systemId: string, added?: { id: string; values: NewRecord<'system'> }) => void
}) {
  const { estate } = useEstate()
  const [isOpen, setOpen] = useState(false)
  const [search, setSearch] = useState('')
  const found = useQuery({
    queryKey: ['catalogue', search],
    queryFn: () => api.catalogue(search),
    enabled: isOpen,
    placeholderData: (before) => before,
    staleTime: 60_000,
  })
  const words = search.toLowerCase().split(/\s+/).filter(Boolean)
  const fits = (name: string) => words.every((word) => name.toLowerCase().includes(word))
  const recorded = estate.all('system').filter(({ name, datasetId }) => fits(`${name} ${datasetId ?? ''}`))
  const names = new Set(estate.all('system').map(({ name }) => name.toLowerCase()))
  const generic = shippedSystems.filter(({ name }) => fits(name) && !names.has(name.toLowerCase()))
  const listed = (found.data?.items ?? []).filter(({ values }) => !names.has(values.name.toLowerCase()))
  const dataset = found.data?.dataset
  const take = (systemId: string, values?: NewRecord<'system'>) => {
    choose(systemId, values ? { id: systemId, values } : undefined)
    setOpen(false)
    setSearch('')
  }
  const newItem = (values: NewRecord<'system'>, key: string, note: string) => (
    <Command.Item key={key} value={key} className={row} onSelect={() => take(newId(), values)}>
      <span>{values.name}</span>
      <span className="text-faint text-small">{note}</span>
    </Command.Item>
  )
  return (
    <Popover.Root open={isOpen} onOpenChange={setOpen}>
      <Popover.Trigger id={id} className="field text-left truncate">
        {system?.name ?? <span className="text-faint">choose, or search the catalogue…</span>}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label="System"
          align="start"
          sideOffset={4}
          className="z-30 bg-sheet border border-rule rounded-md shadow-lg w-[420px] max-w-[95vw] text-dense"
        >
          <Command shouldFilter={false} label="System">
            <Command.Input
              value={search}
              onValueChange={setSearch}
              placeholder="Name, release or maker"
              className="w-full px-3 py-2 bg-transparent border-b border-line outline-none"
            />
            <Command.List className="max-h-[46vh] overflow-auto p-1.5">
              {recorded.length > 0 && (
                <Command.Group heading={heading('In this estate')}>
                  {recorded.map((one) => (
                    <Command.Item key={one.id} value={one.id} className={row} onSelect={() => take(one.id)}>
                      <span>{one.name}</span>
                      <span className="text-faint text-small">{needsOf(one)}</span>
                    </Command.Item>
                  ))}
                </Command.Group>
              )}
              {generic.length > 0 && (
                <Command.Group heading={heading('Generic profiles')}>
                  {generic.map((values) => newItem(values, `generic ${values.name}`, needsOf(values)))}
                </Command.Group>
              )}
              {listed.length > 0 && (
                <Command.Group heading={heading(`Catalogue, ${dataset?.name ?? ''} of ${dataset?.version ?? ''}`)}>
                  {listed.map(({ shortId, values }) =>
                    newItem(
                      values,
                      `catalogue ${shortId}`,
                      `${shortId}, ${needsOf(values)}${values.releasedOn ? `, of ${values.releasedOn.slice(0, 4)}` : ''}`,
                    ),
                  )}
                </Command.Group>
              )}
              <p className="px-2 py-2 text-faint text-small" role="status">
                {found.isError
                  ? 'The catalogue is not available just now.'
                  : !dataset
                    ? found.isFetching
                      ? 'Loading the catalogue…'
                      : 'The catalogue osinfo-db is not installed on the server; generic profiles are used instead.'
                    : `${found.data?.total ?? 0} of ${counted(dataset.systems, 'system')} fit${(found.data?.total ?? 0) > listed.length ? '; type more to narrow them' : ''}. Add what the dataset lacks by hand.`}
              </p>
            </Command.List>
          </Command>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
