import { execFile, execFileSync, spawnSync } from 'node:child_process'
import { promisify } from 'node:util'
import { carriesVlan, isPrivate } from '../networks/index.js'
import { OUTSIDE, SITE_GATEWAY, type Interface, type Topology } from '../reach/index.js'

const run = promisify(execFile)
const TRANSIT = { gateway: '198.18.0.1', outside: '198.18.0.2' }

/** Why this machine cannot build network namespaces, or undefined where it can. */
export function whyNoNamespaces(): string | undefined {
  if (process.platform !== 'linux' || process.getuid?.() !== 0) return 'network namespaces need root on Linux'
  for (const program of ['ip', 'nft', 'ping'])
    if (spawnSync('sh', ['-c', `command -v ${program}`]).status !== 0) return `${program} is not installed`
  const name = `insel-${process.pid}-try`
  const tried = spawnSync(
    'sh',
    [
      '-c',
      `ip netns add ${name} && ip -n ${name} link add br0 type bridge && ip -n ${name} link add e0 type veth peer name e1 && ` +
        `ip netns exec ${name} sh -c 'echo 1 > /proc/sys/net/ipv4/ip_forward' && ` +
        `ip netns exec ${name} nft 'add table ip t; add chain ip t p { type nat hook postrouting priority 100; }; add rule ip t p masquerade'`,
    ],
    { encoding: 'utf8' },
  )
  spawnSync('ip', ['netns', 'del', name])
  return tried.status === 0 ? undefined : `this machine refuses: ${tried.stderr.trim().split('\n').at(-1) ?? ''}`
}

/** How this kernel keeps VLANs apart on one cable: IEEE 802.1Q tags where it has them, else VXLAN (RFC 7348), tagging alike. */
export type Tagging = '802.1Q' | 'VXLAN'

/** The kind of tag this machine's kernel can put on a frame, or undefined where it has none. */
export function taggingHere(): Tagging | undefined {
  const name = `insel-${process.pid}-tag`
  const can = (link: string) => spawnSync('ip', ['-n', name, ...`link add ${link}`.split(' ')]).status === 0
  spawnSync('ip', ['netns', 'add', name])
  try {
    if (!can('e0 type veth peer name e1')) return undefined
    return can('link e0 name v0 type vlan id 40') ? '802.1Q' : can('v1 type vxlan id 40 dev e0 dstport 4789') ? 'VXLAN' : undefined
  } finally {
    spawnSync('ip', ['netns', 'del', name])
  }
}

/** A cable from a host's recorded switch to the far end, with the networks that are bridged to it. */
interface Trunk {
  readonly tagged: string | null
  readonly farTagged: string | null
  readonly networks: readonly { readonly id: string; readonly vlan: number; readonly inside: string }[]
}

/**
 * The machines of a topology as real network namespaces on this machine: a bridge for each segment, a cable for each
 * interface, the kernel's own routing, ARP, translation and filters. What answers a ping here, answers a ping.
 *
 * Where a host's switch is recorded with tagged VLANs, the model's segments are not believed: the host's bridges and the far
 * end's are joined by one cable, and the kernel's tags decide what passes.
 */
export class Namespaces {
  readonly #topology: Topology
  readonly #names = new Map<string, string>()
  readonly #prefix: string
  readonly #tagging: Tagging | undefined
  readonly #bridges: string[] = []

  constructor(topology: Topology, tag: string, tagging?: Tagging) {
    this.#topology = topology
    this.#prefix = `insel-${process.pid}-${tag}`
    this.#tagging = tagging
  }

