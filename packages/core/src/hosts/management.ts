import {
  contains,
  familyOf,
  ipToNumber,
  isLinkLocal,
  isNearGateway,
  parsePrefix,
  poolHolding,
  prefixAround,
  subnetHolding,
  usableRange,
} from '../networks/index.js'
import { addressOwner, isHostLabel, type Estate, type Host } from '../estate/index.js'
import { portsOf } from './ports.js'
import type { Severity } from '../lists/index.js'
import { type ManagementPlan, managementPlan } from './management-plan.js'
import type { ShownNetwork } from './shown-network.js'

/** One sign, named with what to do about it. */
export interface ManagementSign {
  readonly severity: Severity
  readonly sentence: string
  readonly remedy: string
}

/**
 * Compares what the installer shows with the record of a host and names each sign that it found no network, or the wrong
 * one.
 *
 * @see common practice for the signs; RFC 3927 (169.254.0.0/16), RFC 1123 (names), RFC 3021 (/31), IEEE 802.1Q (VLAN)
 */
export function checkManagement(estate: Estate, host: Host, shown: ShownNetwork, hasUnread = false): readonly ManagementSign[] {
  const plan = managementPlan(estate, host)
  return [
    ...(hasUnread && !shown.address ? [] : checkAddress(estate, shown, plan)),
    ...checkGateway(estate, shown, plan),
    ...checkNameServers(shown),
    ...checkName(estate, host, shown),
    ...checkVlan(shown, plan),
    ...checkPort(estate, host, shown),
    ...checkUplinks(estate, host),
  ]
}

function checkAddress(estate: Estate, { address, length }: ShownNetwork, plan: ManagementPlan): ManagementSign[] {
  const planned = plan.ip ? `${plan.ip}/${plan.length ?? '?'}` : undefined
  if (!address)
    return [{ severity: 'error', sentence: 'The installer shows no address.', remedy: `Set ${planned ?? 'a fixed address'} by hand.` }]
  const signs: ManagementSign[] = []
  if (familyOf(address) === 4 && contains(parsePrefix('169.254.0.0/16'), address))
    return [
      {
        severity: 'error',
        sentence: `${address} is self-assigned: no DHCP server answered (169.254.0.0/16, RFC 3927).`,
        remedy: `Check the cable: is it in the management port, is the link light on, does the switch port carry the VLAN? Then set ${planned ?? 'the planned address'} by hand.`,
      },
    ]
  if (plan.ip && address !== plan.ip)
    signs.push({
      severity: 'error',
      sentence: `The installer shows ${address}; planned is ${plan.ip}.`,
      remedy: `Set ${planned ?? plan.ip} as a fixed address, or change the plan.`,
    })
  if (length !== undefined && plan.length !== undefined && length !== plan.length)
    signs.push({
      severity: 'error',
      sentence: `The mask is /${length}, recorded is /${plan.length}: the host treats remote machines as local, or the other way round.`,
      remedy: `Set the prefix length ${plan.length}.`,
    })
  const subnet = subnetHolding(estate, address)
  if (!subnet)
    signs.push({
      severity: 'warning',
      sentence: `${address} is in no recorded subnet.`,
      remedy: 'The cable may be in a port of another network; check which switch port it leads to, or add the subnet.',
    })
  else {
    const pool = poolHolding(estate, subnet.id, address)
    if (pool)
      signs.push({
        severity: 'error',
        sentence: `${address} is in the DHCP range ${pool.first} to ${pool.last}: the server may assign it to another machine.`,
        remedy: 'Choose a fixed address outside every DHCP range.',
      })
    const other = plan.ip === address ? undefined : estate.byKey('address', { ip: address })[0]
    if (other)
      signs.push({
        severity: 'error',
        sentence: `${address} is recorded for ${addressOwner(estate, other)}.`,
        remedy: 'Use the planned address.',
      })
  }
  if (length !== undefined) {
    const around = prefixAround(address, length)
    const usable = usableRange(around)
    const number = ipToNumber(address)
    if (number < usable.first)
      signs.push({
        severity: 'error',
        sentence: `${address}/${length} is the network’s own address, not a host’s.`,
        remedy: 'Choose another address.',
      })
    else if (number > usable.last)
      signs.push({ severity: 'error', sentence: `${address}/${length} is the broadcast address.`, remedy: 'Choose another address.' })
  }
  return signs
}

