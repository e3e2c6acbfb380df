import type { Estate } from '../estate/index.js'
import { carries } from '../hosts/index.js'
import { contains, prefixOf } from '../networks/index.js'
import { OUTSIDE, reach, ReachError } from '../reach/index.js'
import type { Precheck } from './check.js'
import { renamedDevices } from './device-names.js'
import { addressChange, isToMetal, type MoveView } from './move-view.js'

const MAPPED: Precheck = {
  id: 'networks',
  title: 'Networks',
  group: 'network',
  check({ estate, adapters, host, becomes, source }) {
    if (adapters.length === 0)
      return source.kind === 'external'
        ? {
            verdict: 'warning',
            sentence: `No network adapter of ${source.name} is recorded, so no address or MAC can pass over.`,
            remedy: 'Add its adapters, with their MACs and addresses.',
          }
        : undefined
    const unmapped = adapters.find(({ target }) => !target)
    if (unmapped)
      return {
        verdict: 'error',
        sentence: `Adapter ${unmapped.adapter.position} of ${source.name} has no counterpart on ${becomes?.name ?? 'the target'}.`,
        remedy: 'Add an adapter, or map it to one.',
      }
    if (!host || isToMetal({ becomes })) return { verdict: 'fine', sentence: 'Every adapter is mapped.' }
    const lost = adapters.find(({ networkId }) => networkId !== null && !carries(estate, host.id, networkId))
    if (lost) {
      const network = estate.find('network', lost.networkId)
      return {
        verdict: 'error',
        sentence: `${network?.name ?? 'Its network'}${network?.vlanId ? ` (VLAN ${network.vlanId})` : ''} is not attached to ${host.name}: adapter ${lost.adapter.position} would be cut off.`,
        remedy: `Attach ${network?.name ?? 'it'} to ${host.name}, or choose another network.`,
      }
    }
    return { verdict: 'fine', sentence: `Every adapter is mapped, and its networks are attached to ${host.name}.` }
  },
}

const NAMES_CHANGE: Precheck = {
  id: 'device-names',
  title: 'Device names',
  group: 'network',
  check(view) {
    const { method } = view
    if (method === 'rebuild and move the data') return undefined
    const changed = renamedOf(view)
    if (changed.length === 0) return undefined
    const files = [...new Set(changed.flatMap(({ namedIn }) => namedIn))]
    return {
      verdict: 'warning',
      sentence: `${changed.map(({ was, becomes }) => `${was} becomes ${becomes}`).join(', ')}: what is configured by the old name is without effect.`,
      evidence: [['named in', files.join(', ')]],
      remedy: 'Write them by MAC and by UUID before the copy, or have the new text ready: see First boot of the guest.',
    }
  },
}

/** The devices that are called otherwise after a move. */
export const renamedOf = (view: MoveView): ReturnType<typeof renamedDevices> => {
  const { estate, adapters, disks, source, sourceHost, becomes, host, system } = view
  const [from, to] = [estate.find('platform', sourceHost?.platformId), estate.find('platform', host?.platformId)]
  return renamedDevices({
    adapters: adapters.map(({ adapter, model, target }) => ({ adapter, model, targetName: becomes ? (target?.deviceName ?? null) : null })),
    disks: disks.map(({ disk, bus }) => ({ disk, bus })),
    isOtherBoard: from?.id !== to?.id || becomes !== undefined,
    family: system?.family ?? '',
    from,
    to,
    fromType: source.machineType,
    toType: becomes?.machineType ?? source.machineType,
  })
}

const ONE_HOLDER: Precheck = {
  id: 'one-holder',
  title: 'Address and MAC held once',
  group: 'network',
  check({ after, source, becomes, mapping }) {
    if (!becomes) return undefined
    const name = mapping.takesName === false ? source.name : becomes.name
    const of = (guestId: string) =>
      after.referring('adapter', 'guestId', guestId).map((adapter) => ({
        mac: adapter.mac,
        ips: after.referring('address', 'adapterId', adapter.id).map(({ ip }) => ip),
      }))
    const [left, taken] = [of(source.id), of(becomes.id)]
    const shared = left.find(({ mac, ips }) =>
      taken.some((other) => (mac !== null && mac === other.mac) || ips.some((ip) => other.ips.includes(ip))),
    )
    if (shared)
      return {
        verdict: 'error',
        sentence: `${source.name} and ${name} would both have ${shared.mac ?? shared.ips[0] ?? ''}.`,
        remedy: 'Let it pass over, or give the target its own.',
      }
    const kept = left.flatMap(({ ips }) => ips)
    return kept.length > 0
      ? {
          verdict: 'warning',
          sentence: `${kept.join(', ')} ${kept.length === 1 ? 'stays' : 'stay'} with the source: the target is on another network, or does not take addresses.`,
          remedy: 'Give the target addresses of its network, and change names, forwards and filters that use the old ones.',
        }
      : { verdict: 'fine', sentence: 'Addresses and MACs pass over in one go; source and target never hold one together.' }
  },
}

