import type { Command } from '../../commands/index.js'
import { kinds, type Estate, type Host } from '../../estate/index.js'
import { storesOfNewHost } from '../../hosts/index.js'
import { MiB } from '../../units/index.js'
import { present } from '../../formats/index.js'
import { headings } from './headings.js'
import { changesTo, tagsIn, type RowNotes, type TableKind } from './row.js'

/** What a column of a table of hosts holds. */
const hostColumns = [
  'name',
  'site',
  'state',
  'platform',
  'model',
  'serial',
  'asset tag',
  'rack',
  'height unit',
  'processors',
  'sockets',
  'cores',
  'processor model',
  'memory',
  'disks',
  'networks',
  'addresses',
  'management MAC',
  'controller address',
  'purchased',
  'warranty ends',
  'tags',
  'note',
  'leave out',
] as const
type HostColumn = (typeof hostColumns)[number]
type Notes = RowNotes<HostColumn>

const fields = kinds.host.fields
const STATES = {
  running: 'in service',
  active: 'in service',
  production: 'in service',
  live: 'in service',
  ordered: 'on order',
  maintenance: 'in maintenance',
  building: 'being built',
  decommissioned: 'retired',
  off: 'retired',
  // As the same is said in German, French and Spanish, without accents.
  inbetrieb: 'in service',
  produktiv: 'in service',
  aktiv: 'in service',
  lauft: 'in service',
  bestellt: 'on order',
  inwartung: 'in maintenance',
  wartung: 'in maintenance',
  imaufbau: 'being built',
  ausgemustert: 'retired',
  stillgelegt: 'retired',
  enservice: 'in service',
  enproduction: 'in service',
  actif: 'in service',
  commande: 'on order',
  enmaintenance: 'in maintenance',
  reforme: 'retired',
  enservicio: 'in service',
  enproduccion: 'in service',
  activo: 'in service',
  pedido: 'on order',
  enmantenimiento: 'in maintenance',
  retirado: 'retired',
} as const

