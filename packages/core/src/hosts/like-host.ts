import type { Command, IdMaker } from '../commands/index.js'
import type { HostParts } from './parts-of-new-host.js'
import { chosenFields, type Estate, type Host, type Kind, type NewRecord, type RecordOf } from '../estate/index.js'

/** Of a host, what another of the same make has, too. */
const ofHost = chosenFields('host')(
  [
    'kind',
    'site',
    'platformId',
    'model',
    'rack',
    'sockets',
    'coresPerSocket',
    'threadsPerCore',
    'memoryMiB',
    'processorModel',
    'clockMHz',
    'cpuFlags',
    'memorySlots',
    'firmware',
    'secureBoot',
    'controllers',
    'mounting',
    'drawWatts',
    'powerSupplies',
    'circuitVolts',
    'circuitAmps',
    'failoverReserveMiB',
    'isRouter',
    'imageId',
    'stickBytes',
    'tags',
  ],
  [
    // Of this one machine alone.
    'name',
    'state',
    'outerGuestId',
    'serial',
    'assetTag',
    'heightUnit',
    'purchasedOn',
    'warrantyEndsOn',
    'controllerAddress',
    'circuit',
    'managementMac',
    'fingerprint',
    'trialEndsOn',
    'stickMayBeErased',
    'atHand',
    'note',
  ],
)
const ofModule = chosenFields('module')(['slot', 'sizeMiB', 'speedMTs'], ['hostId', 'state', 'note'])
const ofArray = chosenFields('array')(['name', 'level'], ['hostId', 'note'])
const ofDrive = chosenFields('drive')(
  ['position', 'labelBytes', 'kind', 'model', 'use', 'controller'],
  ['hostId', 'serial', 'arrayId', 'note'],
)
const ofSwitch = chosenFields('switch')(['name', 'bond', 'taggedVlans', 'nativeVlan', 'mtu'], ['hostId', 'note'])
const ofPort = chosenFields('port')(
  ['name', 'speedMbps', 'medium', 'role', 'driver'],
  // Where its cable leads is of the place it stands in.
  ['hostId', 'mac', 'cable', 'switchId', 'farEnd', 'farVlans', 'farNative', 'farMtu', 'note'],
)
const ofAttachment = chosenFields('attachment')(['networkId', 'kind', 'foreignMacs'], ['hostId', 'switchId'])
const ofStore = chosenFields('store')(['kind', 'capacityBytes'], ['name', 'hostId', 'site', 'arrayId', 'servedById', 'otherBytes', 'note'])

/** The fields of a host that another of the same make has, too. */
export const fieldsOfLike = (host: Host): Partial<NewRecord<'host'>> => pick(host, ofHost)

/**
 * The commands that give a new host what another has in it and around it: modules, drives without serials, arrays, ports without MACs
 * and cables, switches, networks, and stores of its own. The host itself is added before.
 *
 * @param like the host that is there
 * @param made the new host's id and name
 * @param own what the new host has of its own, in place of the other's
 */
export function partsOfLike(
  estate: Estate,
  like: Host,
  made: { readonly id: string; readonly name: string },
  ids: IdMaker,
  own: HostParts = { modules: [], drives: [], ports: [] },
): readonly Command[] {
  const [hasModules, hasDrives, hasPorts] = [own.modules, own.drives, own.ports].map((texts) => texts.length > 0)
  const newIds = new Map<string, string>()
  const idOf = (id: string | null) => (id === null ? null : (newIds.get(id) ?? null))
  const each = <K extends Kind>(kind: K, fields: readonly string[], more: (one: RecordOf<K>) => object): Command[] =>
    [...estate.referring(kind, 'hostId' as never, like.id)].map((one) => {
      const id = ids.newId()
      newIds.set(one.id, id)
      const record = { id, hostId: made.id, ...pick(one, fields), ...more(one) }
      return { type: `${kind}.add`, record } as unknown as Command
    })
  return [
    ...(hasModules ? [] : each('module', ofModule, () => ({ state: 'planned' }))),
    // Other drives make other arrays.
    ...(hasDrives ? [] : each('array', ofArray, () => ({}))),
    ...(hasDrives ? [] : each('drive', ofDrive, ({ arrayId }) => ({ arrayId: idOf(arrayId) }))),
    ...each('switch', ofSwitch, () => ({})),
    ...(hasPorts ? [] : each('port', ofPort, ({ switchId }) => ({ switchId: idOf(switchId) }))),
    ...each('attachment', ofAttachment, ({ switchId }) => ({ switchId: idOf(switchId) })),
    ...each('store', ofStore, ({ name, arrayId }) => ({
      name: storeName(estate, name, like.name, made.name),
      arrayId: idOf(arrayId),
    })),
  ]
}

/** A store's name with the new host's in the place of the old one's; one that names no host gets the new one before it. */
function storeName(estate: Estate, name: string, from: string, to: string): string {
  const said = (name.includes(from) ? name.replace(from, to) : `${to}-${name}`).slice(0, 60)
  const isTaken = (one: string) => estate.byKey('store', { name: one }).length > 0
  let free = said
  for (let number = 2; isTaken(free); number++) free = `${said}-${number}`
  return free
}

const pick = (record: object, fields: readonly string[]): object =>
  Object.fromEntries(fields.map((field) => [field, (record as Readonly<Record<string, unknown>>)[field]]))
