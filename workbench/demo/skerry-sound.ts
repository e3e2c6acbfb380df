import {
  applyAll,
  composeGuest,
  Estate,
  GiB,
  kinds,
  makeIds,
  readFields,
  readSpecLine,
  seededRandom,
  shippedPlatforms,
  shippedSystems,
  TiB,
  type Command,
  type CommandContext,
  type Kind,
  type NewRecord,
} from '@insel/core'

import { buildOfKittiwake, hardwareInService, platformsAndImages } from './skerry-hardware.js'
import { guestsLived } from './skerry-guests.js'
import { clonesOf } from './skerry-clones.js'
import { aukOf, movesOf } from './skerry-moves.js'
import { historyOf, smallerAtFirst, type Done } from './skerry-history.js'
import { acceptedOf, plansOf, type Recorded } from './skerry-plans.js'
import { networksLived } from './skerry-network.js'

/** When something of the story was done: so many days before it is told, at a minute of that day (UTC). */
export interface StoryTime {
  readonly daysAgo: number
  readonly minute: number
}

/** The story begins so many days before it is told. */
export const STORY_DAYS = 92

/** A list of commands that one person recorded in one go. */
export interface DemoBatch {
  readonly by: string
  readonly at: StoryTime
  readonly commands: readonly Command[]
}

/** The people of the demo estate, the first of them its maker. */
export const demoPeople = ['Ola Berg', 'Maren Holm', 'Tove Lind'] as const

/** When the guests in service were verified, as far as anybody did. */
const VERIFIED_AT = '2026-08-20T15:00:00.000Z'

/** What a guest of the demo has besides its spec line. */
interface Lived {
  readonly state?: 'planned' | 'running' | 'stopped'
  /** Store and space used of each disk, GiB. */
  readonly disks: readonly (readonly [store: string, usedGiB: number | null])[]
  readonly system?: string
  readonly backup?: string
  readonly note?: string
  readonly more?: Partial<NewRecord<'guest'>>
  /** Address of each adapter; `-` for none, left out for the next free one. */
  readonly ips?: readonly (string | undefined)[]
}

/** Keeps the estate while its story is written, so that later commands can name what earlier ones made. */
class Story {
  readonly batches: DemoBatch[] = []
  #estate: Estate
  #daysAgo = STORY_DAYS
  #minute = 8 * 60 + 10
  #meanwhile: Done[] = []
  readonly #context: CommandContext

