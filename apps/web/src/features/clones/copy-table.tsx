import { formatMiB, holdsDisks, kinds, oncePer, type BatchRow, type ComposedBatch, type Guest, type RowEdit } from '@insel/core'
import { memo, useEffect, useRef, useState, type ClipboardEvent, type KeyboardEvent } from 'react'
import { useEstate } from '../../estate'
import { Key } from '../../ui/button'
import { byName } from '../../ui/choice'
import type { Option } from '../../ui/choosing'
import { Ledger } from '../../ui/ledger'
import { Mark } from '../../ui/mark'
import { inputText, inputValue } from '../records/field-text'
import type { BatchDraft } from './use-batch-draft'

/** The columns that are written into, in the order in which rows are pasted. */
const columns = ['name', 'hostId', 'address', 'storeId', 'vcpu', 'memoryMiB'] as const
type ColumnName = (typeof columns)[number]
const titles: Readonly<Record<ColumnName, string>> = {
  name: 'Name',
  hostId: 'Host',
  address: 'Address',
  storeId: 'Store',
  vcpu: 'Processors',
  memoryMiB: 'Memory',
}

/** The names of hosts that are offered in the column of hosts. */
const HOSTS = 'hosts-for-copies'
const STORES = 'stores-for-copies'

/** What was typed or pasted into a cell, as it is kept; undefined takes it back, a sentence says what is wrong with it. */
function readCell(
  column: ColumnName,
  text: string,
  { hosts, stores }: { readonly hosts: readonly Option[]; readonly stores: readonly Option[] },
): { readonly value: RowEdit[ColumnName] | undefined } | { readonly sentence: string } {
  const trimmed = text.trim()
  // An empty address is none; elsewhere nothing goes back to what was worked out.
  if (trimmed === '') return { value: column === 'address' ? '' : undefined }
  switch (column) {
    case 'name':
    case 'address':
      return { value: trimmed }
    case 'hostId':
    case 'storeId': {
      const things = column === 'hostId' ? hosts : stores
      const found = things.find(([id, name]) => id === trimmed || name.toLowerCase() === trimmed.toLowerCase())
      return found ? { value: found[0] } : { sentence: `There is no ${column === 'hostId' ? 'host' : 'store'} “${trimmed}”.` }
    }
    default: {
      const read = inputValue(kinds.guest.fields[column], trimmed)
      return 'sentence' in read ? read : { value: Number(read.value) }
    }
  }
}

