import type { Estate, Guest } from '../estate/index.js'
import { compareNames } from '../lists/index.js'

/** Why a guest waits for another. */
export interface Wait {
  readonly guest: Guest
  readonly seconds: number
  /** `recorded`, or what it was seen from. */
  readonly why: string
}

/** One guest in an order: when it is powered on, and what it waits for. */
export interface OrderStep {
  readonly guest: Guest
  /** Seconds from the beginning at which its turn comes at the earliest. */
  readonly atSeconds: number
  readonly after: readonly Wait[]
  /** What it needs that is not among the guests put in order. */
  readonly outside: readonly Wait[]
}

/** Guests in the order in which they are started; stopped the other way round. */
export interface StartOrder {
  readonly steps: readonly OrderStep[]
  /** Guests that wait for each other in a circle, each in the order of waiting; they have no place in the order. */
  readonly circles: readonly (readonly Guest[])[]
  /** Guests that wait for one in a circle, and so never get their turn. */
  readonly stuck: readonly Guest[]
}

/** Seconds after which a service that nobody timed is thought to be there. Common practice, no source. */
const USUAL_WAIT_SECONDS = 60
/** Seconds after which a nested host is up and runs guests. Common practice, no source. */
const NESTED_WAIT_SECONDS = 180

/**
 * What a guest waits for: what is recorded, the guest that serves a store its disks are on, the guest that is the nested
 * host it runs on, and the guests that resolve names for its subnets.
 *
 * @see facts of the trade: guests are stopped in reverse order of dependence; common practice, no source
 */
export function waitsOf(estate: Estate, guest: Guest): readonly Wait[] {
  const waits = new Map<string, Wait>()
  const add = (id: string | null | undefined, seconds: number, why: string) => {
    const other = estate.find('guest', id)
    if (other && other.id !== guest.id && !waits.has(other.id)) waits.set(other.id, { guest: other, seconds, why })
  }
  for (const { needsId, waitSeconds, note } of estate.referring('dependency', 'guestId', guest.id))
    add(needsId, waitSeconds, note === '' ? 'recorded' : note)
  for (const { storeId } of estate.referring('disk', 'guestId', guest.id)) {
    const store = estate.find('store', storeId)
    add(store?.servedById, USUAL_WAIT_SECONDS, `serves store ${store?.name ?? ''}`)
  }
  const outer = estate.find('host', guest.hostId)?.outerGuestId
  add(outer, NESTED_WAIT_SECONDS, 'is the host it runs on')
  // A name server does not wait for another: each resolves on its own.
  if (!servesNames(estate, guest))
    for (const server of nameServersOf(estate, guest)) add(server.id, USUAL_WAIT_SECONDS, 'resolves its names')
  return [...waits.values()]
}

/** Guests that some other may wait for: only among them can there be a circle. */
export function neededGuests(estate: Estate): readonly Guest[] {
  const ids = new Set([
    ...estate.all('dependency').map(({ needsId }) => needsId),
    ...estate.all('store').flatMap(({ servedById }) => servedById ?? []),
    ...estate.all('host').flatMap(({ outerGuestId }) => outerGuestId ?? []),
    ...estate
      .all('subnet')
      .flatMap(({ nameServers }) => nameServers?.split(' ') ?? [])
      .flatMap((ip) => estate.byKey('address', { ip }))
      .flatMap(({ adapterId }) => estate.find('adapter', adapterId)?.guestId ?? []),
  ])
  return [...ids].flatMap((id) => estate.find('guest', id) ?? [])
}

/** Guests whose addresses are name servers of a guest's subnets. */
function nameServersOf(estate: Estate, guest: Guest): readonly Guest[] {
  const ips = estate
    .referring('adapter', 'guestId', guest.id)
    .flatMap(({ networkId }) => (networkId ? estate.referring('subnet', 'networkId', networkId) : []))
    .flatMap(({ nameServers }) => nameServers?.split(' ') ?? [])
  return [...new Set(ips)].flatMap((ip) =>
    estate.byKey('address', { ip }).flatMap(({ adapterId }) => estate.find('guest', estate.find('adapter', adapterId)?.guestId) ?? []),
  )
}

/** Whether one of a guest's addresses is the name server of some subnet. */
function servesNames(estate: Estate, guest: Guest): boolean {
  const own = new Set(
    estate
      .referring('adapter', 'guestId', guest.id)
      .flatMap(({ id }) => estate.referring('address', 'adapterId', id))
      .map(({ ip }) => ip),
  )
  return estate.all('subnet').some(({ nameServers }) => nameServers?.split(' ').some((ip) => own.has(ip)) ?? false)
}

/**
 * Puts guests into an order in which each starts after what it waits for. Among equals: routers first, then by name.
 *
 * @param guests those to start; what they need besides is named, not started
 * @example startOrder(estate, guestsOfHost).steps.map(({ guest }) => guest.name) // ['names', 'files', 'newsroom']
 */
export function startOrder(estate: Estate, guests: readonly Guest[]): StartOrder {
  const isIn = new Set(guests.map(({ id }) => id))
  const waits = new Map(guests.map((guest) => [guest.id, waitsOf(estate, guest)]))
  const inside = (id: string) => (waits.get(id) ?? []).filter((wait) => isIn.has(wait.guest.id))
  const open = new Set([...guests].sort((a, b) => Number(b.isRouter) - Number(a.isRouter) || compareNames(a.name, b.name)))
  const at = new Map<string, number>()
  const steps: OrderStep[] = []
  for (;;) {
    const ready = [...open].filter((guest) => inside(guest.id).every((wait) => at.has(wait.guest.id)))
    if (ready.length === 0) break
    const wave = ready.map((guest): OrderStep => {
      const after = inside(guest.id)
      const atSeconds = Math.max(0, ...after.map((wait) => (at.get(wait.guest.id) ?? 0) + wait.seconds))
      return { guest, atSeconds, after, outside: (waits.get(guest.id) ?? []).filter((wait) => !isIn.has(wait.guest.id)) }
    })
    for (const step of wave) {
      at.set(step.guest.id, step.atSeconds)
      open.delete(step.guest)
    }
    steps.push(...wave)
  }
  const circles = circlesIn([...open], (guest) => inside(guest.id).map((wait) => wait.guest))
  const inCircle = new Set(circles.flat().map(({ id }) => id))
  return {
    steps: steps
      .map((step, index) => [step, index] as const)
      .sort(([a, i], [b, j]) => a.atSeconds - b.atSeconds || i - j)
      .map(([step]) => step),
    circles,
    stuck: [...open].filter(({ id }) => !inCircle.has(id)),
  }
}

/** The circles among guests that wait for each other: each found once, in the order of waiting. */
function circlesIn(guests: readonly Guest[], needs: (guest: Guest) => readonly Guest[]): readonly (readonly Guest[])[] {
  const circles: (readonly Guest[])[] = []
  const done = new Set<string>()
  for (const first of guests) {
    const path: Guest[] = []
    let guest: Guest | undefined = first
    while (guest && !done.has(guest.id) && !path.some(({ id }) => id === guest?.id)) {
      path.push(guest)
      guest = needs(guest).find((next) => guests.some(({ id }) => id === next.id))
    }
    const start = path.findIndex(({ id }) => id === guest?.id)
    if (start >= 0) circles.push(path.slice(start))
    for (const { id } of path) done.add(id)
  }
  return circles
}