  constructor(estateId: string, personId: string) {
    let tick = Date.UTC(2027, 0, 11, 7)
    this.#context = { newId: makeIds(() => tick++, seededRandom(61)), now: '2027-01-18T08:00:00.000Z', revision: 1 }
    const first = { id: estateId, name: 'Skerry Sound', domain: 'skerry.example', timeZone: 'Europe/London', archivedAt: null, note: '' }
    this.#estate = Estate.fromRecords({
      estate: [first],
      person: [{ id: personId, ...readFields(kinds.person.fields, { name: demoPeople[0] }) }],
      policy: [{ id: estateId, ...readFields(kinds.policy.fields, {}) }],
    })
  }

  /** What is recorded from here on was done on another day, from a time of the morning on. */
  on(daysAgo: number, hour = 8): void {
    this.#tellUntil(daysAgo)
    this.#daysAgo = daysAgo
    this.#minute = hour * 60 + 10
  }

  /** What else was done meanwhile is told in its place. */
  meanwhile(done: readonly Done[]): void {
    this.#meanwhile = [...done]
  }

  #tellUntil(daysAgo: number): void {
    for (let next = this.#meanwhile[0]; next && next.daysAgo > daysAgo; next = this.#meanwhile[0]) {
      this.#meanwhile.shift()
      if (next.daysAgo !== this.#daysAgo) [this.#daysAgo, this.#minute] = [next.daysAgo, 9 * 60 + 5]
      this.record(next.by, ...next.commands)
    }
  }

  record(by: (typeof demoPeople)[number], ...commands: Command[]): void {
    const personId = this.#estate.byKey('person', { name: by })[0]?.id
    this.#estate = applyAll(this.#estate, commands, { ...this.#context, personId }).estate
    this.batches.push({ by, commands, at: { daysAgo: this.#daysAgo, minute: this.#minute } })
    this.#minute += 17
  }

  newId(): string {
    return this.#context.newId()
  }

  id(kind: Kind, name: string): string {
    const found = this.#estate
      .all(kind)
      .find((record) => ('name' in record && record.name === name) || ('prefix' in record && record.prefix === name))
    if (!found) throw new Error(`The demo has no ${kind} “${name}” yet.`)
    return found.id
  }

  adapterOf(guest: string, position: number): string {
    const found = this.#estate.referring('adapter', 'guestId', this.id('guest', guest)).find((adapter) => adapter.position === position)
    if (!found) throw new Error(`${guest} has no adapter ${position}`)
    return found.id
  }

  portOf(host: string, name: string): string {
    const found = this.#estate.referring('port', 'hostId', this.id('host', host)).find((port) => port.name === name)
    if (!found) throw new Error(`${host} has no port ${name}`)
    return found.id
  }

  attachmentOf(host: string, network: string): string {
    const networkId = this.id('network', network)
    const found = this.#estate.referring('attachment', 'hostId', this.id('host', host)).find((one) => one.networkId === networkId)
    if (!found) throw new Error(`${host} ${network} is not attached`)
    return found.id
  }

  addressOf(ip: string): string {
    const [found] = this.#estate.byKey('address', { ip })
    if (!found) throw new Error(`the demo has no address ${ip}`)
    return found.id
  }

  ipOf(guest: string): string {
    const [found] = this.#estate.referring('address', 'adapterId', this.adapterOf(guest, 1))
    if (!found) throw new Error(`${guest} has no address`)
    return found.ip
  }

  diskOf(guest: string, position: number): string {
    const found = this.#estate.referring('disk', 'guestId', this.id('guest', guest)).find((disk) => disk.position === position)
    if (!found) throw new Error(`${guest} has no disk ${position}`)
    return found.id
  }

  /** The commands for a guest said as a spec line, with given ids so that they replay alike. */
  guest(line: string, { state = 'running', disks, system, backup, note, more, ips }: Lived): Command[] {
    const { spec, parts } = readSpecLine(line)
    const unread = parts.find((part) => part.problem)
    if (unread || !spec.name || !spec.vcpu || !spec.memoryMiB)
      throw new Error(`demo guest “${line}”: ${unread?.problem ?? 'name, processors or memory missing'}`)
    const uses = ['system', 'data', 'media']
    const commands = composeGuest(
      this.#estate,
      {
        guest: {
          id: this.newId(),
          name: spec.name,
          kind: spec.kind ?? 'machine',
          hostId: spec.host ? this.id('host', spec.host) : null,
          state,
          vcpu: spec.vcpu,
          memoryMiB: spec.memoryMiB,
          latency: spec.latency ?? 'general',
          firmware: spec.firmware ?? 'UEFI',
          tags: spec.tags,
          purpose: spec.purpose ?? null,
          systemId: this.id('system', system ?? 'Text-only server, generic'),
          verifiedAt: state === 'running' ? VERIFIED_AT : null,
          backupStoreId: backup ? this.id('store', backup) : null,
          note: note ?? '',
          ...more,
        },
        disks: spec.disks.map((disk, index) => ({
          use: uses[index] ?? 'data',
          sizeBytes: disk.sizeBytes,
          provisioning: spec.provisioning ?? 'thin',
          storeId: disks[index]?.[0] ? this.id('store', disks[index][0]) : null,
        })),
        adapters: spec.networks.map((network, index) => ({
          networkId: this.id('network', network),
          ip: ips?.[index] === '-' ? null : (ips?.[index] ?? null),
          addressing: ips?.[index] === '-' || spec.kind === 'template' || state === 'planned' ? 'none' : 'fixed',
        })),
      },
      this.#context,
    )
    return commands.map((command): Command => {
      if (command.type === 'address.assign') return { ...command, id: this.newId() }
      if (command.type !== 'disk.add') return command
      const first = command.record.position === 2 ? smallerAtFirst[spec.name ?? ''] : undefined
      const used = first?.usedGiB ?? disks[(command.record.position ?? 1) - 1]?.[1]
      const sizeBytes = first ? first.sizeGiB * GiB : command.record.sizeBytes
      return { ...command, record: { ...command.record, sizeBytes, usedBytes: used === null || used === undefined ? null : used * GiB } }
    })
  }
}

/**
 * The demo estate: Skerry Sound, an invented regional radio broadcaster on an island, with a studio house and a mast.
 * A lived-in estate with a handful of real problems, as the commands its people recorded.
 *
 * @param estateId the estate it is written for
 * @param personId its first person, who made the estate
 */
export function skerrySound(estateId: string, personId: string): readonly DemoBatch[] {
  const story = new Story(estateId, personId)
  const { newId } = { newId: () => story.newId() }
  const id = (kind: Kind, name: string) => story.id(kind, name)

  story.record(
    'Ola Berg',
    { type: 'person.add', record: { id: newId(), name: 'Maren Holm' } },
    { type: 'person.add', record: { id: newId(), name: 'Tove Lind' } },
  )
  story.record('Ola Berg', ...shippedPlatforms.map((platform): Command => ({ type: 'platform.add', record: { id: newId(), ...platform } })))
  story.record('Ola Berg', ...shippedSystems.map((system): Command => ({ type: 'system.add', record: { id: newId(), ...system } })))
  const network = (
    name: string,
    vlanId: number,
    role: NewRecord<'network'>['role'],
    more: Partial<NewRecord<'network'>> = {},
  ): Command => ({ type: 'network.add', record: { id: newId(), name, vlanId, role: role ?? 'guests', ...more } })
  story.on(90)
  story.record(
    'Maren Holm',
    network('mgmt', 10, 'management'),
    network('storage', 20, 'storage', { mtu: 9000, site: 'studio' }),
    network('studio', 30, 'guests', { site: 'studio' }),
    network('office', 40, 'guests'),
    network('public', 50, 'public'),
    network('backup', 60, 'backup'),
    network('lab', 70, 'lab', { site: 'studio' }),
    network('mast', 80, 'guests', { site: 'mast' }),
  )
  const subnet = (name: string, prefix: string, gateway: string | null): Command => ({
    type: 'subnet.add',
    record: { id: newId(), networkId: id('network', name), prefix, gateway },
  })
  const office = subnet('office', '10.61.40.0/23', '10.61.40.1')
  const officeId = office.type === 'subnet.add' ? (office.record.id ?? '') : ''
  const mgmt = subnet('mgmt', '10.61.10.0/24', '10.61.10.1')
  const mgmtId = mgmt.type === 'subnet.add' ? (mgmt.record.id ?? '') : ''
  story.record(
    'Maren Holm',
    mgmt,
    subnet('storage', '10.61.20.0/24', null),
    subnet('studio', '10.61.30.0/24', '10.61.30.1'),
    office,
    subnet('public', '192.0.2.0/26', '192.0.2.1'),
    subnet('public', '2001:db8:61::/64', '2001:db8:61::1'),
    subnet('backup', '10.61.60.0/24', null),
    subnet('lab', '10.61.70.0/24', '10.61.70.1'),
    subnet('mast', '10.61.80.0/24', '10.61.80.1'),
    {
      type: 'pool.add',
      record: { id: newId(), subnetId: officeId, first: '10.61.40.100', last: '10.61.40.199', note: 'desks and laptops' },
    },
  )

  const host = (
    name: string,
    platform: string,
    more: Partial<NewRecord<'host'>> & Pick<NewRecord<'host'>, 'coresPerSocket' | 'memoryMiB'>,
  ): Command => ({
    type: 'host.add',
    record: { id: newId(), name, platformId: id('platform', platform), site: 'studio', ...more },
  })
  story.on(88)
  story.record(
    'Ola Berg',
    host('gannet', 'Brackwater 5', {
      sockets: 2,
      coresPerSocket: 16,
      memoryMiB: 129_638,
      model: 'two-socket rack server, 2 U',
      managementMac: '00:00:5e:00:53:11',
      tags: ['rack-a'],
    }),
    host('fulmar', 'Brackwater 5', {
      sockets: 2,
      coresPerSocket: 16,
      memoryMiB: 129_638,
      model: 'two-socket rack server, 2 U',
      managementMac: '00:00:5e:00:53:12',
      tags: ['rack-b'],
    }),
    host('puffin', 'Marram 2', {
      coresPerSocket: 16,
      memoryMiB: 64_921,
      model: 'one-socket tower',
      managementMac: '00:00:5e:00:53:13',
      trialEndsOn: '2027-04-30',
      tags: ['rack-b'],
    }),
    host('tern', 'Marram 2', {
      coresPerSocket: 8,
      memoryMiB: 32_256,
      site: 'mast',
      model: 'short-depth server',
      managementMac: '00:00:5e:00:53:14',
    }),
  )
  const store = (
    name: string,
    hostName: string | null,
    capacityBytes: number,
    kind: NewRecord<'store'>['kind'] = 'local',
    otherBytes = 0,
  ): Command => ({
    type: 'store.add',
    record: {
      id: newId(),
      name,
      kind,
      hostId: hostName ? id('host', hostName) : null,
      site: hostName ? null : 'studio',
      capacityBytes: Math.round(capacityBytes),
      otherBytes: otherBytes === 0 ? null : Math.round(otherBytes),
    },
  })
  story.on(86)
  story.record(
    'Ola Berg',
    store('nvme-1', 'gannet', 3.49 * TiB),
    store('bulk-1', 'gannet', 10.9 * TiB),
    store('vault-disks', 'gannet', 7.27 * TiB, 'backup', 5.12 * TiB),
    store('nvme-2', 'fulmar', 3.49 * TiB),
    store('bulk-2', 'fulmar', 10.9 * TiB),
    store('ssd-3', 'puffin', 1.81 * TiB),
    store('ssd-4', 'tern', 0.91 * TiB),
    store('mast-copy', 'tern', 5.45 * TiB, 'backup', 2.31 * TiB),
    store('reef', null, 14.5 * TiB, 'shared', 3.4 * TiB),
  )
  const carry = (hostName: string, names: readonly string[], kind: NewRecord<'attachment'>['kind'] = 'bridged'): Command[] =>
    names.map((name) => ({
      type: 'attachment.add',
      record: { id: newId(), hostId: id('host', hostName), networkId: id('network', name), kind },
    }))
  const everyStudioNetwork = ['mgmt', 'storage', 'studio', 'office', 'public', 'backup']
  story.on(85)
  story.record(
    'Maren Holm',
    ...carry('gannet', everyStudioNetwork),
    ...carry('fulmar', everyStudioNetwork),
    ...carry('puffin', ['mgmt', 'office', 'public', 'backup']),
    ...carry('puffin', ['lab'], 'translated'),
    ...carry('tern', ['mgmt', 'mast', 'backup']),
    ...['gannet', 'fulmar', 'puffin', 'tern'].map((name, index): Command => ({
      type: 'address.assign',
      id: newId(),
      hostId: id('host', name),
      subnetId: mgmtId,
      ip: `10.61.10.${11 + index}`,
      kind: 'fixed',
    })),
  )

  story.on(80)
  story.record(
    'Ola Berg',
    ...story.guest('tpl-server 2cpu 4G 40G on gannet net office template', {
      state: 'stopped',
      disks: [['nvme-1', 6]],
      note: 'Patched on the first Monday of each month.',
    }),
  )
  story.on(77)
  story.record(
    'Ola Berg',
    ...story.guest('playout-1 8cpu 16G 60G+400G on gannet net studio,storage for playout steady #air', {
      disks: [
        ['nvme-1', 31],
        ['nvme-1', 266],
      ],
      backup: 'mast-copy',
    }),
    ...story.guest('archive-db 8cpu 24G 60G+1200G+6T on gannet net storage,office for archive', {
      disks: [
        ['nvme-1', 28],
        ['nvme-1', 840],
        ['bulk-1', 5200],
      ],
      backup: 'vault-disks',
    }),
    ...story.guest('newsroom 4cpu 12G 60G+300G on gannet net office for newsroom', {
      disks: [
        ['nvme-1', 24],
        ['nvme-1', 188],
      ],
      backup: 'vault-disks',
    }),
    ...story.guest('transcode-1 8cpu 16G 60G+800G on gannet net studio,storage for transcoding', {
      disks: [
        ['nvme-1', 19],
        ['bulk-1', 512],
      ],
      backup: 'mast-copy',
    }),
    ...story.guest('phone-queue 2cpu 6G 40G on gannet net studio for phones steady #air', { disks: [['nvme-1', 14]], backup: 'mast-copy' }),
    ...story.guest('weather-desk 2cpu 4G 60G on gannet net office for weather', {
      disks: [['nvme-1', 33]],
      backup: 'mast-copy',
      system: 'Desktop, generic',
      ips: ['10.61.40.120'],
    }),
    ...story.guest('vault 4cpu 8G 32G on gannet net backup,mgmt for backup', {
      disks: [['nvme-1', 11]],
      backup: 'mast-copy',
      note: 'The backup server. Its store is in the same host.',
    }),
  )
  story.on(74)
  story.record(
    'Tove Lind',
    ...story.guest('playout-2 8cpu 16G 60G+400G on fulmar net studio,storage for playout steady #air', {
      disks: [
        ['nvme-2', 30],
        ['nvme-2', 251],
      ],
      backup: 'mast-copy',
    }),
    ...story.guest('files 4cpu 16G 60G+1800G on fulmar net office,storage for files', {
      disks: [
        ['nvme-2', 22],
        ['nvme-2', 910],
      ],
      backup: 'vault-disks',
    }),
    ...story.guest('mail 4cpu 12G 60G+900G on fulmar net office for mail', {
      disks: [
        ['nvme-2', 18],
        ['nvme-2', 402],
      ],
      backup: 'vault-disks',
    }),
    ...story.guest('transcode-2 8cpu 16G 60G+600G on fulmar net studio,storage for transcoding', {
      state: 'stopped',
      disks: [
        ['nvme-2', 17],
        ['nvme-2', 120],
      ],
      backup: 'vault-disks',
      note: 'Started for the summer festival only.',
    }),
    ...story.guest('intranet 2cpu 8G 60G+200G on fulmar net office for web', {
      disks: [
        ['nvme-2', 20],
        ['nvme-2', 61],
      ],
      backup: 'vault-disks',
    }),
    ...story.guest('dns-1 1cpu 2G 20G on fulmar net office for names', { disks: [['nvme-2', 5]], backup: 'vault-disks' }),
    ...story.guest('sound-gate 1cpu 1G 8G on fulmar net public,office for router', {
      disks: [['nvme-2', 1]],
      backup: 'vault-disks',
      system: 'Router, generic',
      more: { isRouter: true },
      ips: ['192.0.2.2', '10.61.40.254'],
    }),
    // It went to fulmar later: see the moves.
    ...story.guest('mix-assist 2cpu 4G 40G on gannet net studio for mixing steady', { disks: [['nvme-1', 12]], backup: 'vault-disks' }),
  )
  story.on(71)
  story.record(
    'Maren Holm',
    ...story.guest('tpl-desktop 2cpu 4G 60G on puffin net office template', {
      state: 'stopped',
      disks: [['ssd-3', 17]],
      system: 'Desktop, generic',
    }),
    ...story.guest('stream-edge-1 4cpu 12G 80G on puffin net public,office for streaming #air', {
      disks: [['ssd-3', 44]],
      backup: 'vault-disks',
      ips: ['192.0.2.10', undefined],
    }),
    ...story.guest('lab-outer 4cpu 16G 200G on puffin net lab for nesting lab', {
      disks: [['ssd-3', 71]],
      backup: 'vault-disks',
      system: 'Nested host, generic',
    }),
    ...story.guest('metrics 4cpu 8G 40G+300G on puffin net office for metrics', {
      disks: [
        ['ssd-3', 9],
        ['ssd-3', 148],
      ],
      backup: 'vault-disks',
    }),
    ...story.guest('build 8cpu 8G 120G on puffin net lab for builds lab', { disks: [['ssd-3', 66]] }),
  )
  story.on(68)
  story.record(
    'Maren Holm',
    ...story.guest('mast-logger 2cpu 4G 40G+200G on tern net mast for logging', {
      disks: [
        ['ssd-4', 12],
        ['ssd-4', 151],
      ],
      backup: 'vault-disks',
    }),
    ...story.guest('rds-encoder 2cpu 4G 32G on tern net mast for encoding steady #air', { disks: [['ssd-4', 9]], backup: 'vault-disks' }),
    ...story.guest('backup-feed 4cpu 8G 60G on tern net mast for playout steady', { disks: [['ssd-4', 25]], backup: 'vault-disks' }),
    ...story.guest('cam-store 2cpu 6G 40G+800G on tern net mast for cameras', {
      disks: [
        ['ssd-4', 10],
        ['ssd-4', 420],
      ],
      backup: 'vault-disks',
    }),
  )
  // The second edge was cloned in a hurry, from a running guest, and never given its own identity.
  const edge2 = newId()
  story.meanwhile(historyOf({ id, newId, diskOf: (guest, position) => story.diskOf(guest, position) }))
  story.on(48)
  story.record('Tove Lind', { type: 'guest.clone', id: edge2, guestId: id('guest', 'stream-edge-1'), name: 'stream-edge-2' })
  story.record(
    'Tove Lind',
    {
      type: 'guest.update',
      id: edge2,
      changes: { backupStoreId: id('store', 'vault-disks'), verifiedAt: VERIFIED_AT },
    },
    { type: 'guest.power', guestId: edge2, state: 'running' },
  )
  // Its two adapters were plugged in the wrong way round.
  story.on(40)
  story.record(
    'Tove Lind',
    { type: 'adapter.update', id: story.adapterOf('sound-gate', 1), changes: { networkId: id('network', 'office') } },
    { type: 'adapter.update', id: story.adapterOf('sound-gate', 2), changes: { networkId: id('network', 'public') } },
  )
  // A nested host for trying platform releases.
  story.on(33)
  story.record(
    'Ola Berg',
    host('petrel', 'Marram 2', {
      kind: 'nested',
      outerGuestId: id('guest', 'lab-outer'),
      coresPerSocket: 4,
      threadsPerCore: 1,
      memoryMiB: 15_900,
      model: 'nested in lab-outer',
      tags: ['lab'],
    }),
  )
  story.on(31)
  story.record('Ola Berg', store('petrel-disk', 'petrel', 0.15 * TiB), ...carry('petrel', ['lab']))
  story.record(
    'Ola Berg',
    ...story.guest('trial-a 2cpu 4G 20G on petrel net lab for trials lab', { disks: [['petrel-disk', 4]], ips: ['-'] }),
    ...story.guest('trial-b 1cpu 2G 20G on petrel net lab for trials lab', { state: 'stopped', disks: [['petrel-disk', 3]], ips: ['-'] }),
  )
  // The next host, and what is planned on it.
  story.on(29)
  story.record(
    'Ola Berg',
    host('kittiwake', 'Brackwater 5', {
      sockets: 2,
      coresPerSocket: 16,
      memoryMiB: 129_638,
      state: 'on order',
      model: 'two-socket rack server, 2 U',
      note: 'Delivery promised for week 5.',
    }),
  )
  story.on(27)
  story.record('Ola Berg', store('nvme-5', 'kittiwake', 6.98 * TiB), ...carry('kittiwake', ['mgmt', 'storage', 'office', 'backup']))
  story.record(
    'Maren Holm',
    ...story.guest('transcode-3 8cpu 16G 60G+400G on kittiwake net studio,storage for transcoding', {
      state: 'planned',
      disks: [
        ['nvme-5', null],
        ['nvme-5', null],
      ],
    }),
  )
  // The ageing scheduling machine, and the guest it becomes.
  const auk = newId()
  story.on(22)
  story.record(
    'Tove Lind',
    ...aukOf({ id, newId }, auk),
    ...story.guest('scheduler 4cpu 16G 234G on fulmar net office,studio for scheduling BIOS', {
      state: 'planned',
      disks: [['bulk-2', null]],
      system: 'Graphical server, generic',
      note: 'Takes over from auk. BIOS, as the old disk was installed so.',
    }),
  )
  story.on(20)
  story.record('Ola Berg', ...platformsAndImages({ id, newId }))
  story.record('Ola Berg', ...hardwareInService({ id, newId }))
  story.on(18)
  story.record('Tove Lind', ...buildOfKittiwake({ id, newId }))
  story.on(15)
  story.record(
    'Maren Holm',
    ...networksLived({
      id,
      newId,
      portOf: (host, name) => story.portOf(host, name),
      attachmentOf: (host, name) => story.attachmentOf(host, name),
      addressOf: (ip) => story.addressOf(ip),
      subnetOf: (prefix) => id('subnet', prefix),
      adapterOf: (guest, position) => story.adapterOf(guest, position),
      ipOf: (guest) => story.ipOf(guest),
    }),
  )
  story.on(13)
  story.record('Tove Lind', ...guestsLived({ id, newId, diskOf: (guest, position) => story.diskOf(guest, position) }))
  const inDays = (batches: readonly Recorded[], days: readonly number[]) => {
    for (const [index, { by, commands }] of batches.entries()) {
      story.on(days[index] ?? days.at(-1) ?? 0)
      story.record(by, ...commands)
    }
  }
  inDays(clonesOf({ id, newId, diskOf: (guest, position) => story.diskOf(guest, position) }), [12, 11, 10, 8, 7])
  // The moves that are over, one that soaks, one that was rolled back, one that runs.
  inDays(
    movesOf({
      id,
      newId,
      diskOf: (guest, position) => story.diskOf(guest, position),
      adapterOf: (guest, position) => story.adapterOf(guest, position),
    }),
    [7, 6, 5, 4],
  )
  inDays(plansOf({ id, newId, diskOf: (guest, position) => story.diskOf(guest, position) }), [4, 3, 2, 1])
  story.on(1, 14)
  const accepted = acceptedOf({ id })
  story.record(accepted.by, ...accepted.commands)
  return story.batches
}
