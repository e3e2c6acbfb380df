import { type Command } from '../commands/index.js'
import {
  type Adapter,
  adaptersOf,
  type Estate,
  type Guest,
  type Decided,
  type Sheet,
  type Step,
  storeReach,
  timeZoneOf,
} from '../estate/index.js'
import { sheetOf, workSheet, type PlannedStep, type WorkSheet } from '../sheets/index.js'
import { preferredSubnet, prefixOf } from '../networks/index.js'
import { fullName, zoneOf } from '../names/index.js'
import { counted, formatBytes, formatExactBytes, MiB } from '../units/index.js'
import { devicePlanOf } from './device-plan.js'
import { checkDevices } from './devices.js'
import { type DeviceRemark } from './device-remark.js'

/** Minutes a step takes where none was measured yet. Common practice, no source: a fresh install runs 10 to 30 minutes. */
const USUAL_MINUTES: Readonly<Record<string, number>> = {
  image: 5,
  devices: 2,
  attach: 2,
  'power-on': 3,
  'disk-layout': 3,
  network: 3,
  account: 2,
  packages: 12,
  'boot-loader': 1,
  eject: 1,
  updates: 10,
}

/** What is verified at the end, in this order: the step's key and what is done. Common practice, no source. */
export const verificationSteps = [
  ['verify-interface', 'The interface comes up at boot'],
  ['verify-login', 'It can be logged into'],
  ['verify-gateway', 'It pings the gateway'],
  ['verify-outside', 'It pings something outside'],
  ['verify-name', 'It resolves a name'],
  ['verify-address', 'It shows the planned address'],
  ['verify-media', 'The medium is ejected'],
  ['verify-boot', 'The disk is first in the boot order'],
  ['verify-backup', 'Its backup is planned'],
] as const

/** What the sheet says of a guest, and what it leaves out: a new field does not compile until somebody has decided. */
type OnSheet = Decided<
  'guest',
  | 'name'
  | 'hostId'
  | 'state'
  | 'systemId'
  | 'vcpu'
  | 'sockets'
  | 'processorMode'
  | 'memoryMiB'
  | 'memoryMinMiB'
  | 'firmware'
  | 'secureBoot'
  | 'trustedModule'
  | 'machineType'
  | 'mediumId'
  | 'mediumConnected'
  | 'bootFirst'
  | 'installer'
  | 'packages'
  | 'locale'
  | 'backupStoreId',
  | 'kind'
  | 'verifiedAt'
  | 'purpose'
  | 'workload'
  | 'latency'
  | 'identity'
  | 'identityFromId'
  | 'identityFromName'
  | 'identityKey'
  | 'clonedVersion'
  | 'isRouter'
  | 'group'
  | 'apartFromId'
  | 'clonedFromId'
  | 'owner'
  | 'contact'
  | 'criticality'
  | 'patchedOn'
  | 'tags'
  | 'note'
>

const onSheet = (guest: Guest): OnSheet => guest

/** The install sheet of a guest: every step with the recorded values in it, its traps where they bite, and what became of it. */
export const installSheet = (estate: Estate, guest: Guest, sheet = sheetOf(estate, 'guestId', guest.id)): WorkSheet =>
  workSheet(estate, sheet, 'guestId', planSteps(estate, onSheet(guest)), {
    ...Object.fromEntries(verificationSteps.map(([key]) => [key, 1])),
    ...USUAL_MINUTES,
  })

/** The first address that a guest is to have, with what belongs to it. */
export function plannedAddress(estate: Estate, guest: Guest) {
  const adapters = adaptersOf(estate, guest.id)
  for (const adapter of adapters) {
    const [address] = estate.referring('address', 'adapterId', adapter.id)
    const subnet = estate.find('subnet', address?.subnetId) ?? (adapter.networkId ? preferredSubnet(estate, adapter.networkId) : undefined)
    if (subnet || address) return { adapter, address, subnet, network: estate.find('network', adapter.networkId) }
  }
  return undefined
}