/** The copies as a table whose cells are written into: Ctrl+D fills down, rows are pasted from a spreadsheet. */
export function CopyTable({ draft, composed, template }: { draft: BatchDraft; composed: ComposedBatch; template: Guest }) {
  const { estate } = useEstate()
  const [wrong, setWrong] = useState<Readonly<Record<string, string>>>({})
  /** What is wrong with a cell, until it is right; undefined says that it is. */
  const judge = (row: number, column: ColumnName, sentence: string | undefined) =>
    setWrong(({ [`${row} ${column}`]: _, pasted: __, ...others }) =>
      sentence === undefined ? others : { ...others, [`${row} ${column}`]: `Row ${row + 1}, ${titles[column].toLowerCase()}: ${sentence}` },
    )
  const hosts = byName(estate.all('host').filter(({ state }) => state !== 'retired'))
  const stores = byName(estate.all('store').filter(holdsDisks))
  const kept = useRef({ draft, composed, hosts, stores })
  useEffect(() => void (kept.current = { draft, composed, hosts, stores }))
  const take = (row: number, column: ColumnName, text: string) => {
    const reading = readCell(column, text, kept.current)
    judge(row, column, 'sentence' in reading ? reading.sentence : undefined)
    if ('value' in reading) kept.current.draft.edit([[row, { [column]: reading.value }]])
    return 'value' in reading
  }
  const fillDown = (row: number, column: ColumnName, text: string) => {
    const reading = readCell(column, text, kept.current)
    judge(row, column, 'sentence' in reading ? reading.sentence : undefined)
    if ('sentence' in reading) return
    kept.current.draft.edit(kept.current.composed.rows.slice(row).map((_, index) => [row + index, { [column]: reading.value }] as const))
  }
  const paste = (row: number, column: ColumnName, text: string) => {
    const lines = text.replace(/\r?\n$/, '').split(/\r?\n/)
    const from = columns.indexOf(column)
    const changes: (readonly [number, Partial<Record<ColumnName, RowEdit[ColumnName] | undefined>>])[] = []
    for (const [index, line] of lines.entries()) {
      if (row + index >= kept.current.composed.rows.length) {
        const left = lines.length - index
        setWrong((before) => ({
          ...before,
          pasted: `${left} of the pasted rows are below the last copy and were left out; add names first.`,
        }))
        break
      }
      const edit: Partial<Record<ColumnName, RowEdit[ColumnName] | undefined>> = {}
      for (const [at, cell] of line.split('\t').entries()) {
        const name = columns[from + at]
        if (!name) continue
        const reading = readCell(name, cell, kept.current)
        judge(row + index, name, 'sentence' in reading ? reading.sentence : undefined)
        if ('value' in reading) edit[name] = reading.value
      }
      changes.push([row + index, edit])
    }
    kept.current.draft.edit(changes)
  }
  const [acts] = useState(() => ({ take, fillDown, paste }))
  return (
    <>
      <datalist id={HOSTS}>
        {hosts.map(([id, name]) => (
          <option key={id} value={name} />
        ))}
      </datalist>
      <datalist id={STORES}>
        {stores.map(([id, name]) => (
          <option key={id} value={name} />
        ))}
      </datalist>
      <div className="[&_table]:table-fixed [&_table]:min-w-[1200px] [&_th:first-child]:w-8 [&_th:nth-child(2)]:w-52 [&_th:nth-child(3)]:w-36 [&_th:nth-child(4)]:w-40 [&_th:nth-child(5)]:w-32 [&_th:nth-child(6)]:w-28 [&_th:nth-child(7)]:w-28">
        <Ledger headings={['#', ...columns.map((column) => titles[column]), 'why there', 'notes']}>
          {composed.rows.map((row, index) => (
            <Row key={index} row={row} index={index} edit={draft.edits.get(index)} template={template} acts={acts} />
          ))}
        </Ledger>
      </div>
      {Object.entries(wrong).map(([cell, sentence]) => (
        <p key={cell} className="text-error text-dense mt-1" role="alert">
          {sentence}
        </p>
      ))}
      <p className="text-dense text-soft mt-1">
        <Key>Ctrl D</Key> fills down from a cell; rows copied from a spreadsheet are pasted into it. An emptied cell is worked out again; an
        emptied address is none.
      </p>
    </>
  )
}

interface Acts {
  /** Says whether it could be read; what could not stays as it was typed. */
  take(row: number, column: ColumnName, text: string): boolean
  fillDown(row: number, column: ColumnName, text: string): void
  paste(row: number, column: ColumnName, text: string): void
}

interface RowProps {
  readonly row: BatchRow
  readonly index: number
  readonly edit: RowEdit | undefined
  readonly template: Guest
  readonly acts: Acts
}

/** What a row shows, once worked out: it is drawn again when that changes. */
const shownOf = oncePer(({ name, place, address, vcpu, memoryMiB, findings }: BatchRow) =>
  JSON.stringify([name, place.host?.id, place.stores[0]?.id, place.why, address, vcpu, memoryMiB, findings]),
)

