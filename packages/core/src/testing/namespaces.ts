import { execFile, execFileSync, spawnSync } from 'node:child_process'
import { promisify } from 'node:util'
import { isPrivate } from '../networks/index.js'
import { OUTSIDE, SITE_GATEWAY, type Topology } from '../reach/index.js'

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

/**
 * The machines of a topology as real network namespaces on this machine: a bridge for each segment, a cable for each
 * interface, the kernel's own routing, ARP, translation and filters. What answers a ping here, answers a ping.
 */
export class Namespaces {
  readonly #topology: Topology
  readonly #names = new Map<string, string>()
  readonly #prefix: string

  constructor(topology: Topology, tag: string) {
    this.#topology = topology
    this.#prefix = `insel-${process.pid}-${tag}`
  }

  /** Builds everything; call `remove` whatever happens. */
  build(): void {
    const machines = [...this.#topology.machines.values()].filter(({ isUp }) => isUp)
    const wires = `${this.#prefix}-w`
    this.#make('wires', wires)
    const segments = [...new Set(machines.flatMap(({ interfaces }) => interfaces.flatMap(({ segment }) => segment ?? [])))]
    ip(
      wires,
      segments.flatMap((_, index) => [`link add b${index} type bridge`, `link set b${index} up`]),
    )
    let cable = 0
    machines.forEach((machine, index) => {
      const name = `${this.#prefix}-${index}`
      this.#make(machine.id, name)
      // A machine answers for an address only where it has it; how the way back is chosen is not second-guessed.
      settings(name, ['ipv4/conf/all/arp_ignore=1', 'ipv4/conf/all/rp_filter=0', 'ipv4/conf/default/rp_filter=0'])
      const translated: string[] = []
      machine.interfaces.forEach((on, place) => {
        const [own, end] = [`e${place}`, `c${cable++}`]
        ip(name, [`link add ${own} type veth peer name ${end} netns ${wires}`, `link set ${own} up`])
        if (on.translates) translated.push(own)
        if (on.segment && on.isConnected) ip(wires, [`link set ${end} master b${segments.indexOf(on.segment)}`, `link set ${end} up`])
        // An unplugged adapter is no interface to the system in it.
        if (!on.isConnected) ip(name, [`link set ${own} down`])
        else for (const at of on.addresses) ip(name, [`addr add ${at.ip}/${at.near.bits} dev ${own}${at.family === 6 ? ' nodad' : ''}`])
      })
      for (const route of machine.routes) ip(name, [`route add ${route.prefix} via ${route.via}`], true)
      const gateways = machine.interfaces.flatMap((on) => (on.isConnected ? on.addresses : []))
      for (const family of [4, 6] as const) {
        const gateway = gateways.find((at) => at.family === family && at.gateway)?.gateway
        // The kernel refuses a gateway that is not near; so does the model.
        if (gateway) ip(name, [`${family === 6 ? '-6 ' : ''}route add default via ${gateway}`], true)
      }
      const forwards = machine.isRouter || translated.length > 0
      settings(name, [`ipv4/ip_forward=${Number(forwards)}`, `ipv6/conf/all/forwarding=${Number(forwards)}`])
      const rules = [...translationRules(translated, machine.isRouter), ...filterRules(machine.filters)]
      if (rules.length > 0) nft(name, rules)
    })
    this.#buildOutside()
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

  /** One ping from a machine to an address: whether an answer came within a second. */
  async ping(fromId: string, to: string): Promise<boolean> {
    const name = this.#names.get(fromId)
    if (!name) return false
    try {
      await run('ip', ['netns', 'exec', name, 'ping', '-n', '-c', '1', '-w', '1', to])
      return true
    } catch (error) {
      // 1: no answer; 2: the machine could not even send.
      const { code } = error as { code?: unknown }
      if (code === 1 || code === 2) return false
      throw error
    }
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

function settings(namespace: string, lines: readonly string[]): void {
  const script = lines
    .map((line) => line.split('='))
    .map(([path = '', value = '']) => `if [ -e /proc/sys/net/${path} ]; then echo ${value} > /proc/sys/net/${path}; fi`)
  execFileSync('ip', ['netns', 'exec', namespace, 'sh', '-c', script.join('\n')])
}

const nft = (namespace: string, rules: readonly string[]) =>
  execFileSync('ip', ['netns', 'exec', namespace, 'nft', '-f', '-'], { input: rules.join('\n') })

/** What a host that translates does: its guests go out in its name, and nothing new comes in. */
function translationRules(translated: readonly string[], isRouter: boolean): string[] {
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
