import {
  contains,
  ipFromNumber,
  isDrawnByAddress,
  isWithin,
  nextFree,
  parsePrefix,
  prefixAround,
  prefixOf,
  type Prefix,
  type Subnet,
} from '@insel/core'
import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { useEstate } from '../../estate'
import { useSetQueryParam } from '../../lib/query-param'
import { Button } from '../../ui/button'
import { AddressRuler, Mark } from './address-ruler'
import { BlockRuler } from './block-ruler'
import { isMark, spanLooks } from './looks'

const legend = ['free', 'DHCP range', 'reserved', 'fixed', 'DHCP reservation', 'leased', 'gateway', 'conflict', 'not assignable'] as const

/** The subnet's addresses as ruled lines: a /24 on one look, larger prefixes by parts that open; the address of the page keeps the place. */
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
      <p className="flex flex-wrap gap-x-4 gap-y-1 items-center text-dense my-1.5">
        {part.text !== whole.text && !isFew && (
          <Button
            look="quiet"
            className="!min-h-7 !px-0"
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
          <Button look="quiet" className="!min-h-7 !px-0" onClick={() => setParam('at', free)}>
            Next free: <span className="font-mono">{free}</span>
          </Button>
        )}
      </p>
      {isFew && (
        <div className="mb-2">
          <BlockRuler subnet={subnet} within={whole} open={open} chosen={part.text} />
        </div>
      )}
      {isDrawnByAddress(part) ? (
        <AddressRuler key={part.text} subnet={subnet} part={part} at={inHere ? at : undefined} />
      ) : (
        <BlockRuler subnet={subnet} within={part} open={open} />
      )}
      <p className="flex flex-wrap gap-x-4 gap-y-1 text-small text-soft mt-2">
        {legend.map((state) => (
          <span key={state} className="inline-flex items-center gap-1.5">
            <span aria-hidden className={`relative inline-flex justify-center h-4 ${isMark(state) ? 'w-3' : `w-6 ${spanLooks[state]}`}`}>
              <Mark state={state} />
            </span>
            {state}
          </span>
        ))}
      </p>
    </div>
  )
}