function checkGateway(estate: Estate, { address, length, gateway }: ShownNetwork, plan: ManagementPlan): ManagementSign[] {
  const planned = plan.subnet?.gateway ?? undefined
  const set = planned ? `Set the gateway ${planned}.` : 'Set the gateway of the subnet.'
  if (!gateway || gateway === '0.0.0.0' || gateway === '::')
    return planned || gateway
      ? [
          {
            severity: 'error',
            sentence: `The gateway is ${gateway ?? 'not set'}: the host cannot reach anything outside its own subnet.`,
            remedy: set,
          },
        ]
      : []
  const signs: ManagementSign[] = []
  if (address && length !== undefined && familyOf(address) === familyOf(gateway) && !isNearGateway(prefixAround(address, length), gateway))
    signs.push({
      severity: 'error',
      sentence: `The gateway ${gateway} is outside ${address}/${length}, so it cannot be reached.`,
      remedy: `${set} Check the mask as well.`,
    })
  // An IPv6 host shows the link-local address by which its router announces itself (RFC 4861), whatever the record calls it.
  if (isLinkLocal(gateway) && (!planned || familyOf(planned) === 6)) return signs
  if (planned && gateway !== planned)
    signs.push({ severity: 'error', sentence: `The gateway is ${gateway}; planned is ${planned}.`, remedy: set })
  else if (!planned && !estate.all('subnet').some((one) => one.gateway === gateway))
    signs.push({
      severity: 'warning',
      sentence: `The gateway ${gateway} belongs to no recorded subnet.`,
      remedy: 'Check where the cable leads.',
    })
  return signs
}

function checkNameServers({ nameServers, address }: ShownNetwork): ManagementSign[] {
  if (nameServers.length === 0)
    return [
      {
        severity: 'warning',
        sentence: 'No name server is set: the host cannot resolve names.',
        remedy: 'Set the estate’s name servers, two if there are two.',
      },
    ]
  const own = nameServers.find((server) => server.startsWith('127.') || server === '::1' || server === address)
  return own
    ? [
        {
          severity: 'error',
          sentence: `The name server is ${own}, the host itself, which is not a resolver: the installer fell back.`,
          remedy: 'Set the estate’s name servers.',
        },
      ]
    : []
}

function checkName(estate: Estate, host: Host, { hostName }: ShownNetwork): ManagementSign[] {
  const { fullName } = managementPlan(estate, host)
  const remedy = `Set ${fullName}.`
  if (!hostName || /^localhost(\.|$)/i.test(hostName))
    return [{ severity: 'error', sentence: `The host name is ${hostName ?? 'not set'}.`, remedy }]
  const parts = hostName.replace(/\.$/, '').split('.')
  const bad = parts.find((part) => !isHostLabel(part))
  if (bad !== undefined || hostName.length > 253)
    return [
      {
        severity: 'error',
        sentence: `“${hostName}” is not a host name: letters, digits and hyphens, up to 63 in a part, no hyphen at an end (RFC 1123).`,
        remedy,
      },
    ]
  if (parts.length === 1) return [{ severity: 'warning', sentence: `“${hostName}” is not fully qualified.`, remedy }]
  return hostName.toLowerCase().replace(/\.$/, '') === fullName
    ? []
    : [{ severity: 'warning', sentence: `The host name is ${hostName}; planned is ${fullName}.`, remedy }]
}