  /** Builds everything; call `remove` whatever happens. */
  build(): void {
    const machines = [...this.#topology.machines.values()].filter(({ isUp }) => isUp)
    const wires = `${this.#prefix}-w`
    this.#make('wires', wires)
    const trunks = this.#trunks()
    const insides = new Set(trunks.flatMap(({ networks }) => networks.map(({ inside }) => inside)))
    const segmentOf = (on: Interface): string | undefined => {
      const { machine, networkId, segment } = on
      const hostId = machine.kind === 'host' ? machine.id : this.#topology.estate.find('guest', machine.id)?.hostId
      const inside = `${networkId ?? ''}@${hostId ?? ''}`
      return insides.has(inside) ? inside : segment
    }
    const bridge = (segment: string): string => {
      const known = this.#bridges.indexOf(segment)
      if (known >= 0) return `b${known}`
      const name = `b${this.#bridges.push(segment) - 1}`
      ip(wires, [`link add ${name} type bridge`, `link set ${name} up`])
      return name
    }
    trunks.forEach((trunk, index) => this.#lay(trunk, index, bridge))
    let cable = 0
    machines.forEach((machine, index) => {
      const name = `${this.#prefix}-${index}`
      this.#make(machine.id, name)
      // A machine answers for an address only where it has it; how the way back is chosen is not second-guessed.
      settings(name, ['ipv4/conf/all/arp_ignore=1', 'ipv4/conf/all/rp_filter=0', 'ipv4/conf/default/rp_filter=0'])
      const translated: string[] = []
      const secluded: string[] = []
      machine.interfaces.forEach((on, place) => {
        const [own, end] = [`e${place}`, `c${cable++}`]
        ip(name, [`link add ${own} type veth peer name ${end} netns ${wires}`, `link set ${own} up`])
        if (on.translates) translated.push(own)
        if (on.translates && on.isPrivate) secluded.push(own)
        const segment = segmentOf(on)
        if (segment && on.isConnected) ip(wires, [`link set ${end} master ${bridge(segment)}`, `link set ${end} up`])
        // Private to each guest: the bridge passes nothing from one such port to another.
        if (segment && on.isPrivate && !on.translates) ip(wires, [`link set ${end} type bridge_slave isolated on`])
        // An unplugged adapter is no interface to the system in it.
        if (!on.isConnected) ip(name, [`link set ${own} down`])
        else for (const at of on.addresses) ip(name, [`addr add ${at.ip}/${at.near.bits} dev ${own}${at.family === 6 ? ' nodad' : ''}`])
      })
      for (const route of machine.routes) ip(name, [`route add ${route.prefix} via ${route.via}`], true)
      const gateways = machine.interfaces.flatMap((on) => (on.isConnected ? on.addresses : []))
      for (const family of [4, 6] as const) {
        const gateway = gateways.find((at) => at.family === family && at.gateway)?.gateway
        // The kernel refuses a gateway that is not directly connected; so does the model.
        if (gateway) ip(name, [`${family === 6 ? '-6 ' : ''}route add default via ${gateway}`], true)
      }
      const forwards = machine.isRouter || translated.length > 0
      settings(name, [`ipv4/ip_forward=${Number(forwards)}`, `ipv6/conf/all/forwarding=${Number(forwards)}`])
      const rules = [...translationRules(translated, secluded, machine.isRouter), ...filterRules(machine.filters)]
      if (rules.length > 0) nft(name, rules)
    })
    this.#buildOutside()
  }

  /** The cables of hosts whose switches are recorded. */
  #trunks(): readonly Trunk[] {
    const { estate } = this.#topology
    return estate.all('switch').map((own): Trunk => {
      const [port, second] = estate.referring('port', 'switchId', own.id)
      if (!port || second) throw new Error(`${own.name} is to have one uplink here`)
      const attachments = estate.referring('attachment', 'switchId', own.id)
      return {
        tagged: own.taggedVlans,
        farTagged: port.farVlans,
        networks: attachments.map(({ networkId, hostId }) => {
          const vlan = estate.find('network', networkId)?.vlanId
          if (!vlan) throw new Error(`${own.name} is to carry tagged networks here`)
          return { id: networkId, vlan, inside: `${networkId}@${hostId}` }
        }),
      }
    })
  }

  /** One cable: at each end an interface for each VLAN that the end carries, plugged into its bridge. */
  #lay({ tagged, farTagged, networks }: Trunk, index: number, bridge: (segment: string) => string): void {
    const wires = this.#name('wires')
    const far = `${this.#prefix}-f${index}`
    this.#make(`far ${index}`, far)
    const [near, end] = [`198.18.${index}.1`, `198.18.${index}.2`]
    ip(wires, [`link add t${index} type veth peer name far netns ${far}`, `addr add ${near}/30 dev t${index}`, `link set t${index} up`])
    ip(far, [`addr add ${end}/30 dev far`, 'link set far up'])
    const tag = (cable: string, vlan: number, own: string, other: string) =>
      this.#tagging === '802.1Q'
        ? `link add link ${cable} name ${cable}.${vlan} type vlan id ${vlan}`
        : `link add ${cable}.${vlan} type vxlan id ${vlan} dev ${cable} local ${own} remote ${other} dstport ${4789 + index}`
    for (const { id, vlan, inside } of networks) {
      if (carriesVlan(tagged, vlan))
        ip(wires, [
          tag(`t${index}`, vlan, near, end),
          `link set t${index}.${vlan} master ${bridge(inside)}`,
          `link set t${index}.${vlan} up`,
        ])
      // Beyond the far end the network's own wire goes on, from a port that carries it.
      ip(far, [
        `link add b${vlan} type bridge`,
        `link set b${vlan} up`,
        `link add a${vlan} type veth peer name p${index}-${vlan} netns ${wires}`,
      ])
      ip(far, [`link set a${vlan} master b${vlan}`, `link set a${vlan} up`])
      ip(wires, [`link set p${index}-${vlan} master ${bridge(`wire of ${id}`)}`, `link set p${index}-${vlan} up`])
      if (farTagged === null || carriesVlan(farTagged, vlan))
        ip(far, [tag('far', vlan, end, near), `link set far.${vlan} master b${vlan}`, `link set far.${vlan} up`])
    }
  }

