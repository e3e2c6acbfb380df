import { applyAll, type Command, type CommandContext } from '../commands/index.js'
import { Estate, makeIds, seededRandom } from '../estate/index.js'
import { openErrors } from '../migrations/index.js'
import { seenFinding } from '../findings/index.js'
import '../verbs.js'
import { GiB } from '../units/index.js'

/** The day on which tests look at an estate. */
export const TODAY = '2027-01-18'

/** Ids and a time that are the same in every run. */
export function testContext(seed = 1): CommandContext {
  let tick = Date.UTC(2027, 0, 18) + seed * 1_000_000
  return {
    newId: makeIds(() => tick++, seededRandom(seed)),
    now: '2027-01-18T08:00:00.000Z',
    revision: seed + 1,
    findingOf: seenFinding,
    openChecks: openErrors,
  }
}

/** Ids of the small estate, by what the records are called. */
export const ids = Object.fromEntries(
  [
    'estate',
    'policy',
    'ola',
    'brackwater',
    'marram',
    'gannet',
    'fulmar',
    'tern',
    'nvme1',
    'nvme2',
    'ssd4',
    'vaultStore',
    'office',
    'studio',
    'officeNet',
    'studioNet',
    'pool',
    'playout',
    'news',
    'template',
    'playoutDisk',
    'newsDisk',
    'templateDisk',
    'playoutAdapter',
    'newsAdapter',
    'templateAdapter',
    'playoutAddress',
    // Not in the estate at first: ids that generated commands share.
    'array',
    'switch',
    'port',
    'attachment',
    'system',
    'image',
    'snapshot',
    'plan',
    'item',
    'templateVersion',
    'move',
  ].map((name, index) => [name, `01890000-0000-7000-8000-${(index + 1).toString(16).padStart(12, '0')}`]),
) as Record<string, string>

const id = (name: string): string => {
  const found = ids[name]
  if (!found) throw new Error(`no record “${name}” in the small estate`)
  return found
}
export { id as idOf }

