import {
  addressBlocks,
  addressCells,
  contains,
  formatNumber,
  ipFromNumber,
  ipToNumber,
  isDrawnByAddress,
  isWithin,
  nextFree,
  parsePrefix,
  prefixAround,
  prefixOf,
  usedBlocks,
  type AddressBlock,
  type CellState,
  type Prefix,
  type Subnet,
} from '@insel/core'
import { useId, useMemo, useState, type KeyboardEvent } from 'react'
import { useSearchParams } from 'react-router'
import { useEstate } from '../../estate'
import { useSetQueryParam } from '../../lib/query-param'
import { Button } from '../../ui/button'
import { AddressPanel } from './address-panel'

const looks: Readonly<Record<CellState, string>> = {
  free: 'bg-track text-faint border-line',
  pool: 'hatch [--hatch:var(--line)] bg-track text-soft border-line',
  reserved: 'bg-sand-wash text-ink border-sand',
  fixed: 'bg-fill text-paper border-fill',
  'DHCP reservation': 'bg-track text-ink border-fill border-2',
  leased: 'hatch [--hatch:var(--line)] bg-track text-ink border-fill border-dashed',
  gateway: 'bg-accent text-accent-ink border-accent',
  'not for machines': 'bg-line/60 text-faint border-transparent',
  conflict: 'bg-error text-paper border-error underline decoration-2 underline-offset-2',
}
const legend: readonly CellState[] = ['free', 'pool', 'reserved', 'fixed', 'DHCP reservation', 'leased', 'gateway', 'conflict']

/** The subnet's addresses as a map of cells: a /24 on one look, larger prefixes by blocks that open; the address of the page keeps the place. */
export function AddressMap({ subnet }: { subnet: Subnet }) {
  const { estate } = useEstate()
  const [params] = useSearchParams()
  const setParam = useSetQueryParam()
  const whole = prefixOf(subnet)
  const at = params.get('at') ?? ''
  const inHere = at !== '' && contains(whole, at)
  const [opened, setOpened] = useState<string>()
  const openedPart = opened ? parsePrefix(opened) : undefined
  const full = whole.family === 4 ? 32 : 128
  // A prefix of a few /24 shows its parts and the open one together.
  const isFew = whole.family === 4 && !isDrawnByAddress(whole) && whole.bits >= full - 10
  const part: Prefix =
    inHere && !isDrawnByAddress(whole)
      ? prefixAround(at, full - 8)
      : openedPart && isWithin(openedPart, whole)
        ? openedPart
        : isFew
          ? prefixAround(ipFromNumber(whole.family, whole.first), full - 8)
          : whole
  const open = (prefix: Prefix | undefined) => {
    setOpened(prefix?.text)
    setParam('at', undefined)
  }
  const free = nextFree(estate, subnet)
  return (
    <div>
      <p className="flex flex-wrap gap-x-4 gap-y-1 items-center text-[13px] my-1.5">
        {part.text !== whole.text && !isFew && (
          <Button
            look="quiet"
            className="!min-h-6 !px-0"
            onClick={() =>
              open(
                part.bits > full - 8 || part.bits - 8 < whole.bits
                  ? undefined
                  : prefixAround(ipFromNumber(part.family, part.first), part.bits - 8),
              )
            }
          >
            Back to {part.bits - 8 < whole.bits ? whole.text : `/${part.bits - 8}`}
          </Button>
        )}
        <span className="font-mono">{part.text}</span>
        {free && (
          <Button look="quiet" className="!min-h-6 !px-0" onClick={() => setParam('at', free)}>
            Next free: <span className="font-mono">{free}</span>
          </Button>
        )}
      </p>
      {isFew && (
        <div className="mb-2">
          <Blocks subnet={subnet} within={whole} open={open} chosen={part.text} />
        </div>
      )}
      {isDrawnByAddress(part) ? (
        <Cells key={part.text} subnet={subnet} part={part} at={inHere ? at : undefined} />
      ) : (
        <Blocks subnet={subnet} within={part} open={open} />
      )}
      <p className="flex flex-wrap gap-x-4 gap-y-1 text-[12.5px] text-soft mt-2">
        {legend.map((state) => (
          <span key={state} className="inline-flex items-center gap-1.5">
            <span aria-hidden className={`inline-block size-3.5 border rounded-sm ${looks[state]}`} />
            {state}
          </span>
        ))}
      </p>
    </div>
  )
}