const GATEWAY: Precheck = {
  id: 'gateway',
  title: 'Prefix and gateway',
  group: 'network',
  check({ after, source, becomes }) {
    const machine = becomes ?? source
    for (const adapter of after.referring('adapter', 'guestId', machine.id)) {
      if (!adapter.networkId) continue
      const subnets = after.referring('subnet', 'networkId', adapter.networkId)
      for (const { ip } of after.referring('address', 'adapterId', adapter.id)) {
        const subnet = subnets.find((one) => contains(prefixOf(one), ip))
        if (!subnet)
          return {
            verdict: 'error',
            sentence: `${ip} is in no subnet of ${after.find('network', adapter.networkId)?.name ?? 'its network'}: it would reach nothing there.`,
            remedy: 'Give it an address of the new network.',
          }
      }
      if (subnets.length > 0 && after.referring('address', 'adapterId', adapter.id).length === 0)
        return {
          verdict: 'warning',
          sentence: `Adapter ${adapter.position} has no address on ${after.find('network', adapter.networkId)?.name ?? 'its network'} after the cut-over.`,
          remedy: 'Assign one as part of the move, or let DHCP give it one.',
        }
    }
    return undefined
  },
}

/** How many others are asked whether they are still reached. */
const PARTNERS = 8

const REACH: Precheck = {
  id: 'reach',
  title: 'Reach after the move',
  group: 'network',
  check({ estate, after, source, becomes, refusal }) {
    if (refusal || estate.referring('adapter', 'guestId', source.id).length === 0) return undefined
    const machine = becomes?.id ?? source.id
    const partners = partnersOf(estate, source.id).filter((id) => id !== machine)
    const asked = [OUTSIDE, ...partners]
    const said = (of: Estate, from: string, to: string) => {
      try {
        return reach(of, { from, to }).reaches
      } catch (error) {
        if (error instanceof ReachError) return false
        throw error
      }
    }
    const differing = asked.flatMap((to): string[] => {
      const [was, is] = [said(estate, source.id, to), said(after, machine, to)]
      const name = to === OUTSIDE ? 'outside' : (estate.find('guest', to)?.name ?? to)
      return was === is ? [] : [was ? `${name} is out of reach` : `${name} is reached now`]
    })
    const isWorse = differing.some((one) => one.endsWith('out of reach'))
    if (differing.length === 0)
      return {
        verdict: 'fine',
        sentence: `It reaches what it reached, of ${asked.length} asked: ${asked.map((to) => (to === OUTSIDE ? 'outside' : (estate.find('guest', to)?.name ?? to))).join(', ')}.`,
      }
    return {
      verdict: isWorse ? 'error' : 'warning',
      sentence: `Reach differs after the move: ${differing.join(', ')}.`,
      evidence: [['asked', String(asked.length)]],
      remedy: 'Look at its networks and addresses there, and at forwards and filters on the way.',
    }
  },
}

/** The machines whose reach matters: those it needs or that need it, and one of each of its networks. */
function partnersOf(estate: Estate, guestId: string): readonly string[] {
  const needed = [
    ...estate.referring('dependency', 'guestId', guestId).map(({ needsId }) => needsId),
    ...estate.referring('dependency', 'needsId', guestId).map((one) => one.guestId),
  ]
  const near = estate.referring('adapter', 'guestId', guestId).flatMap(({ networkId }) => {
    const others = networkId ? estate.referring('adapter', 'networkId', networkId).filter((one) => one.guestId !== guestId) : []
    const first = others.find(
      (one) => estate.find('guest', one.guestId)?.state === 'running' && estate.referring('address', 'adapterId', one.id).length > 0,
    )
    return first ? [first.guestId] : []
  })
  return [...new Set([...needed, ...near])].slice(0, PARTNERS)
}

const NAME_TTL: Precheck = {
  id: 'names',
  title: 'Names in time',
  group: 'network',
  check(view) {
    const { then, gone } = addressChange(view)
    if (gone.length === 0 || then.length === 0) return undefined
    return {
      verdict: 'warning',
      sentence: `Its address changes from ${gone.join(', ')} to ${then.join(', ')}: who looked its name up keeps the old one until its time to live is over (an hour in zones written here).`,
      remedy: 'Lower the time to live of its records to five minutes, one old time to live before the cut-over.',
      isByHand: true,
    }
  },
}

/** Checks of networks: mapping, names of devices, addresses, who is reached. */
export const checksOfNetwork: readonly Precheck[] = [MAPPED, ONE_HOLDER, GATEWAY, REACH, NAMES_CHANGE, NAME_TTL]