function planSteps(estate: Estate, guest: Guest): readonly PlannedStep[] {
  const host = estate.find('host', guest.hostId)
  const remarks = checkDevices(
    devicePlanOf(estate, guest),
    estate.find('system', guest.systemId),
    estate.find('platform', host?.platformId),
    host,
  )
  const steps = [
    imageStep(estate, guest),
    devicesStep(estate, guest, remarks),
    attachStep(estate, guest),
    installerStep(estate, guest, remarks),
    layoutStep(estate, guest, remarks),
    networkStep(estate, guest, remarks),
    accountStep(estate, guest),
    packagesStep(estate, guest),
    {
      key: 'boot-loader',
      title: 'Boot loader',
      lines: [
        guest.firmware === 'UEFI' ? 'Into the EFI partition of the first disk.' : 'Into the first disk itself, not into a partition.',
        'Without it the machine does not boot once the medium is out.',
      ],
    },
    ejectStep(estate, guest),
    updatesStep(guest),
    ...verification(estate, guest),
  ]
  // An appliance without a disk runs from its medium: nothing is laid out, and nothing ejected.
  const hasDisk = estate.referring('disk', 'guestId', guest.id).length > 0
  return hasDisk ? steps : steps.filter(({ key }) => !['disk-layout', 'boot-loader', 'eject', 'verify-media', 'verify-boot'].includes(key))
}

/** Its full name, in the zone of its first network. */
const nameOf = (estate: Estate, guest: Guest): string =>
  fullName({ label: guest.name.toLowerCase(), zone: zoneOf(estate, plannedAddress(estate, guest)?.network?.id) ?? '' })

const gapOf = (gap: string | undefined) => (gap ? { gap } : {})
const trapOf = (remarks: readonly DeviceRemark[], ...traps: DeviceRemark['trap'][]) =>
  remarks.find(({ trap, severity }) => traps.includes(trap) && severity !== 'notice')

function imageStep(estate: Estate, guest: Guest): PlannedStep {
  const image = estate.find('image', guest.mediumId)
  const host = estate.find('host', guest.hostId)
  const store = estate.find('store', image?.storeId)
  const gap = !image
    ? 'No install image is chosen.'
    : !store
      ? 'The image is on no store.'
      : host && !storeReach(store, host)
        ? `${host.name} does not reach ${store.name}, where the image is.`
        : !image.sha256
          ? 'No checksum is recorded.'
          : undefined
  return {
    key: 'image',
    title: 'Image and its checksum',
    lines: image
      ? [
          `${image.name}${image.version ? `, ${image.version}` : ''}, ${formatBytes(image.sizeBytes)}${store ? `, on ${store.name}` : ''}.`,
          image.sha256 ? `SHA-256 ${image.sha256}` : 'Compare the file’s SHA-256 with the one its maker publishes.',
        ]
      : ['Choose the image to install from.'],
    tool: 'guest image',
    ...gapOf(gap),
    ...(!image ? { unrecorded: 'the image' } : !image.sha256 ? { unrecorded: 'the checksum' } : {}),
  }
}

function devicesStep(estate: Estate, guest: Guest, remarks: readonly DeviceRemark[]): PlannedStep {
  const { disks, adapters } = devicePlanOf(estate, guest)
  const worst = remarks.find(({ severity }) => severity === 'error')
  return {
    key: 'devices',
    title: 'Devices',
    lines: [
      `${guest.vcpu} vCPU in ${counted(guest.sockets, 'socket')}, mode ${guest.processorMode}; board ${guest.machineType}, ${guest.firmware}${guest.secureBoot ? ', secure boot on' : ''}${guest.trustedModule ? ', trusted module' : ''}.`,
      `Memory ${formatExactBytes(guest.memoryMiB * MiB)}${guest.memoryMinMiB === null ? '' : `, at least ${formatExactBytes(guest.memoryMinMiB * MiB)}`}.`,
      ...disks.map(
        ({ use, bus, sizeBytes, cache, provisioning, storeId }, at) =>
          `Disk ${at + 1} (${use}): ${formatExactBytes(sizeBytes)}, ${provisioning}, on ${estate.find('store', storeId)?.name ?? 'no store yet'}; ${bus}, cache ${cache}.`,
      ),
      ...adapters.map((adapter) => adapterLine(estate, adapter)),
    ],
    tool: 'devices',
    ...gapOf(worst ? `${worst.sentence} ${worst.remedy}` : undefined),
  }
}

function adapterLine(estate: Estate, { position, model, mac, networkId, isConnected }: Adapter): string {
  const network = estate.find('network', networkId)
  const plug = network ? `${network.name}, ${network.vlanId === null ? 'untagged' : `VLAN ${network.vlanId}`}` : 'no network yet'
  return `Adapter ${position}: ${model}, MAC ${mac}, on ${plug}${isConnected ? '' : ', not connected at power-on'}.`
}

