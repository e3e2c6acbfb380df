import type { Command } from '../../commands/index.js'
import { kinds, type Network } from '../../estate/index.js'
import { maskLength } from '../../hosts/index.js'
import { familyOf, prefixAround } from '../../networks/index.js'
import { present } from '../../formats/index.js'
import { headings } from './headings.js'
import { changesTo, type RowNotes, type TableKind } from './row.js'

/** What a column of a table of networks holds. */
const networkColumns = [
  'name',
  'VLAN',
  'prefix',
  'mask',
  'gateway',
  'name servers',
  'DHCP from',
  'DHCP to',
  'role',
  'MTU',
  'site',
  'note',
  'leave out',
] as const
type NetworkColumn = (typeof networkColumns)[number]

const networkFields = kinds.network.fields
const subnetFields = kinds.subnet.fields
const poolFields = kinds.pool.fields

/** A table of networks and their subnets: a known name changes that network, a prefix that is new to it is added. */
export const networkTable: TableKind<NetworkColumn> = {
  holds: 'network',
  columns: networkColumns,
  // The order decides where two would fit.
  guesses: [
    [
      /^(?:vlan[ _-]?name|name|network|segment|network name|netz(?:werk)?(?:name)?|nom|r[eé]seau|nom du r[eé]seau|nombre|red|nombre de (?:la )?red)$/i,
      'name',
    ],
    [/vlan|^tag$/i, 'VLAN'],
    [/gateway|router|^gw$|passerelle|puerta de enlace|pasarela/i, 'gateway'],
    [/(?:dhcp|range|pool)[ _-]?(?:from|start|first|begin|von|ab|d[eé]but|desde|inicio)/i, 'DHCP from'],
    [/(?:dhcp|range|pool)[ _-]?(?:to|end|last|bis|fin|hasta)/i, 'DHCP to'],
    [/mask|masque|m[aá]scara/i, 'mask'],
    [/prefix|subnet|cidr|network address|^range$|pr[aä]fix|pr[eé]fixe|prefijo|subnetz|netzadresse|sous-r[eé]seau|subred/i, 'prefix'],
    [/dns|name ?server/i, 'name servers'],
    [headings.purpose, 'role'],
    [/mtu/i, 'MTU'],
    [headings.site, 'site'],
    [headings.note, 'note'],
  ],
  sizes: new Set(),
  sheetName: /network|vlan|subnet|segment|prefix|netz|r[eé]seau|\bred(?:es)?\b/i,
  read(_, notes, { estate, ids }) {
    const vlan = notes.text('VLAN')
    // A VLAN without a name is one all the same.
    const isNameless = notes.text('name') === undefined && vlan !== undefined && /^\d+$/.test(vlan)
    const name = isNameless ? `vlan-${vlan}` : notes.name('name', networkFields.name)
    if (isNameless) notes.remark(`It has no name; it is recorded as vlan-${vlan}.`)
    const values: Partial<Network> = present({
      vlanId: vlan === undefined || /^(?:-|none|untagged)$/i.test(vlan) ? undefined : notes.whole('VLAN', networkFields.vlanId),
      role: notes.choice('role', kinds.network.fields.role.options),
      mtu: notes.whole('MTU', networkFields.mtu),
      site: notes.field<string>('site', networkFields.site),
      note: notes.note('note'),
    })
    const prefix = prefixIn(notes)
    const subnet = present({
      gateway: notes.field<string>('gateway', subnetFields.gateway),
      nameServers: notes.field<string>('name servers', subnetFields.nameServers),
    })
    const range = { first: notes.field<string>('DHCP from', poolFields.first), last: notes.field<string>('DHCP to', poolFields.last) }
    if ((range.first === undefined) !== (range.last === undefined))
      notes.refuse('DHCP from', 'A DHCP range has a first and a last address.')
    if (name === undefined) return undefined
    const known = estate.byKey('network', { name })[0]
    const id = known?.id ?? ids.newId()
    const changes = known ? changesTo(known, values) : {}
    const commands: Command[] = known
      ? Object.keys(changes).length > 0
        ? [{ type: 'network.update', id, changes }]
        : []
      : [{ type: 'network.add', record: { ...values, id, name } }]
    if (prefix === undefined) {
      if (Object.keys(subnet).length > 0 || range.first)
        notes.remark('Gateway, name servers and DHCP range need a prefix, and are left out.')
      return { name, isKnown: known !== undefined, commands }
    }
    const own = estate.referring('subnet', 'networkId', id).find((one) => one.prefix === prefix)
    const other = own ? undefined : estate.all('subnet').find((one) => one.prefix === prefix)
    if (other)
      notes.refuse('prefix', `${prefix} is recorded already, on ${estate.find('network', other.networkId)?.name ?? 'another network'}.`)
    const subnetId = own?.id ?? ids.newId()
    if (own) {
      const further = changesTo(own, subnet)
      if (Object.keys(further).length > 0) commands.push({ type: 'subnet.update', id: own.id, changes: further })
    } else commands.push({ type: 'subnet.add', record: { ...subnet, id: subnetId, networkId: id, prefix } })
    const hasPool =
      own !== undefined &&
      estate.referring('pool', 'subnetId', own.id).some(({ first, last }) => first === range.first && last === range.last)
    if (range.first && range.last && !hasPool)
      commands.push({ type: 'pool.add', record: { subnetId, first: range.first, last: range.last } })
    return { name, isKnown: known !== undefined, commands }
  },
}

/** The prefix of a row: with its length, with a mask in the cell or in another column, or an address within it. */
function prefixIn(notes: RowNotes<NetworkColumn>): string | undefined {
  const text = notes.text('prefix')
  if (text === undefined) return undefined
  const [address = '', inCell = notes.text('mask')] = text.split(/\s*\/\s*|\s+/)
  const length = inCell?.includes('.') ? maskLength(inCell) : /^\d{1,3}$/.test(inCell ?? '') ? Number(inCell) : undefined
  if (length === undefined) {
    notes.refuse('prefix', `“${text}” has no length: write 10.61.30.0/24, or give the mask.`)
    return undefined
  }
  const ip = notes.field<string>('prefix', kinds.address.fields.ip, address)
  if (ip === undefined) return undefined
  const most = familyOf(ip) === 4 ? 32 : 128
  const whole = notes.field<string>('prefix', subnetFields.prefix, length > most ? `${ip}/${length}` : prefixAround(ip, length).text)
  if (whole !== undefined && whole !== `${ip}/${length}`) notes.remark(`“${text}” is the prefix ${whole}.`)
  return whole
}