function checkVlan({ vlanId }: ShownNetwork, plan: ManagementPlan): ManagementSign[] {
  if (vlanId === undefined || vlanId === plan.vlanId) return []
  return [
    {
      severity: 'error',
      sentence: `The installer tags VLAN ${vlanId}; ${plan.networkName ?? 'the plan'} ${plan.vlanId === null ? 'is untagged' : `is VLAN ${plan.vlanId}`}.`,
      remedy:
        plan.vlanId === null
          ? 'Leave the VLAN empty.'
          : `Set VLAN ${plan.vlanId}, or leave it empty where the switch port is untagged in it.`,
    },
  ]
}

/** The port the screen speaks of: one of this host’s, with its MAC, and one that carries management. */
function checkPort(estate: Estate, host: Host, { port: name, mac }: ShownNetwork): ManagementSign[] {
  const ports = portsOf(estate, host)
  const byName = name === undefined ? undefined : ports.find((port) => port.name.toLowerCase() === name.toLowerCase())
  const byMac = mac === undefined ? undefined : ports.find((port) => port.mac === mac)
  const port = byName ?? byMac
  const carries = ports.filter(({ role }) => role === 'management')
  const useOne =
    carries.length > 0 ? `Choose ${carries.map((one) => one.name).join(' or ')}.` : 'Give it the management role, or choose another.'
  const signs: ManagementSign[] = []
  if (name !== undefined && !byName && !byMac && ports.length > 0)
    signs.push({
      severity: 'warning',
      sentence: `The installer speaks of ${name}; ${host.name} has no port of that name recorded.`,
      remedy: 'Installers name ports their own way: give the MAC it shows as well, or record the port.',
    })
  if (mac !== undefined && !byMac && (!byName || byName.mac !== null))
    signs.push({
      severity: 'error',
      sentence: byName
        ? `${byName.name} shows the MAC ${mac}; recorded is ${byName.mac ?? 'none'}.`
        : `The MAC ${mac} belongs to no recorded port of ${host.name}.`,
      remedy: 'Check that this is the right machine and the right port.',
    })
  if (port && port.role !== 'management')
    signs.push({
      severity: 'error',
      sentence: `The installer uses ${port.name}, which is planned for ${port.role ?? 'nothing yet'}, not for management.`,
      remedy: useOne,
    })
  return signs
}

function checkUplinks(estate: Estate, host: Host): ManagementSign[] {
  const ports = portsOf(estate, host).filter(({ role }) => role === 'management')
  const wired = ports.filter(({ medium }) => medium !== 'wireless')
  const signs: ManagementSign[] = ports
    .filter(({ medium }) => medium === 'wireless')
    .map((port) => ({
      severity: 'error' as const,
      sentence: `${port.name} is Wi-Fi: it cannot carry the management network.`,
      remedy: 'Plan a wired port, or route: a Wi-Fi station cannot forward frames for other addresses (IEEE 802.11).',
    }))
  if (wired.length === 0)
    signs.push({
      severity: 'warning',
      sentence: 'No wired port is planned for management.',
      remedy: 'Give two ports the management role in the port plan, and make sure the installer uses them.',
    })
  else if (wired.length === 1)
    signs.push({
      severity: 'notice',
      sentence: `Management has one uplink, ${wired[0]?.name ?? ''}.`,
      remedy: 'Plan a second port, both active, so that one pulled cable does not cut the host off.',
    })
  for (const port of wired)
    if (port.cable === 'missing')
      signs.push({
        severity: 'warning',
        sentence: `${port.name} carries management and has no cable recorded.`,
        remedy: 'Plug it in, check the link light, and record it.',
      })
  return signs
}

/** What to do after the first boot, in order. Common practice, no source. */
export const firstChecks = [
  ['check-gateway', 'Ping the gateway'],
  ['check-name-server', 'Ping the name server'],
  ['check-name', 'Resolve its own name'],
  ['check-page', 'Open the management page'],
] as const