/** Two hosts at the studio, one at the mast, two networks, a guest on each of two hosts and a template. */
export const smallEstateCommands: readonly Command[] = [
  { type: 'person.add', record: { id: id('ola'), name: 'Ola Berg' } },
  { type: 'policy.add', record: { id: id('policy'), failoverReservePercent: 0 } },
  { type: 'platform.add', record: { id: id('brackwater'), name: 'Brackwater 5' } },
  { type: 'platform.add', record: { id: id('marram'), name: 'Marram 2', macPrefix: '02:3c:5d', translation: 'private segment' } },
  {
    type: 'host.add',
    record: {
      id: id('gannet'),
      name: 'gannet',
      site: 'studio',
      platformId: id('brackwater'),
      coresPerSocket: 8,
      memoryMiB: 32768,
      fingerprint: 'AB:CD',
    },
  },
  {
    type: 'host.add',
    record: {
      id: id('fulmar'),
      name: 'fulmar',
      site: 'studio',
      platformId: id('brackwater'),
      coresPerSocket: 8,
      memoryMiB: 32768,
      fingerprint: 'AB:CD',
    },
  },
  {
    type: 'host.add',
    record: {
      id: id('tern'),
      name: 'tern',
      site: 'mast',
      platformId: id('marram'),
      coresPerSocket: 4,
      memoryMiB: 7782,
      fingerprint: 'AB:CD',
    },
  },
  { type: 'store.add', record: { id: id('nvme1'), name: 'nvme-1', hostId: id('gannet'), capacityBytes: 1000 * GiB } },
  { type: 'store.add', record: { id: id('nvme2'), name: 'nvme-2', hostId: id('fulmar'), capacityBytes: 1000 * GiB } },
  { type: 'store.add', record: { id: id('ssd4'), name: 'ssd-4', hostId: id('tern'), capacityBytes: 200 * GiB } },
  {
    type: 'store.add',
    record: { id: id('vaultStore'), name: 'vault-store', kind: 'backup', hostId: id('tern'), capacityBytes: 4000 * GiB },
  },
  { type: 'network.add', record: { id: id('office'), name: 'office', vlanId: 30 } },
  { type: 'network.add', record: { id: id('studio'), name: 'studio', vlanId: 40 } },
  { type: 'subnet.add', record: { id: id('officeNet'), networkId: id('office'), prefix: '10.61.30.0/24', gateway: '10.61.30.1' } },
  { type: 'subnet.add', record: { id: id('studioNet'), networkId: id('studio'), prefix: '10.61.40.0/28', gateway: '10.61.40.1' } },
  { type: 'pool.add', record: { id: id('pool'), subnetId: id('officeNet'), first: '10.61.30.2', last: '10.61.30.99' } },
  ...(['gannet', 'fulmar'] as const).flatMap((host): Command[] => [
    { type: 'attachment.add', record: { hostId: id(host), networkId: id('office') } },
    { type: 'attachment.add', record: { hostId: id(host), networkId: id('studio') } },
  ]),
  {
    type: 'guest.add',
    record: {
      id: id('playout'),
      name: 'playout-1',
      hostId: id('gannet'),
      state: 'running',
      verifiedAt: '2027-01-04T10:00:00.000Z',
      vcpu: 4,
      memoryMiB: 8192,
      backupStoreId: id('vaultStore'),
    },
  },
  {
    type: 'disk.add',
    record: { id: id('playoutDisk'), guestId: id('playout'), storeId: id('nvme1'), sizeBytes: 200 * GiB, usedBytes: 80 * GiB },
  },
  { type: 'adapter.add', record: { id: id('playoutAdapter'), guestId: id('playout'), networkId: id('studio'), mac: '02:1a:4b:00:00:01' } },
  { type: 'address.assign', id: id('playoutAddress'), adapterId: id('playoutAdapter') },
  {
    type: 'guest.add',
    record: {
      id: id('news'),
      name: 'newsroom',
      hostId: id('fulmar'),
      state: 'running',
      verifiedAt: '2027-01-04T10:00:00.000Z',
      vcpu: 2,
      memoryMiB: 4096,
      backupStoreId: id('vaultStore'),
    },
  },
  { type: 'disk.add', record: { id: id('newsDisk'), guestId: id('news'), storeId: id('nvme2'), sizeBytes: 60 * GiB, usedBytes: 20 * GiB } },
  { type: 'adapter.add', record: { id: id('newsAdapter'), guestId: id('news'), networkId: id('office'), mac: '02:1a:4b:00:00:02' } },
  {
    type: 'guest.add',
    record: { id: id('template'), name: 'tpl-server', kind: 'template', hostId: id('gannet'), state: 'stopped', vcpu: 2, memoryMiB: 2048 },
  },
  {
    type: 'disk.add',
    record: { id: id('templateDisk'), guestId: id('template'), storeId: id('nvme1'), sizeBytes: 40 * GiB, usedBytes: 4 * GiB },
  },
  {
    type: 'adapter.add',
    record: { id: id('templateAdapter'), guestId: id('template'), networkId: id('office'), mac: '02:1a:4b:00:00:03' },
  },
  {
    type: 'template.add',
    record: {
      id: id('templateVersion'),
      guestId: id('template'),
      version: '12',
      patchedOn: '2027-01-10',
      installed: 'remote login',
      nameRemoved: 'yes',
      identityRemoved: 'yes',
      hostKeysRemoved: 'yes',
      addressRemoved: 'yes',
      activationRemoved: 'yes',
      historyRemoved: 'yes',
    },
  },
]

/** The small estate, made by its commands. */
export function smallEstate(): Estate {
  const estate = Estate.fromRecords({
    estate: [{ id: id('estate'), name: 'Skerry Sound', domain: 'skerry.example', timeZone: 'UTC', archivedAt: null, note: '' }],
  })
  return applyAll(estate, smallEstateCommands, testContext(0)).estate
}