/** A table of hosts: a known name changes that host, another adds one with its stores, networks and address. */
export const hostTable: TableKind<HostColumn> = {
  holds: 'host',
  columns: hostColumns,
  // The order decides where two would fit.
  guesses: [
    [
      /^(?:(?:host|server|node|machine|rechner)[\s_-]*name|name|host|server|node|hypervisor|rechner|wirt|knoten|nom|nom (?:de l[’']h[oô]te|du serveur)|h[oô]te|serveur|nombre|nombre del (?:servidor|anfitri[oó]n)|servidor|anfitri[oó]n)$/i,
      'name',
    ],
    [headings.mac, 'management MAC'],
    [/controller|out.of.band|remote management|management card|fernwartung/i, 'controller address'],
    [/serial|s\/n|seriennummer|num[eé]ro de s[eé]rie|n[uú]mero de serie/i, 'serial'],
    [/asset|invent/i, 'asset tag'],
    [/height|unit|^u$|position|h[oö]he|hauteur|altura/i, 'height unit'],
    [/rack|cabinet|shelf|schrank|\bbaie|armario/i, 'rack'],
    [/purchas|bought|acquired|kauf|beschafft|achat|compra/i, 'purchased'],
    [/warrant|support (?:until|end)|garantie|gew[aä]hrleistung|garant[ií]a/i, 'warranty ends'],
    [headings.sort, 'leave out'],
    [headings.sortOf, 'leave out'],
    [headings.measured, 'leave out'],
    [/socket|sockel|z[oó]calo/i, 'sockets'],
    [/cores?$|core count|kerne?\b|c(?:œ|oe)urs?\b|n[uú]cleos?\b/i, 'cores'],
    [
      /(?:cpu|processor|prozessor)[ _-]?(?:model|type|name|modell|typ)|(?:mod[eè]le|type) de processeur|modelo de procesador/i,
      'processor model',
    ],
    [headings.cpu, 'processors'],
    [/store/i, 'disks'],
    [headings.disks, 'disks'],
    [headings.memory, 'memory'],
    [/capacit|kapazit|capacidad/i, 'disks'],
    [/platform|plattform|plateforme|plataforma|hypervisor|release|^os$|betriebssystem|syst[eè]me|sistema/i, 'platform'],
    [/model|hardware|type|modell|mod[eè]le|modelo/i, 'model'],
    [headings.vlan, 'networks'],
    [headings.network, 'networks'],
    [headings.address, 'addresses'],
    [headings.site, 'site'],
    [headings.state, 'state'],
    [headings.tags, 'tags'],
    [headings.note, 'note'],
  ],
  sizes: new Set(['memory', 'disks']),
  labels: new Set(['disks']),
  several: new Set(['disks']),
  sheetName: /host|server|hypervisor|hardware|physical|node|\bwirt|h[oô]te|serveur|servidor|anfitri/i,
  read(_, notes, context) {
    const { estate, ids } = context
    const name = notes.name('name', fields.name)
    const known = name === undefined ? undefined : estate.byKey('host', { name })[0]
    const memory = notes.size('memory', 'memory')
    const tags = notes.text('tags')
    const values: Partial<Host> = present({
      site: notes.field<string>('site', fields.site),
      state: notes.choice('state', fields.state.options, STATES),
      platformId: notes.text('platform') === undefined ? undefined : (notes.named('platform', 'platform') ?? undefined),
      model: notes.field<string>('model', fields.model),
      serial: notes.field<string>('serial', fields.serial),
      assetTag: notes.field<string>('asset tag', fields.assetTag),
      rack: notes.field<string>('rack', fields.rack),
      heightUnit: notes.whole('height unit', fields.heightUnit),
      processorModel: notes.field<string>('processor model', fields.processorModel),
      ...processorsIn(notes),
      memoryMiB: memory === undefined ? undefined : notes.field<number>('memory', fields.memoryMiB, Math.round(memory / MiB)),
      managementMac: notes.field<string>('management MAC', fields.managementMac),
      controllerAddress: notes.field<string>('controller address', fields.controllerAddress),
      purchasedOn: notes.day('purchased', fields.purchasedOn),
      warrantyEndsOn: notes.day('warranty ends', fields.warrantyEndsOn),
      tags: tags === undefined ? undefined : tagsIn(tags),
      note: notes.note('note'),
    })
    const stores = notes.sizes('disks', 'label')
    if (name === undefined) return undefined
    const hostId = known?.id ?? ids.newId()
    const around = [...attachmentsOf(hostId, notes, estate), ...addressesOf(hostId, notes, estate)]
    if (known) {
      if (stores.length > 0 && estate.referring('store', 'hostId', known.id).length === 0)
        around.unshift(...storesOfNewHost(estate, { id: hostId, name }, stores, ids))
      else if (stores.length > 0) notes.remark('Its stores are left as they are: change them on its page.')
      const changes = changesTo(known, values)
      return {
        name,
        isKnown: true,
        commands: [...(Object.keys(changes).length > 0 ? [{ type: 'host.update' as const, id: known.id, changes }] : []), ...around],
      }
    }
    const record = newHost(values, notes, estate)
    return {
      name,
      isKnown: false,
      commands: record
        ? [
            { type: 'host.add', record: { ...record, id: hostId, name } },
            ...storesOfNewHost(estate, { id: hostId, name }, stores, ids),
            ...around,
          ]
        : [],
    }
  },
}

/** Processors as `2x16`, or as sockets and cores in columns of their own; cores beside sockets are those of the whole machine. */
function processorsIn(notes: Notes): Partial<Pick<Host, 'sockets' | 'coresPerSocket' | 'threadsPerCore'>> {
  const text = notes.text('processors')
  const [, sockets, cores, threads] = /^(\d{1,3})\s*[x×*]\s*(\d{1,4})(?:\s*[x×*]\s*(\d))?(?:\s*(?:cores?|c))?$/i.exec(text ?? '') ?? []
  if (sockets && cores)
    return present({
      sockets: notes.field<number>('processors', fields.sockets, Number(sockets)),
      coresPerSocket: notes.field<number>('processors', fields.coresPerSocket, Number(cores)),
      threadsPerCore: threads ? notes.field<number>('processors', fields.threadsPerCore, Number(threads)) : undefined,
    })
  if (text !== undefined && !/^\d+$/.test(text)) {
    notes.refuse('processors', `“${text}” is not read: write 2x16 for two sockets of 16 cores, or 16 for one of 16.`)
    return {}
  }
  const inSockets = notes.whole('sockets', fields.sockets) ?? 1
  const inAll = text === undefined ? notes.whole('cores', { ...fields.coresPerSocket, max: 65_536 }) : Number(text)
  if (inAll === undefined) return notes.text('sockets') === undefined ? {} : { sockets: inSockets }
  if (inAll % inSockets !== 0) {
    notes.refuse('cores', `${inAll} cores do not divide into ${inSockets} sockets; cores are those of the whole machine.`)
    return {}
  }
  return present({ sockets: inSockets, coresPerSocket: notes.field<number>('cores', fields.coresPerSocket, inAll / inSockets) })
}

function newHost(values: Partial<Host>, notes: Notes, estate: Estate) {
  const platforms = estate.all('platform')
  const platformId = values.platformId ?? (platforms.length === 1 ? platforms[0]?.id : undefined)
  const { coresPerSocket, memoryMiB } = values
  const isWrong = (...columns: readonly HostColumn[]) => notes.problems.some(({ column }) => columns.some((one) => one === column))
  if (platformId === undefined && !isWrong('platform'))
    notes.refuse(
      'platform',
      platforms.length === 0
        ? 'No platform is recorded yet: add one first.'
        : `Name its platform: ${platforms.map(({ name }) => name).join(', ')}.`,
    )
  if (coresPerSocket === undefined && !isWrong('processors', 'cores', 'sockets'))
    notes.refuse('processors', 'It is new, and needs its cores.')
  if (memoryMiB === undefined && !isWrong('memory')) notes.refuse('memory', 'It is new, and needs its memory.')
  if (platformId === undefined || coresPerSocket === undefined || memoryMiB === undefined) return undefined
  return { ...values, platformId, coresPerSocket, memoryMiB }
}

function attachmentsOf(hostId: string, notes: Notes, estate: Estate): Command[] {
  const own = new Set(estate.referring('attachment', 'hostId', hostId).map(({ networkId }) => networkId))
  return notes.list('networks').flatMap((text): Command[] => {
    const networkId = notes.network('networks', text)
    return networkId === undefined || own.has(networkId) ? [] : [{ type: 'attachment.add', record: { hostId, networkId } }]
  })
}

function addressesOf(hostId: string, notes: Notes, estate: Estate): readonly Command[] {
  return notes.list('addresses').flatMap((text): Command[] => {
    const at = notes.address('addresses', text)
    const isOwn = estate.referring('address', 'hostId', hostId).some(({ ip }) => ip === at?.ip)
    return !at || isOwn ? [] : [{ type: 'address.assign', hostId, subnetId: at.subnet.id, ip: at.ip }]
  })
}