  #buildOutside(): void {
    const [gateway, outside] = [this.#name(SITE_GATEWAY), this.#name(OUTSIDE)]
    ip(gateway, [`link add out type veth peer name in netns ${outside}`, `addr add ${TRANSIT.gateway}/30 dev out`, 'link set out up'])
    ip(outside, [`addr add ${TRANSIT.outside}/30 dev in`, 'link set in up', 'addr add 203.0.113.250/32 dev lo'])
    ip(gateway, [`route add default via ${TRANSIT.outside}`])
    const legs = this.#topology.machines.get(SITE_GATEWAY)?.interfaces.flatMap(({ addresses }) => addresses) ?? []
    for (const { near, family, ip: own } of legs)
      if (family === 4 && !isPrivate(own)) ip(outside, [`route add ${near.text} via ${TRANSIT.gateway}`])
    nft(gateway, [
      'add table ip site',
      'add chain ip site out { type nat hook postrouting priority 100; }',
      'add rule ip site out oifname "out" ip saddr { 10.0.0.0/8, 172.16.0.0/12, 192.168.0.0/16 } masquerade',
    ])
  }

  /** Pings from a machine to an address, once a second: whether an answer came in time. */
  async ping(fromId: string, to: string, seconds = 1): Promise<boolean> {
    const name = this.#names.get(fromId)
    if (!name) return false
    try {
      await run('ip', ['netns', 'exec', name, 'ping', '-n', '-c', '1', '-w', String(seconds), to])
      return true
    } catch (error) {
      // 1: no answer; 2: the machine could not even send.
      const { code } = error as { code?: unknown }
      if (code === 1 || code === 2) return false
      throw error
    }
  }

