import {
  addressBlocks,
  contains,
  differingIps,
  formatNumber,
  nextFree,
  usedBlocks,
  type AddressBlock,
  type Prefix,
  type Subnet,
} from '@insel/core'
import { useMemo, useRef } from 'react'
import { useEstate } from '../../estate'
import { useSetQueryParam } from '../../lib/query-param'
import { textScale } from '../../lib/text-scale'
import { useWidth } from '../../lib/use-width'
import { Button } from '../../ui/button'
import { DiffersMark, differsInWords } from '../../ui/differs'
import { Mark } from './address-ruler'
import { shortName } from './block-geometry'

/** Room for the name of a part and its count. */
const LEAST_PX = 52

/** A large prefix as parts on ruled lines, with how much is in each; in IPv6 only those with something in them. */
export function BlockRuler({
  subnet,
  within,
  open,
  chosen,
}: {
  subnet: Subnet
  within: Prefix
  open: (prefix: Prefix) => void
  chosen?: string
}) {
  const { estate, ahead } = useEstate()
  const setParam = useSetQueryParam()
  const box = useRef<HTMLUListElement>(null)
  const width = useWidth(box, 880)
  const isSix = within.family === 6
  const blocks = useMemo(
    () => (isSix ? usedBlocks(estate, subnet) : addressBlocks(estate, subnet, within)),
    [estate, subnet, within, isSix],
  )
  const differing = useMemo(() => (ahead ? differingIps(ahead, subnet.id) : []), [ahead, subnet.id])
  if (blocks.length === 0)
    return (
      <p className="text-soft text-dense">
        Nothing is recorded in {within.text} yet; only the parts in use are drawn.{' '}
        <Button look="quiet" className="!min-h-7" onClick={() => setParam('at', nextFree(estate, subnet))}>
          Open its first part
        </Button>
      </p>
    )
  const perLine = isSix ? 1 : Math.min(blocks.length, [16, 8, 4].find((count) => width / count >= LEAST_PX * textScale()) ?? 4)
  return (
    <ul
      ref={box}
      aria-label={`Parts of ${within.text}`}
      className={`grid gap-y-2 ${isSix ? 'max-w-md' : ''}`}
      style={{ gridTemplateColumns: `repeat(${perLine}, minmax(0, 1fr))` }}
    >
      {blocks.map((block) => (
        <li key={block.prefix.text}>
          <Part
            block={block}
            name={perLine <= 4 ? block.prefix.text : shortName(within, block.prefix)}
            isChosen={chosen === undefined ? undefined : block.prefix.text === chosen}
            differs={differing.some((ip) => contains(block.prefix, ip))}
            open={() => open(block.prefix)}
          />
        </li>
      ))}
    </ul>
  )
}

/** One part as a stretch of the line: addresses recorded solid, DHCP ranges hatched, both to scale. */
function Part({
  block,
  name,
  isChosen,
  differs,
  open,
}: {
  block: AddressBlock
  name: string
  isChosen: boolean | undefined
  differs: boolean
  open: () => void
}) {
  const percent = (count: number) => `${Number((BigInt(count) * 10_000n) / (block.prefix.last - block.prefix.first + 1n)) / 100}%`
  const isUsed = block.recorded + block.pooled > 0
  const inWords = `${block.prefix.text}: ${formatNumber(block.recorded, 0)} recorded, ${formatNumber(block.pooled, 0)} in DHCP ranges${block.conflicts > 0 ? `, ${block.conflicts} in conflict` : ''}${differs ? `, ${differsInWords.changed}` : ''}`
  return (
    <button
      type="button"
      className={`relative w-full h-11 text-left border-l border-fill hover:bg-accent/10 ${isChosen ? 'bg-accent/15 outline-2 -outline-offset-2 outline outline-accent' : ''}`}
      aria-label={inWords}
      title={inWords}
      aria-pressed={isChosen}
      onClick={open}
    >
      <span className="absolute inset-x-0 top-0.5 px-1 flex gap-1 justify-between text-tiny">
        <span className={`font-mono truncate ${isUsed ? 'text-ink' : 'text-faint'}`}>{name}</span>
        {differs && <DiffersMark how="changed" />}
        {block.recorded > 0 && (
          <span className={block.conflicts > 0 ? 'text-ink font-medium' : 'text-soft'}>{formatNumber(block.recorded, 0)}</span>
        )}
      </span>
      <span aria-hidden className="absolute inset-x-0 bottom-1.5 h-3 border-b border-fill">
        {block.pooled > 0 && (
          <span
            className="absolute inset-y-0 left-0 hatch [--hatch:var(--rule)] border-t border-rule"
            style={{ width: percent(block.pooled) }}
          />
        )}
        {block.recorded > 0 && <span className="absolute bottom-0 left-0 h-2 bg-fill min-w-1" style={{ width: percent(block.recorded) }} />}
        {block.conflicts > 0 && (
          <span className="absolute right-1 inset-y-0 w-3">
            <Mark state="conflict" />
          </span>
        )}
      </span>
    </button>
  )
}