function attachStep(estate: Estate, guest: Guest): PlannedStep {
  const gaps = [
    ...(estate.find('image', guest.mediumId) ? [] : ['no medium is attached']),
    ...(guest.mediumConnected ? [] : ['the medium is not connected at power-on']),
    ...(guest.bootFirst === 'disk' ? ['the disk is first in the boot order'] : []),
  ]
  return {
    key: 'attach',
    title: 'Attach the medium, boot from it first',
    lines: ['The medium in the drive, connected at power-on, first in the boot order. All three, or the installer does not start.'],
    tool: 'attach',
    ...gapOf(gaps.length > 0 ? `As recorded, ${gaps.join(', and ')}.` : undefined),
  }
}

function installerStep(estate: Estate, guest: Guest, remarks: readonly DeviceRemark[]): PlannedStep {
  const installer = guest.installer ?? estate.find('image', guest.mediumId)?.installer ?? null
  const plan = plannedAddress(estate, guest)
  const driver = trapOf(remarks, 'disk-driver', 'disk-driver-image')
  const isOffline = installer === 'network installer' && !plan?.network
  return {
    key: 'power-on',
    title: 'Power on, start the installer',
    lines: [
      installer === 'network installer'
        ? 'Network installer: small, needs a working connection now, and ends up to date.'
        : installer === 'full image'
          ? 'Full image: works without a network, and leaves hundreds of updates for later.'
          : 'Full image or network installer: record which, as they need different things.',
      `Language and keyboard: ${guest.locale ?? 'not planned'}.`,
    ],
    tool: 'state',
    ...gapOf(
      isOffline
        ? 'A network installer without a network: no adapter is plugged in.'
        : driver
          ? `${driver.sentence} ${driver.remedy}`
          : guest.locale
            ? undefined
            : 'Language and keyboard are not planned.',
    ),
  }
}

function layoutStep(estate: Estate, guest: Guest, remarks: readonly DeviceRemark[]): PlannedStep {
  const { disks } = devicePlanOf(estate, guest)
  const system = estate.find('system', guest.systemId)
  const small = trapOf(remarks, 'below-minimum')
  return {
    key: 'disk-layout',
    title: 'Disk layout',
    lines: [
      ...disks.map(({ use, sizeBytes }, at) => `Disk ${at + 1}: ${formatBytes(sizeBytes)}, for ${use}.`),
      guest.firmware === 'UEFI'
        ? 'An EFI partition on the first disk, the rest for the system.'
        : 'One partition for the system, marked active.',
      ...(disks.length > 1 ? ['The installer takes the first disk only; the others are laid out afterwards.'] : []),
    ],
    caution: 'The installer wipes the disk it is given. Compare its size with the record; if another disk is attached, check twice.',
    ...gapOf(small ? small.sentence : system ? undefined : 'No system is recorded, so the least size was not checked.'),
  }
}

function networkStep(estate: Estate, guest: Guest, remarks: readonly DeviceRemark[]): PlannedStep {
  const plan = plannedAddress(estate, guest)
  const length = plan?.subnet ? prefixOf(plan.subnet).bits : undefined
  const trap = trapOf(remarks, 'adapter-driver', 'adapter-driver-image')
  const isPlugged = plan?.adapter.isConnected !== false
  return {
    key: 'network',
    title: 'Name and address',
    lines: plan
      ? [
          `Name ${nameOf(estate, guest)}.`,
          plan.address
            ? plan.address.kind === 'fixed'
              ? `Address ${plan.address.ip}/${length ?? '?'}, fixed; gateway ${plan.subnet?.gateway ?? 'none'}; name servers ${plan.subnet?.nameServers ?? 'not recorded'}.`
              : `Address ${plan.address.ip} by DHCP, reserved for ${plan.adapter.mac ?? 'a MAC that is not recorded yet'}.`
            : `On ${plan.network?.name ?? 'no network'}, with no planned address.`,
          'Configure the interface to come up at boot: some systems do not by default.',
        ]
      : [`Name ${nameOf(estate, guest)}.`, 'No adapter is plugged into a network with addresses.'],
    ...gapOf(
      trap
        ? `${trap.sentence} ${trap.remedy}`
        : !isPlugged
          ? 'The adapter is not connected at power-on.'
          : plan?.address
            ? undefined
            : 'No address is planned; DHCP would assign one that is not recorded.',
    ),
  }
}

