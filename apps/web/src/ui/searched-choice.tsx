import { useVirtualizer } from '@tanstack/react-virtual'
import { Command } from 'cmdk'
import { ChevronsUpDown } from 'lucide-react'
import { Popover } from 'radix-ui'
import { useId, useMemo, useState, type KeyboardEvent } from 'react'
import type { ChoosingProps, FieldProps, Option } from './choosing'

const ROW_HEIGHT = 30
const SHOWN_ROWS = 9
const NO_VALUE = '\u2014'

/** Those of the options that have every word of a query in what they are called; those that begin with it come first. */
export function matching(options: readonly Option[], query: string): readonly Option[] {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean)
  if (words.length === 0) return options
  const found = options.filter(([, label]) => words.every((word) => label.toLowerCase().includes(word)))
  const begins = ([, label]: Option) => label.toLowerCase().startsWith(words[0] ?? '')
  return [...found.filter(begins), ...found.filter((option) => !begins(option))]
}

/** A choice of one among many: a field that says what is chosen, and opens a list that is searched by typing. */
export function SearchedChoice({ options, value, choose, none, className = '', field }: ChoosingProps & { readonly field: FieldProps }) {
  const [isOpen, setOpen] = useState(false)
  const listId = useId()
  const chosen = options.find(([one]) => one === value)
  return (
    <Popover.Root open={isOpen} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <button
          type="button"
          role="combobox"
          aria-expanded={isOpen}
          aria-controls={listId}
          className={`field text-left flex items-center justify-between gap-2 ${className}`}
          {...field}
          // The list that opens is a part of the field: going there is not leaving it.
          onBlur={isOpen ? undefined : field.onBlur}
        >
          <span className={`truncate ${chosen ? '' : 'text-soft'}`}>{chosen?.[1] ?? none ?? 'choose…'}</span>
          <ChevronsUpDown size={13} aria-hidden className="shrink-0 text-faint" />
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          id={listId}
          align="start"
          sideOffset={3}
          className="z-50 w-[max(240px,var(--radix-popover-trigger-width))] bg-sheet border border-rule rounded-md shadow-lg"
        >
          <Options
            options={options}
            none={none}
            value={value}
            choose={(one) => {
              choose(one)
              setOpen(false)
            }}
          />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

function Options({ options: named, none, value, choose }: Pick<ChoosingProps, 'options' | 'none' | 'value' | 'choose'>) {
  const options = useMemo((): readonly Option[] => (none === undefined ? named : [['', none], ...named]), [named, none])
  const [query, setQuery] = useState('')
  const found = useMemo(() => matching(options, query), [options, query])
  const [at, setAt] = useState(value || NO_VALUE)
  const [scroller, setScroller] = useState<HTMLDivElement | null>(null)
  const chosen = options.findIndex(([one]) => one === value)
  const virtual = useVirtualizer({
    count: found.length,
    getScrollElement: () => scroller,
    estimateSize: () => ROW_HEIGHT,
    overscan: 5,
    initialRect: { width: 240, height: ROW_HEIGHT * SHOWN_ROWS },
    initialOffset: Math.max(0, chosen - 3) * ROW_HEIGHT,
  })
  const rows = virtual.getVirtualItems()
  const [above, below] = [rows[0]?.start ?? 0, virtual.getTotalSize() - (rows.at(-1)?.end ?? 0)]
  const goTo = (index: number) => {
    virtual.scrollToIndex(index)
    setAt(found[index]?.[0] || NO_VALUE)
  }
  const onKeyDown = (event: KeyboardEvent) => {
    const now = found.findIndex(([one]) => (one || NO_VALUE) === at)
    const last = found.length - 1
    const to = { Home: 0, End: last, PageUp: Math.max(0, now - SHOWN_ROWS), PageDown: Math.min(last, now + SHOWN_ROWS) }[event.key]
    if (to === undefined) return
    event.preventDefault()
    goTo(to)
  }
  return (
    <Command shouldFilter={false} value={at} onValueChange={setAt} onKeyDown={onKeyDown} label="Search">
      <Command.Input
        autoFocus
        value={query}
        onValueChange={(text) => {
          setQuery(text)
          setAt(matching(options, text)[0]?.[0] || NO_VALUE)
          virtual.scrollToOffset(0)
        }}
        placeholder={`search ${options.length}`}
        className="w-full px-2.5 py-1.5 bg-transparent outline-none border-b border-line text-dense"
      />
      <Command.List ref={setScroller} className="overflow-auto p-1" style={{ maxHeight: ROW_HEIGHT * SHOWN_ROWS + 8 }}>
        {found.length === 0 && <p className="px-2 py-1.5 text-soft text-dense">No record or action matches “{query}”.</p>}
        <div style={{ height: above }} />
        {rows.map(({ index }) => {
          const [one, label] = found[index] ?? ['', '']
          return (
            <Command.Item
              key={one}
              value={one || NO_VALUE}
              onSelect={() => choose(one)}
              className="px-2 rounded-sm text-dense truncate leading-[30px] data-[selected=true]:bg-accent-wash"
              style={{ height: ROW_HEIGHT }}
            >
              <span className={one === value ? 'font-bold' : one === '' ? 'text-soft' : ''}>{label}</span>
            </Command.Item>
          )
        })}
        <div style={{ height: below }} />
      </Command.List>
    </Command>
  )
}