const COLUMNS = 32

/** Every address of a part as a cell. Arrows move, with shift they take a run, Escape lets go of it. */
function Cells({ subnet, part, at }: { subnet: Subnet; part: Prefix; at: string | undefined }) {
  const { estate } = useEstate()
  const id = useId()
  const cells = useMemo(() => addressCells(estate, subnet, part), [estate, subnet, part])
  const [anchor, setAnchor] = useState<number>()
  const { current, go } = useCursor(at, (ip) => {
    const found = Number(ipToNumber(ip) - part.first)
    return found >= 0 && found < cells.length ? found : undefined
  })
  const [low, high] = current === undefined ? [-1, -1] : [Math.min(anchor ?? current, current), Math.max(anchor ?? current, current)]
  const columns = cells.length >= COLUMNS ? COLUMNS : 16
  const choose = (index: number, isRun: boolean) => {
    const cell = cells[index]
    if (!cell) return
    setAnchor(isRun ? (anchor ?? current ?? index) : undefined)
    go(index, cell.ip)
  }
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -columns, ArrowDown: columns }[event.key]
    if (event.key === 'Escape') setAnchor(undefined)
    else if (event.key === 'Home') choose(0, event.shiftKey)
    else if (event.key === 'End') choose(cells.length - 1, event.shiftKey)
    else if (step === undefined) return
    else choose(Math.max(0, Math.min(cells.length - 1, (current ?? 0) + (current === undefined ? 0 : step))), event.shiftKey)
    event.preventDefault()
  }
  const chosen = current === undefined ? [] : cells.slice(low, high + 1)
  const rows = Array.from({ length: Math.ceil(cells.length / columns) }, (_, index) => cells.slice(index * columns, (index + 1) * columns))
  return (
    <div className="grid gap-y-3">
      <div
        role="grid"
        tabIndex={0}
        aria-label={`Addresses of ${part.text}`}
        aria-multiselectable
        aria-activedescendant={current === undefined ? undefined : `${id}-${current}`}
        onKeyDown={onKeyDown}
        className="overflow-x-auto w-fit max-w-full rounded-sm"
      >
        {rows.map((row, line) => (
          <div role="row" key={row[0]?.ip} className="flex">
            {row.map((cell, place) => {
              const index = line * columns + place
              const isChosen = index >= low && index <= high
              return (
                <div
                  key={cell.ip}
                  role="gridcell"
                  id={`${id}-${index}`}
                  aria-selected={isChosen}
                  aria-label={`${cell.ip}, ${cell.state}${cell.says === cell.state ? '' : `: ${cell.says}`}`}
                  title={`${cell.ip} ${cell.says}`}
                  onClick={(event) => choose(index, event.shiftKey)}
                  className={`w-[21px] h-6 m-px border rounded-[2px] text-[9.5px] leading-[22px] text-center font-mono cursor-pointer select-none ${looks[cell.state]} ${isChosen ? 'outline-2 outline-accent outline z-10' : ''}`}
                >
                  {lastPart(cell.ip)}
                </div>
              )
            })}
          </div>
        ))}
      </div>
      {chosen.length > 0 && (
        // While a run grows its panel stays the same: what is typed there already must not be lost.
        <AddressPanel key={chosen.length > 1 ? 'run' : chosen[0]?.ip} subnet={subnet} cells={chosen} done={() => setAnchor(undefined)} />
      )}
    </div>
  )
}

/**
 * The cell one stands on. The page's address keeps it and may lag behind quick keys: the next key counts from where one is, not
 * from where the address still is.
 */
