import { applyAll, type Command } from '../commands/index.js'
import { Estate, makeIds, seededRandom, type Kind, type NewRecord } from '../estate/index.js'
import { testContext } from './small-estate.js'

/** One adapter of a guest, or one interface of a host, as tests write it. */
export interface Plug {
  readonly net: string
  readonly ip?: string
  /** The network whose subnet holds the address, where it is another than the one it is plugged into. */
  readonly home?: string
  readonly length?: number
  readonly gateway?: string
  readonly isConnected?: boolean
}

/** Makes small estates for questions of who reaches whom: networks with a subnet each, hosts, guests with adapters. */
export class NetworkEstate {
  readonly #commands: Command[] = []
  readonly #ids = new Map<string, string>()
  readonly #newId: () => string
  #mac = 1

  constructor() {
    let tick = Date.UTC(2027, 0, 4)
    this.#newId = makeIds(() => tick++, seededRandom(4))
    this.#add('platform', 'shared', { name: 'Brackwater 5' })
    this.#add('platform', 'private', { name: 'Marram 2', translation: 'private segment' })
  }

  /** The id of what was made under a name. */
  id(name: string): string {
    const found = this.#ids.get(name)
    if (!found) throw new Error(`nothing is called ${name}`)
    return found
  }

  #add<K extends Kind>(kind: K, name: string, record: NewRecord<K>): void {
    const id = this.#newId()
    this.#ids.set(name, id)
    this.#commands.push({ type: `${kind}.add`, record: { id, ...record } } as unknown as Command)
  }

  record<K extends Kind>(kind: K, record: NewRecord<K>, name = `${kind} ${this.#commands.length}`): this {
    this.#add(kind, name, record)
    return this
  }

  /** A network with one subnet. */
  net(
    name: string,
    prefix: string,
    gateway: string | null = null,
    more: Partial<NewRecord<'network'>> = {},
    ofSubnet: Partial<NewRecord<'subnet'>> = {},
  ): this {
    this.#add('network', name, { name, ...more })
    this.#add('subnet', `${name}/subnet`, { networkId: this.id(name), prefix, gateway, ...ofSubnet })
    return this
  }

  pool(net: string, first: string, last: string): this {
    return this.record('pool', { subnetId: this.id(`${net}/subnet`), first, last })
  }

  /** A host with the networks it carries: `office` is bridged, `lab:translated` and the like are as said. */
  host(
    name: string,
    carries: string,
    {
      legs = [],
      platform = 'shared',
      ...more
    }: { legs?: readonly Plug[]; platform?: 'shared' | 'private' } & Partial<NewRecord<'host'>> = {},
  ): this {
    this.#add('host', name, { name, platformId: this.id(platform), coresPerSocket: 8, memoryMiB: 65536, ...more })
    for (const item of carries.split(' ').filter(Boolean)) {
      const [net = '', kind = 'bridged'] = item.split(':')
      this.#add('attachment', `${net}@${name}`, {
        hostId: this.id(name),
        networkId: this.id(net),
        kind: kind as NewRecord<'attachment'>['kind'] & string,
      })
    }
    for (const leg of legs) this.#address(leg, { hostId: this.id(name) }, `${name}.${leg.net}`)
    return this
  }

  guest(name: string, hostName: string | null, plugs: readonly Plug[], more: Partial<NewRecord<'guest'>> = {}): this {
    this.#add('guest', name, {
      name,
      kind: hostName ? 'machine' : 'external',
      hostId: hostName && this.id(hostName),
      state: 'running',
      vcpu: 1,
      memoryMiB: 512,
      ...more,
    })
    plugs.forEach((plug, index) => {
      const adapter = `${name}#${index + 1}`
      this.#add('adapter', adapter, {
        guestId: this.id(name),
        position: index + 1,
        networkId: this.id(plug.net),
        mac: `02:00:00:${[16, 8, 0].map((shift) => ((this.#mac >> shift) & 255).toString(16).padStart(2, '0')).join(':')}`,
        isConnected: plug.isConnected ?? true,
      })
      this.#mac++
      if (plug.ip) this.#address(plug, { adapterId: this.id(adapter) }, `${adapter}.ip`)
    })
    return this
  }

  #address({ net, home = net, ip = '', length, gateway }: Plug, owner: { hostId: string } | { adapterId: string }, name: string): void {
    this.#add('address', name, { subnetId: this.id(`${home}/subnet`), ip, length: length ?? null, gateway: gateway ?? null, ...owner })
  }

  /** The estate. @throws CommandError when what was written is refused */
  estate(): Estate {
    const first = { id: this.#newId(), name: 'Test', domain: 'skerry.example', timeZone: 'UTC', archivedAt: null, note: '' }
    return applyAll(Estate.fromRecords({ estate: [first] }), this.#commands, testContext(9)).estate
  }
}

/** An estate in which nothing of its networks is wrong: two segments, a host with a wired switch, guests, a router between. */
export function soundNetwork(): NetworkEstate {
  const net = new NetworkEstate()
    .net('office', '10.1.0.0/24', '10.1.0.1', { vlanId: 10 })
    .net('storage', '10.2.0.0/24', null, { vlanId: 20, role: 'storage', mtu: 9000 })
    .net('lab', '10.3.0.0/24', '10.3.0.1', { vlanId: 30, role: 'lab' })
    .pool('office', '10.1.0.100', '10.1.0.199')
    .host('gannet', '', { fingerprint: 'AB:CD' })
  net.record('switch', { hostId: net.id('gannet'), name: 'sw0', taggedVlans: '10,20,30', mtu: 9000 }, 'sw0')
  for (const name of ['office', 'storage', 'lab'])
    net.record('attachment', { hostId: net.id('gannet'), networkId: net.id(name), switchId: net.id('sw0') }, `${name}@gannet`)
  for (const name of ['eno1', 'eno2'])
    net.record('port', { hostId: net.id('gannet'), name, switchId: net.id('sw0'), cable: 'present' }, name)
  return net
    .guest('desk', 'gannet', [{ net: 'office', ip: '10.1.0.9' }])
    .guest(
      'gate',
      'gannet',
      [
        { net: 'office', ip: '10.1.0.254' },
        { net: 'lab', ip: '10.3.0.1' },
      ],
      { isRouter: true },
    )
    .guest('bench', 'gannet', [{ net: 'lab', ip: '10.3.0.9' }])
}