  /** The hardware address of a machine's first interface. */
  mac(id: string): string {
    return readFirst(this.#name(id), 'link show dev e0', /link\/ether (\S+)/)
  }

  /** The hardware address that a machine has learnt for a neighbour. */
  neighbour(id: string, of: string): string {
    return readFirst(this.#name(id), `neigh show ${of}`, /lladdr (\S+)/)
  }

  /** Makes a machine forget whom it has learnt. */
  forget(id: string): void {
    ip(this.#name(id), ['neigh flush all'])
  }

  /** Takes a machine's first interface down. */
  unplug(id: string): void {
    ip(this.#name(id), ['link set e0 down'])
  }

  /** Takes everything away again, also what was half built. */
  remove(): void {
    for (const name of this.#names.values()) spawnSync('ip', ['netns', 'del', name])
    this.#names.clear()
  }

  #make(id: string, name: string): void {
    execFileSync('ip', ['netns', 'add', name])
    this.#names.set(id, name)
    ip(name, ['link set lo up'])
  }

  #name(id: string): string {
    const name = this.#names.get(id)
    if (!name) throw new Error(`${id} was not built`)
    return name
  }
}

function ip(namespace: string, lines: readonly string[], mayBeRefused = false): void {
  const done = spawnSync('ip', ['-n', namespace, '-batch', '-'], { input: lines.join('\n'), encoding: 'utf8' })
  if (done.status !== 0 && !mayBeRefused) throw new Error(`ip ${lines.join('; ')}: ${done.stderr}`)
}

function readFirst(namespace: string, asked: string, what: RegExp): string {
  const said = execFileSync('ip', ['-n', namespace, ...asked.split(' ')], { encoding: 'utf8' })
  const found = what.exec(said)?.[1]
  if (!found) throw new Error(`ip ${asked} says: ${said}`)
  return found
}

function settings(namespace: string, lines: readonly string[]): void {
  const script = lines
    .map((line) => line.split('='))
    .map(([path = '', value = '']) => `if [ -e /proc/sys/net/${path} ]; then echo ${value} > /proc/sys/net/${path}; fi`)
  execFileSync('ip', ['netns', 'exec', namespace, 'sh', '-c', script.join('\n')])
}

const nft = (namespace: string, rules: readonly string[]) =>
  execFileSync('ip', ['netns', 'exec', namespace, 'nft', '-f', '-'], { input: rules.join('\n') })

/** What a host that translates does: its guests go out in its name, and nothing new comes in. */
function translationRules(translated: readonly string[], secluded: readonly string[], isRouter: boolean): string[] {
  if (translated.length === 0) return []
  const inner = `{ ${translated.join(', ')} }`
  return [
    'add table ip host',
    'add chain ip host out { type nat hook postrouting priority 100; }',
    ...translated.map((leg) => `add rule ip host out iifname "${leg}" oifname != "${leg}" masquerade`),
    'add chain ip host through { type filter hook forward priority 0; policy drop; }',
    'add rule ip host through ct state established,related accept',
    ...translated.map((leg) => `add rule ip host through iifname "${leg}" oifname "${leg}" accept`),
    `add rule ip host through iifname ${inner} oifname != ${inner} accept`,
    ...(isRouter ? [`add rule ip host through iifname != ${inner} oifname != ${inner} accept`] : []),
    // A translation private to a guest answers it, and asks it nothing.
    'add chain ip host own { type filter hook output priority 0; }',
    ...secluded.map((leg) => `add rule ip host own oifname "${leg}" ct state new drop`),
  ]
}

function filterRules(
  filters: Topology['machines'] extends ReadonlyMap<string, infer M> ? (M extends { filters: infer F } ? F : never) : never,
): string[] {
  if (filters.length === 0) return []
  return [
    'add table ip filter',
    ...['input', 'forward'].flatMap((hook) => [
      `add chain ip filter ${hook} { type filter hook ${hook} priority 10; }`,
      `add rule ip filter ${hook} ct state established,related accept`,
      ...filters.map((line) =>
        [
          `add rule ip filter ${hook}`,
          line.fromPrefix ? `ip saddr ${line.fromPrefix}` : '',
          line.toPrefix ? `ip daddr ${line.toPrefix}` : '',
          line.protocol ? `meta l4proto ${line.protocol}` : '',
          line.action === 'deny' ? 'drop' : 'accept',
        ].join(' '),
      ),
    ]),
  ]
}