const accountStep = (estate: Estate, guest: Guest): PlannedStep => ({
  key: 'account',
  title: 'Account and time zone',
  lines: [
    'A personal account. Keep the password in the estate’s password safe, not in Insel.',
    `The clock in UTC${/linux|bsd/i.test(estate.find('system', guest.systemId)?.family ?? 'linux') ? '' : ' as far as the system lets it'}; people plan in ${timeZoneOf(estate)}.`,
  ],
})

const packagesStep = (_: Estate, guest: Guest): PlannedStep => ({
  key: 'packages',
  title: 'What to install',
  lines: [guest.packages ?? 'Nothing is planned: take the least, and remote login.'],
  ...gapOf(guest.packages ? undefined : 'What to install is not planned.'),
})

function ejectStep(estate: Estate, guest: Guest): PlannedStep {
  const image = estate.find('image', guest.mediumId)
  return {
    key: 'eject',
    title: 'Eject, disk first',
    lines: ['Eject the medium before the restart, and put the disk first, or the machine installs itself again.'],
    tool: 'eject',
    ...gapOf(
      image || guest.bootFirst !== 'disk'
        ? `As recorded, ${image ? `${image.name} is attached` : `it boots first from ${guest.bootFirst}`}.`
        : undefined,
    ),
  }
}

const updatesStep = (guest: Guest): PlannedStep => ({
  key: 'updates',
  title: 'Security updates',
  lines: [
    guest.installer === 'network installer'
      ? 'Up to date already; switch automatic security updates on.'
      : 'Install what was released since the image, restart, switch automatic security updates on.',
  ],
})

function verification(estate: Estate, guest: Guest): readonly PlannedStep[] {
  const plan = plannedAddress(estate, guest)
  const backup = estate.find('store', guest.backupStoreId)
  const lines: Readonly<Record<(typeof verificationSteps)[number][0], string>> = {
    'verify-interface': 'Restart it once without touching anything, and watch.',
    'verify-login': 'As the account that was made, over the network.',
    'verify-gateway': plan?.subnet?.gateway ? `ping ${plan.subnet.gateway}` : 'No gateway is planned: skip it, and say so.',
    'verify-outside': 'ping an address beyond the gateway.',
    'verify-name': `look up ${nameOf(estate, guest)}${plan?.address ? `; it answers ${plan.address.ip}` : ''}`,
    'verify-address': plan?.address ? `ip address shows ${plan.address.ip}` : 'No address is planned.',
    'verify-media': 'The drive is empty.',
    'verify-boot': 'As the platform shows it.',
    'verify-backup': backup ? `It is backed up to ${backup.name}.` : 'No backup is recorded.',
  }
  const gaps: Partial<Record<(typeof verificationSteps)[number][0], string | undefined>> = {
    'verify-media': guest.mediumId ? 'The record says that it is still attached.' : undefined,
    'verify-boot': guest.bootFirst === 'disk' ? undefined : `The record says that it boots first from ${guest.bootFirst}.`,
    'verify-backup': backup ? undefined : 'Record where it is backed up to.',
    'verify-address': plan?.address ? undefined : 'No address is planned.',
  }
  return verificationSteps.map(([key, title]) => ({
    key,
    title,
    lines: [lines[key]],
    ...gapOf(gaps[key]),
    ...(key === 'verify-backup' && !backup ? { unrecorded: 'where it is backed up to' } : {}),
  }))
}

/**
 * What is recorded of a guest when the last step of its sheet is settled: it is in service, and verified when no check of
 * the verification failed or was skipped.
 *
 * @param states what became of each step, with the last one in it
 * @param at the time, ISO 8601
 */
export function finishInstall(guest: Guest, sheet: Sheet, states: ReadonlyMap<string, Step['state']>, at: string): readonly Command[] {
  const isVerified = verificationSteps.every(([key]) => states.get(key) === undefined || states.get(key) === 'done')
  const isUp = guest.state === 'being installed' || guest.state === 'planned'
  return [
    { type: 'sheet.update', id: sheet.id, changes: { finishedAt: at, resumedAt: null } },
    { type: 'guest.update', id: guest.id, changes: { ...(isUp ? { state: 'running' } : {}), verifiedAt: isVerified ? at : null } },
  ]
}
