import { storeSpace } from '../capacity/index.js'
import { touchedRecords, type Difference, type Estate, type Host, type Kind, type RecordEntry } from '../estate/index.js'
import { counted } from '../units/index.js'
import { guestsWithoutCopy } from './data-lost.js'
import { packed } from './failover.js'
import { diskLoad, ownParts, standingOf, type Parts } from './failover-loads.js'

/** Of how many hosts in service each alone could fail (N+1): with room for its guests elsewhere, with a copy of their data, with both. */
export interface FailoverCount {
  readonly inService: number
  /** All of its running guests have room on the others. */
  readonly withRoom: number
  /** None of its running guests loses data of which no backup is elsewhere. */
  readonly withData: number
  readonly withBoth: number
}

/**
 * How many hosts could fail, in words: the same everywhere it is said.
 *
 * @example sayFailover({ inService: 5, withRoom: 1, withData: 3, withBoth: 0 }) // 'Of 5 hosts in service, 0 could fail alone without a loss: …'
 */
export const sayFailover = ({ inService, withRoom, withData, withBoth }: FailoverCount): string =>
  inService === 0
    ? 'No host is in service.'
    : `Of ${counted(inService, 'host')} in service, ${withBoth === inService ? (inService === 1 ? 'it' : 'any one') : withBoth} could fail alone without a loss: ${withRoom} with room elsewhere for all running guests, ${withData} with a copy elsewhere of all their data.`

/** Counts what was worked out for each host. */
export const countFailover = (outcomes: readonly { readonly hasRoom: boolean; readonly hasData: boolean }[]): FailoverCount => ({
  inService: outcomes.length,
  withRoom: outcomes.filter(({ hasRoom }) => hasRoom).length,
  withData: outcomes.filter(({ hasData }) => hasData).length,
  withBoth: outcomes.filter(({ hasRoom, hasData }) => hasRoom && hasData).length,
})

const PLACED_BY: ReadonlySet<Kind> = new Set<Kind>(['attachment', 'host', 'store', 'image', 'snapshot', 'migration', 'leftover'])

/**
 * Counts the hosts that could fail without a loss on one estate after the other, each made of the one before by a difference. What a guest
 * is plugged into and what its disks take is worked out again where it changed alone, and a host is done with the first guest that finds
 * no room.
 *
 * @example new FailoverCounter(estate).after(next, difference).couldFail
 */
export class FailoverCounter {
  #parts: Parts
  readonly #dataKept = new Map<string, boolean>()

  constructor(private estate: Estate) {
    this.#parts = ownParts(estate)
  }

  /** On the estate as it is. */
  count(): FailoverCount {
    return countFailover(
      packed(this.estate, 0, 1, this.#parts).map(({ host, stranded }) => ({
        hasRoom: stranded.length === 0,
        hasData: this.#keepsData(host),
      })),
    )
  }

  #keepsData(host: Host): boolean {
    const known = this.#dataKept.get(host.id)
    if (known !== undefined) return known
    const isKept = guestsWithoutCopy(this.estate, host).length === 0
    this.#dataKept.set(host.id, isKept)
    return isKept
  }

  /** Forgets of which hosts the data may be otherwise: those of guests that changed, or all where a store, a host or who serves one did. */
  #forgetData(before: Estate, touched: readonly RecordEntry[]): void {
    for (const { kind, record } of touched) {
      if (kind !== 'guest' && kind !== 'disk' && kind !== 'store' && kind !== 'host') continue
      const guestId = kind === 'guest' ? record.id : kind === 'disk' ? (record as { guestId: string }).guestId : undefined
      const both = [before, this.estate]
      if (guestId === undefined || both.some((estate) => estate.referring('store', 'servedById', guestId).length > 0)) {
        this.#dataKept.clear()
        return
      }
      for (const estate of both) this.#dataKept.delete(estate.find('guest', guestId)?.hostId ?? '')
    }
  }

  /** On the next. @param difference what makes it of the one before */
  after(next: Estate, difference: Difference): FailoverCount {
    const before = this.estate
    this.estate = next
    const touched = touchedRecords(difference)
    this.#forgetData(before, touched)
    if (touched.some(({ kind }) => PLACED_BY.has(kind))) this.#parts = ownParts(next)
    else this.#patch(before, touched)
    return this.count()
  }

  #patch(before: Estate, touched: readonly RecordEntry[]): void {
    const { carriers, shelves } = this.#parts
    const guests = new Set<string>()
    const stores = new Set<string>()
    for (const { kind, record } of touched) {
      if (kind !== 'adapter' && kind !== 'disk') continue
      const { guestId, storeId } = record as { guestId: string; storeId?: string | null }
      guests.add(guestId)
      if (storeId) stores.add(storeId)
    }
    for (const id of guests) {
      carriers.plugAgain(id, this.estate.referring('adapter', 'guestId', id))
      shelves.ofGuest.set(
        id,
        this.estate.referring('disk', 'guestId', id).map((disk) => diskLoad(shelves.places, disk)),
      )
      // What was worked out for its host rests on what it had.
      for (const estate of [before, this.estate]) {
        const host = estate.find('host', estate.find('guest', id)?.hostId)
        if (host) standingOf.delete(host)
      }
    }
    for (const id of stores) {
      const [place, store] = [shelves.places.get(id), this.estate.find('store', id)]
      if (place !== undefined && store) shelves.free[place] = storeSpace(this.estate, store).freeBytes
    }
  }
}