const Row = memo(
  function Row({ row, index, edit, template, acts }: RowProps) {
    const { name, place, address, vcpu, memoryMiB, findings } = row
    const cell = (column: ColumnName, text: string, className: string, isOwn: boolean) => (
      <Cell
        label={`${titles[column]} of copy ${index + 1}`}
        column={column}
        text={text}
        className={`${className} ${isOwn ? '!border-accent' : ''}`}
        take={(typed) => acts.take(index, column, typed)}
        fillDown={(typed) => acts.fillDown(index, column, typed)}
        paste={(pasted) => acts.paste(index, column, pasted)}
      />
    )
    return (
      <tr>
        <td className="font-mono text-faint">{index + 1}</td>
        <td>{cell('name', name, 'font-mono !w-48', edit?.name !== undefined)}</td>
        <td>{cell('hostId', place.host?.name ?? '', '!w-32', edit?.hostId !== undefined)}</td>
        <td>{cell('address', address ?? '', 'font-mono !w-36', edit?.address !== undefined)}</td>
        <td>{cell('storeId', place.stores[0]?.name ?? '', '!w-28', edit?.storeId !== undefined)}</td>
        <td>{cell('vcpu', String(vcpu), 'font-mono !w-16', vcpu !== template.vcpu)}</td>
        <td title={formatMiB(memoryMiB)}>
          {cell('memoryMiB', inputText(kinds.guest.fields.memoryMiB, memoryMiB), 'font-mono !w-24', memoryMiB !== template.memoryMiB)}
        </td>
        <td className="text-soft min-w-40">{place.verdict === 'fits' ? place.why : ''}</td>
        <td className="min-w-40">
          {findings.map(({ severity, sentence }) => (
            <p key={sentence} className="flex gap-1.5 items-baseline">
              <Mark of={severity} /> {sentence}
            </p>
          ))}
        </td>
      </tr>
    )
  },
  (before, after) => before.template === after.template && before.edit === after.edit && shownOf(before.row) === shownOf(after.row),
)

/** A cell that is typed into: taken as it is typed, so that what follows from it is seen. */
function Cell({
  label,
  column,
  text,
  className,
  take,
  fillDown,
  paste,
}: {
  label: string
  column: ColumnName
  text: string
  className: string
  take: (text: string) => boolean
  fillDown: (text: string) => void
  paste: (text: string) => void
}) {
  const [typed, setTyped] = useState<string>()
  const [isRead, setRead] = useState(true)
  const [isFocused, setFocused] = useState(false)
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    const step = event.altKey || event.ctrlKey || event.metaKey ? 0 : ({ ArrowDown: 1, ArrowUp: -1 }[event.key] ?? 0)
    if (step !== 0) {
      const cells = [...document.querySelectorAll<HTMLInputElement>(`input[data-column="${event.currentTarget.dataset['column']}"]`)]
      const next = cells[cells.indexOf(event.currentTarget) + step]
      if (!next) return
      event.preventDefault()
      next.focus()
      next.select()
      return
    }
    if (event.key !== 'd' || !(event.ctrlKey || event.metaKey)) return
    event.preventDefault()
    fillDown(typed ?? text)
  }
  const onPaste = (event: ClipboardEvent) => {
    const pasted = event.clipboardData.getData('text/plain')
    if (!/[\t\n]/.test(pasted.trim())) return
    event.preventDefault()
    setTyped(undefined)
    paste(pasted)
  }
  return (
    <input
      className={`field ${className}`}
      aria-label={label}
      title={typed ?? text}
      data-column={column}
      // The list of names is bound to the one cell that is typed into.
      list={!isFocused ? undefined : column === 'hostId' ? HOSTS : column === 'storeId' ? STORES : undefined}
      onFocus={() => setFocused(true)}
      spellCheck={false}
      value={typed ?? text}
      onKeyDown={onKeyDown}
      onPaste={onPaste}
      onChange={(event) => {
        setTyped(event.target.value)
        setRead(take(event.target.value))
      }}
      aria-invalid={!isRead}
      onBlur={() => {
        setFocused(false)
        if (isRead) setTyped(undefined)
      }}
    />
  )
}