function useCursor(at: string | undefined, indexOf: (ip: string) => number | undefined) {
  const setParam = useSetQueryParam()
  const [current, setCurrent] = useState(() => (at === undefined ? undefined : indexOf(at)))
  const [seen, setSeen] = useState(at)
  const [asked, setAsked] = useState<string>()
  if (asked !== undefined && at === asked) setAsked(undefined)
  if (at !== seen) {
    setSeen(at)
    // While the address catches up it is not followed back.
    if (asked === undefined || at === asked) setCurrent(at === undefined ? undefined : indexOf(at))
  }
  const go = (index: number, ip: string) => {
    setCurrent(index)
    setAsked(ip)
    setParam('at', ip)
  }
  return { current, go }
}

const lastPart = (ip: string) => (ip.includes(':') ? (ip.split(':').at(-1)?.slice(-2) ?? '') : (ip.split('.')[3] ?? ''))
const share = (block: AddressBlock) => Number((BigInt(block.recorded) * 1000n) / (block.prefix.last - block.prefix.first + 1n)) / 10

/** A large prefix as blocks with how much is in them; in IPv6 only those with something in them. */
function Blocks({ subnet, within, open, chosen }: { subnet: Subnet; within: Prefix; open: (prefix: Prefix) => void; chosen?: string }) {
  const { estate } = useEstate()
  const setParam = useSetQueryParam()
  const isSix = within.family === 6
  const blocks = useMemo(
    () => (isSix ? usedBlocks(estate, subnet) : addressBlocks(estate, subnet, within)),
    [estate, subnet, within, isSix],
  )
  if (blocks.length === 0)
    return (
      <p className="text-soft text-[13px]">
        Nothing is recorded in {within.text} yet; only the parts in use are drawn.{' '}
        <Button look="quiet" className="!min-h-6" onClick={() => setParam('at', nextFree(estate, subnet))}>
          Open its first part
        </Button>
      </p>
    )
  return (
    <ul
      aria-label={`Parts of ${within.text}`}
      className={
        isSix
          ? 'grid gap-1 max-w-md'
          : blocks.length <= 4
            ? 'flex gap-1'
            : 'grid grid-cols-[repeat(16,minmax(0,1fr))] gap-0.5 max-w-[720px]'
      }
    >
      {blocks.map((block) => {
        const isUsed = block.recorded + block.pooled > 0
        return (
          <li key={block.prefix.text}>
            <button
              type="button"
              className={`w-full border rounded-sm text-[10px] font-mono px-0.5 h-8 text-left leading-tight hover:border-accent ${block.prefix.text === chosen ? 'outline-2 outline outline-accent' : ''} ${block.conflicts > 0 ? 'border-error text-error' : isUsed ? 'border-fill' : 'border-line text-faint'}`}
              style={{
                background: isUsed
                  ? `linear-gradient(to top, color-mix(in srgb, var(--fill) 35%, transparent) ${Math.max(12, share(block))}%, transparent 0)`
                  : undefined,
              }}
              aria-label={`${block.prefix.text}: ${formatNumber(block.recorded, 0)} recorded, ${formatNumber(block.pooled, 0)} in pools${block.conflicts > 0 ? `, ${block.conflicts} in conflict` : ''}`}
              title={`${block.prefix.text}: ${block.recorded} recorded, ${block.pooled} in pools`}
              aria-pressed={chosen === undefined ? undefined : block.prefix.text === chosen}
              onClick={() => open(block.prefix)}
            >
              {isSix || blocks.length <= 4
                ? block.prefix.text
                : `.${
                    block.prefix.text
                      .split('/')[0]
                      ?.split('.')
                      .slice(within.bits >= 16 ? 2 : 1)
                      .join('.') ?? ''
                  }`}
              {block.recorded > 0 && <span className="float-right font-sans ml-2">{block.recorded}</span>}
            </button>
          </li>
        )
      })}
    </ul>
  )
}
