import type { Command } from '../../commands/index.js'
import { adaptersOf, addressOwner, kinds, type Address, type Estate } from '../../estate/index.js'
import { plainName } from '../plain-name.js'
import { present } from '../../formats/index.js'
import { headings } from './headings.js'
import { changesTo, type RowNotes, type TableKind } from './row.js'

/** What a column of a table of addresses holds. */
const addressColumns = ['address', 'name', 'machine', 'MAC', 'kind', 'note', 'leave out'] as const
type AddressColumn = (typeof addressColumns)[number]
type Notes = RowNotes<AddressColumn>

const fields = kinds.address.fields
const KINDS = {
  static: 'fixed',
  manual: 'fixed',
  reservation: 'DHCP reservation',
  dhcp: 'DHCP reservation',
  dhcpreserved: 'DHCP reservation',
  kept: 'reserved',
  blocked: 'reserved',
  free: 'reserved',
} as const

/** A table of addresses: of guests, of hosts, and of devices that are neither. */
export const addressTable: TableKind<AddressColumn> = {
  holds: 'address',
  columns: addressColumns,
  // The order decides where two would fit.
  guesses: [
    [/\bmac|hardware address|physical address|physische adresse/i, 'MAC'],
    [headings.address, 'address'],
    [/machine|guest|\bvm\b|server|assigned|owner|used by|maschine|rechner|\bgast\b|serveur|m[aá]quina|servidor/i, 'machine'],
    [/name|device|host|dns|ger[aä]t|\bnom\b|appareil|nombre|dispositivo/i, 'name'],
    [/kind|type|state|status|art$|typ\b|zustand|statut|tipo|estado/i, 'kind'],
    [headings.note, 'note'],
    [headings.purpose, 'note'],
  ],
  sizes: new Set(),
  sheetName: /address|adresse|direccion|\bips?\b|reservation|dhcp/i,
  read(_, notes, { estate, ids }) {
    const text = notes.text('address')
    const at = text === undefined ? undefined : notes.address('address', text)
    if (text === undefined) notes.refuse('address', 'It has no address.')
    const mac = notes.text('MAC') === '-' ? undefined : notes.field<string>('MAC', fields.mac)
    const kind = notes.choice('kind', fields.kind.options, KINDS)
    const note = notes.note('note')
    const owner = ownerOf(notes, estate, at?.subnet.networkId)
    if (!at) return undefined
    const { ip, subnet } = at
    const known = estate.byKey('address', { subnetId: subnet.id, ip })[0]
    if (known && isElsewhere(known, owner)) notes.refuse('address', `${ip} is recorded already, of ${addressOwner(estate, known)}.`)
    const values: Partial<Address> = present({
      ...owner.values,
      kind: kind ?? (known || owner.values.adapterId || owner.values.hostId ? undefined : ('reserved' as const)),
      mac: owner.values.adapterId ? undefined : mac,
      note,
    })
    const commands: Command[] = []
    if (known) {
      const changes = changesTo(known, values)
      if (Object.keys(changes).length > 0) commands.push({ type: 'address.update', id: known.id, changes })
    } else commands.push({ type: 'address.add', record: { ...values, id: ids.newId(), subnetId: subnet.id, ip } })
    const adapter = estate.find('adapter', owner.values.adapterId)
    if (adapter && mac !== undefined && adapter.mac === null) commands.push({ type: 'adapter.update', id: adapter.id, changes: { mac } })
    else if (adapter && mac !== undefined && adapter.mac !== mac)
      notes.remark(`Its adapter has the MAC ${adapter.mac ?? ''}, not ${mac}: it is left as it is.`)
    return { name: ip, isKnown: known !== undefined, commands }
  },
}

interface Owner {
  readonly values: Partial<Pick<Address, 'adapterId' | 'hostId' | 'name'>>
}

/** Whose address it is: a guest's adapter on its network, a host, or a device that is only named. */
function ownerOf(notes: Notes, estate: Estate, networkId: string | undefined): Owner {
  const named = notes.text('machine') ?? notes.text('name')
  const label = (text: string | undefined) => (text === undefined ? {} : present({ name: notes.field<string>('name', fields.name, text) }))
  if (named === undefined) return { values: {} }
  const plain = named.split('.')[0] ?? named
  const [guest] = estate.byKey('guest', { name: plain })
  const [host] = estate.byKey('host', { name: plain })
  const further = notes.text('machine') === undefined ? {} : label(labelBeside(notes, plain))
  if (guest) {
    const adapters = adaptersOf(estate, guest.id)
    const adapter = adapters.find((one) => one.networkId === networkId) ?? adapters.find((one) => one.networkId === null)
    if (!adapter) {
      notes.refuse(notes.text('machine') === undefined ? 'name' : 'machine', `${guest.name} has no adapter on that network.`)
      return { values: {} }
    }
    return { values: { adapterId: adapter.id, ...further } }
  }
  if (host) return { values: { hostId: host.id, ...further } }
  if (notes.text('machine') !== undefined && notes.text('name') === undefined)
    notes.remark(`There is no guest or host “${named}”: the address keeps the name.`)
  return { values: label(plainName(plain)) }
}

/** A name beside that of the machine, where it differs. */
function labelBeside(notes: Notes, machine: string): string | undefined {
  const name = notes.text('name')?.split('.')[0]
  return name === undefined || name.toLowerCase() === machine.toLowerCase() ? undefined : name
}

const isElsewhere = (known: Address, { values }: Owner): boolean =>
  (known.adapterId !== null && values.adapterId !== undefined && known.adapterId !== values.adapterId) ||
  (known.hostId !== null && values.hostId !== undefined && known.hostId !== values.hostId) ||
  (known.adapterId !== null && values.hostId !== undefined) ||
  (known.hostId !== null && values.adapterId !== undefined)
