import { type Command } from '../commands/index.js'
import { canonicalIp, kinds, readField, type Estate } from '../estate/index.js'
import type { RejectedLine } from '../names/index.js'
import { subnetHolding } from '../networks/index.js'

/** Addresses seen in use, as commands; and the lines that say none. */
export interface SeenReading {
  readonly commands: readonly Command[]
  readonly rejected: readonly RejectedLine[]
}

const MAC = /^([0-9a-f]{2}[:-]){5}[0-9a-f]{2}$/i
/** Words of `ip neigh`, `arp` and the like that are no name. */
const words = new Set([
  'dev',
  'lladdr',
  'reachable',
  'stale',
  'delay',
  'permanent',
  'noarp',
  'ether',
  'at',
  'on',
  'c',
  '*',
  '-',
  '?',
  'router',
  'proxy',
])

/**
 * Reads which address was seen with which MAC: lines of `ip neigh`, `arp -n`, a DHCP server’s leases of one line each, or just
 * an address and a MAC, with a name if there is one. What was seen before at an address is replaced.
 *
 * @param now when it was seen, ISO 8601 in UTC
 * @see ip-neighbour(8), arp(8) of the Linux manual pages
 * @example readSeen(estate, '10.61.40.101 dev eth0 lladdr 00:00:5e:00:53:c0 REACHABLE', now, newId).commands.length // 1
 */
export function readSeen(estate: Estate, text: string, now: string, newId: () => string): SeenReading {
  const rejected: RejectedLine[] = []
  const seen = new Map<string, Command>()
  text.split(/\r?\n/).forEach((raw, index) => {
    const line = raw.trim()
    if (line === '' || line.startsWith('#') || /^address\s+hwtype/i.test(line)) return
    const reject = (reason: string) => rejected.push({ line: index + 1, text: line, reason })
    const parts = line.split(/[\s,;()]+/).filter(Boolean)
    const ip = parts.map((part) => canonicalIp(part)).find(Boolean)
    const mac = parts.find((part) => MAC.test(part))
    if (!ip) return void reject('It has no address.')
    if (!mac) return void reject(/failed|incomplete/i.test(line) ? 'No machine answered.' : 'It has no MAC.')
    const reading = readField(kinds.lease.fields.mac, mac)
    if (!reading.ok) return void reject(reading.sentence)
    const subnet = subnetHolding(estate, ip)
    if (!subnet) return void reject(`${ip} is in no recorded subnet.`)
    const name =
      parts.find(
        (part, place) =>
          part !== mac &&
          !canonicalIp(part) &&
          !words.has(part.toLowerCase()) &&
          parts[place - 1]?.toLowerCase() !== 'dev' &&
          /[a-z]/i.test(part) &&
          !/^([0-9a-f]{2}:){6,}/i.test(part),
      ) ?? null
    const changes = { mac: reading.value as string, name, seenAt: now }
    const before = estate.byKey('lease', { ip }).find(({ subnetId }) => subnetId === subnet.id)
    seen.set(
      ip,
      before
        ? { type: 'lease.update', id: before.id, changes }
        : { type: 'lease.add', record: { id: newId(), subnetId: subnet.id, ip, ...changes } },
    )
    return undefined
  })
  return { commands: [...seen.values()], rejected }
}
