import {
  type DriveArray,
  type Estate,
  type Host,
  type Decided,
  platformOf,
  type Port,
  recordTitle,
  type Sheet,
  type Switch,
  timeZoneOf,
} from '../estate/index.js'
import { counted, formatBytes, formatLabelBytes, formatMbps } from '../units/index.js'
import {
  arrayOf,
  drivesIn,
  drivesOf,
  firstChecks,
  managementPlan,
  materialsOf,
  portsOf,
  rolePlan,
  ELECTRICAL_CAUTION,
  HANDLING_CAUTION,
} from '../hosts/index.js'
import { sheetOf, workSheet, type PlannedStep, type WorkSheet } from './work-sheet.js'

/** Minutes a step takes where none was measured yet. Common practice, no source. */
const USUAL_MINUTES: Readonly<Record<string, number>> = {
  materials: 15,
  mount: 30,
  image: 10,
  stick: 10,
  firmware: 10,
  'install-arrays': 15,
  'target-disk': 5,
  install: 20,
  management: 10,
  'first-checks': 15,
  'check-gateway': 2,
  'check-name-server': 2,
  'check-name': 3,
  'check-page': 3,
  switches: 15,
  arrays: 20,
  updates: 30,
  licence: 5,
  fingerprint: 5,
  media: 2,
  'boot-order': 5,
}

/** What the sheet says of a host, and what it leaves out: a new field does not compile until somebody has decided. */
type OnSheet = Decided<
  'host',
  | 'name'
  | 'kind'
  | 'site'
  | 'firmware'
  | 'secureBoot'
  | 'mounting'
  | 'drawWatts'
  | 'powerSupplies'
  | 'circuit'
  | 'imageId'
  | 'stickBytes'
  | 'stickMayBeErased'
  | 'atHand'
  | 'fingerprint'
  | 'trialEndsOn',
  | 'outerGuestId'
  | 'state'
  | 'platformId'
  | 'model'
  | 'sockets'
  | 'coresPerSocket'
  | 'threadsPerCore'
  | 'memoryMiB'
  | 'processorModel'
  | 'clockMHz'
  | 'cpuFlags'
  | 'memorySlots'
  | 'controllers'
  | 'circuitVolts'
  | 'circuitAmps'
  | 'failoverReserveMiB'
  | 'isRouter'
  | 'managementMac'
  | 'serial'
  | 'assetTag'
  | 'rack'
  | 'heightUnit'
  | 'purchasedOn'
  | 'warrantyEndsOn'
  | 'controllerAddress'
  | 'tags'
  | 'note'
>

const onSheet = (host: Host): OnSheet => host

/** The build sheet of a host: every step with the recorded values in it, and what became of it. */
export const buildSheet = (estate: Estate, host: Host, sheet = sheetOf(estate, 'hostId', host.id)): WorkSheet =>
  workSheet(estate, sheet, 'hostId', planSteps(estate, onSheet(host), sheet), USUAL_MINUTES)

function planSteps(estate: Estate, host: Host, sheet: Sheet | undefined): readonly PlannedStep[] {
  const platform = platformOf(estate, host)
  const isPhysical = host.kind === 'physical'
  return [
    ...(isPhysical ? [materialsStep(estate, host), mountStep(estate, host)] : []),
    imageStep(estate, host),
    ...(isPhysical ? [stickStep(estate, host)] : []),
    {
      key: 'firmware',
      title: 'Firmware settings',
      lines: [
        host.firmware
          ? `Boot mode ${host.firmware}${host.secureBoot ? `, secure boot ${host.secureBoot}` : ''}.`
          : 'Choose the boot mode and record it.',
        'Hardware virtualisation on. Clock set to UTC.',
        ...(isPhysical
          ? ['Power back on after a power failure, as the site wants it.']
          : ['The outer host passes hardware virtualisation on.']),
      ],
      ...(host.firmware ? {} : { gap: 'The firmware mode is not planned: changing it after the install stops the boot.' }),
    },
    ...installArraysStep(estate, host),
    targetStep(estate, host),
    {
      key: 'install',
      title: `Install ${platform.name}`,
      lines: [
        'The stick or image is in before power-on, or the firmware does not list it.',
        'Keep root’s password in the estate’s password safe, not in Insel.',
        `Time zone ${timeZoneOf(estate)} for people, the clock in UTC.`,
      ],
    },
    managementStep(estate, host),
    ...firstCheckSteps(estate, host, sheet),
    ...switchesStep(estate, host),
    arraysStep(estate, host),
    { key: 'updates', title: 'Updates', lines: ['Install what was released since the image, restart, look at the version.'] },
    licenceStep(estate, host),
    {
      key: 'fingerprint',
      title: 'Certificate fingerprint',
      lines: [
        'Compare what the browser shows with what the console shows; if they match, the connection is not intercepted.',
        'Record it, so that the next person can compare.',
      ],
      tool: 'fingerprint',
      ...(host.fingerprint ? {} : { gap: 'No fingerprint is recorded yet.', unrecorded: 'the fingerprint' }),
    },
    { key: 'media', title: 'Old media out', lines: ['Stick and discs out, virtual media detached in the management controller.'] },
    {
      key: 'boot-order',
      title: 'Boot order',
      lines: ['The install disk first. Restart once without touching anything: it must come up by itself.'],
    },
  ]
}

function materialsStep(estate: Estate, host: Host): PlannedStep {
  const missing = materialsOf(estate, host).filter(({ isAtHand }) => !isAtHand)
  return {
    key: 'materials',
    title: 'Materials',
    lines: missing.length === 0 ? ['Everything is at hand.'] : missing.map(({ count, there, what }) => `${count - there} × ${what}`),
    tool: 'materials',
    ...(missing.some(({ problem }) => problem) ? { gap: missing.find(({ problem }) => problem)?.problem ?? '' } : {}),
  }
}

function mountStep(estate: Estate, host: Host): PlannedStep {
  const wired = portsOf(estate, host).filter(({ medium }) => medium !== 'wireless')
  const used = wired.filter(({ role, cable, farEnd }) => role !== null || cable === 'present' || farEnd !== null)
  const empty = wired.filter((port) => !used.includes(port))
  const loose = used.filter(({ farEnd }) => farEnd === null)
  return {
    key: 'mount',
    title: host.mounting === 'rack' ? 'Mount, cable, power' : 'Set up, cable, power',
    lines: [
      host.drawWatts
        ? `It draws ${host.drawWatts} W${host.circuit ? ` from circuit ${host.circuit}` : ''}.`
        : 'Its power draw is not recorded.',
      ...used.map(cableLine),
      ...(empty.length > 0 ? [`Without a cable: ${namesOf(empty)}.`] : []),
      wired.length > 0 ? 'Check the link light at both ends of each cable.' : 'Its ports are not recorded.',
    ],
    caution: `${HANDLING_CAUTION} ${ELECTRICAL_CAUTION}`,
    ...(loose.length > 0 ? { gap: `The far end of the cable of ${namesOf(loose)} is not recorded: enter switch and port.` } : {}),
  }
}

const namesOf = (ports: readonly Port[]) => ports.map(({ name }) => name).join(', ')
const cableLine = ({ name, medium, speedMbps, role, farEnd, cable }: Port) =>
  `${name} (${medium}, ${formatMbps(speedMbps)}${role ? `, carries ${role}` : ''}): ${farEnd ? `to ${farEnd}` : 'far end not recorded'}${cable === 'missing' ? '; no cable yet' : ''}.`

function imageStep(estate: Estate, host: Host): PlannedStep {
  const image = estate.find('image', host.imageId)
  if (!image)
    return {
      key: 'image',
      title: 'Image and its checksum',
      lines: ['Choose the image to install from.'],
      tool: 'image',
      gap: 'No image is chosen.',
      unrecorded: 'the image',
    }
  return {
    key: 'image',
    title: 'Image and its checksum',
    lines: [
      `${image.name}${image.version ? `, ${image.version}` : ''}, ${formatBytes(image.sizeBytes)}.`,
      image.sha256 ? `SHA-256 ${image.sha256}` : 'Compare the file’s SHA-256 with the one its maker publishes.',
    ],
    tool: 'image',
    ...(image.sha256 ? {} : { gap: 'No checksum is recorded.', unrecorded: 'the checksum' }),
  }
}

function stickStep(estate: Estate, host: Host): PlannedStep {
  const image = estate.find('image', host.imageId)
  const isSmall = image && host.stickBytes !== null && host.stickBytes < image.sizeBytes
  const gap =
    host.stickBytes === null
      ? 'The stick’s size is not recorded.'
      : isSmall
        ? `The stick holds ${formatLabelBytes(host.stickBytes)}; the image needs ${formatBytes(image.sizeBytes)}.`
        : host.stickMayBeErased !== 'yes'
          ? 'The stick is not marked as erasable.'
          : undefined
  return {
    key: 'stick',
    title: 'Install stick',
    lines: [
      host.stickBytes === null ? 'Record the label capacity of the stick.' : `Stick of ${formatLabelBytes(host.stickBytes)}.`,
      'Check what is on it before it is written.',
    ],
    caution: 'Writing the image erases everything on the stick.',
    tool: 'stick',
    ...(gap ? { gap } : {}),
  }
}

const installDrives = (estate: Estate, host: Host) => drivesIn(estate, host).filter(({ use }) => use === 'install')
const arrayLine = (estate: Estate, array: DriveArray): string =>
  `${recordTitle(estate, 'array', array)}: level ${array.level}, bays ${baysOf(drivesOf(estate, array))}, ${formatBytes(arrayOf(estate, array).usable.value)} usable`
const baysOf = (drives: readonly { readonly position: number }[]) => drives.map(({ position }) => position).join(', ')

/** The arrays that the system goes onto, and the others. */
function arraysByUse(estate: Estate, host: Host): { readonly under: readonly DriveArray[]; readonly beside: readonly DriveArray[] } {
  const installed = new Set(installDrives(estate, host).map(({ arrayId }) => arrayId))
  const arrays = estate.referring('array', 'hostId', host.id)
  return { under: arrays.filter(({ id }) => installed.has(id)), beside: arrays.filter(({ id }) => !installed.has(id)) }
}

/** An array that holds the system is made before the install: made afterwards, it would wipe it. */
function installArraysStep(estate: Estate, host: Host): readonly PlannedStep[] {
  const { under } = arraysByUse(estate, host)
  if (under.length === 0) return []
  return [
    {
      key: 'install-arrays',
      title: under.length === 1 ? 'Array for the system' : 'Arrays for the system',
      lines: [
        ...under.map((array) => `${arrayLine(estate, array)}.`),
        'In the controller’s setup, or in the installer if it creates the array itself; before the install, since creating it wipes the system.',
      ],
      caution: 'Creating an array wipes its drives. Compare bays and serials first. Is there a copy of their data?',
    },
  ]
}

function targetStep(estate: Estate, host: Host): PlannedStep {
  const targets = installDrives(estate, host)
  const { under } = arraysByUse(estate, host)
  const nameless = targets.find(({ serial }) => !serial)
  const gap =
    targets.length === 0
      ? 'No drive is planned as the install disk.'
      : nameless
        ? `The drive in bay ${nameless.position} has no serial recorded; read it off before it is wiped.`
        : undefined
  return {
    key: 'target-disk',
    title: 'Target disk',
    lines: [
      ...under.map(
        (array) => `Install on the array ${recordTitle(estate, 'array', array)}, ${formatBytes(arrayOf(estate, array).usable.value)}, of:`,
      ),
      ...targets.map(
        ({ position, labelBytes, model, serial }) =>
          `Bay ${position}: ${formatLabelBytes(labelBytes)} (${formatBytes(labelBytes)} on the screen), ${model ?? 'model not recorded'}, serial ${serial ?? 'not recorded'}.`,
      ),
    ],
    caution:
      'The install wipes the chosen disk. Compare size, model and serial with the screen; if one differs, stop. Is there a copy of its data?',
    tool: 'wipe',
    ...(gap ? { gap } : {}),
  }
}

function managementStep(estate: Estate, host: Host): PlannedStep {
  const plan = managementPlan(estate, host)
  const ports = rolePlan(estate, host).find(({ role }) => role === 'management')?.ports ?? []
  return {
    key: 'management',
    title: 'Management network',
    lines: [
      plan.ip ? `Address ${plan.ip}/${plan.length ?? ''}, fixed.` : 'No address is planned.',
      `Gateway ${plan.subnet?.gateway ?? 'not planned'}. Name ${plan.fullName}.`,
      `Network ${plan.networkName ?? 'not planned'}, ${plan.vlanId ? `VLAN ${plan.vlanId}` : 'untagged'}; ports ${ports.map(({ name }) => name).join(' and ') || 'not planned'}.`,
    ],
    tool: 'management',
    ...(plan.ip ? {} : { gap: 'No management address is planned.' }),
  }
}

/** What is checked from the network, each a step of its own. A sheet on which they were one step keeps it. */
function firstCheckSteps(estate: Estate, host: Host, sheet: Sheet | undefined): readonly PlannedStep[] {
  const plan = managementPlan(estate, host)
  const url = platformOf(estate, host).managementUrl?.replace('{name}', plan.fullName)
  const lines: Readonly<Record<(typeof firstChecks)[number][0], string>> = {
    'check-gateway': plan.subnet?.gateway ? `ping ${plan.subnet.gateway}` : 'No gateway is planned: skip it, and say so.',
    'check-name-server': plan.subnet?.nameServers
      ? `ping ${plan.subnet.nameServers.split(' ').join(', then ')}`
      : 'No name server is recorded: skip it, and say so.',
    'check-name': `${plan.fullName}${plan.ip ? ` to ${plan.ip} and back` : ''}`,
    'check-page': url ?? 'Its address is not recorded with the platform.',
  }
  const isOne = sheet && estate.referring('step', 'sheetId', sheet.id).some(({ step }) => step === 'first-checks')
  if (isOne)
    return [
      { key: 'first-checks', title: 'First checks, in this order', lines: firstChecks.map(([key, title]) => `${title}: ${lines[key]}`) },
    ]
  return firstChecks.map(([key, title]) => ({ key, title, lines: [lines[key]] }))
}

/** The virtual switches with their uplinks, and each network where it is attached. */
function switchesStep(estate: Estate, host: Host): readonly PlannedStep[] {
  const switches = estate.referring('switch', 'hostId', host.id)
  const attachments = estate.referring('attachment', 'hostId', host.id)
  if (switches.length === 0 && attachments.length === 0) return []
  const uplinksOf = ({ id }: Switch) => portsOf(estate, host).filter(({ switchId }) => switchId === id)
  const lonely = switches.find((one) => one.bond !== 'none' && uplinksOf(one).length < 2)
  const switchLine = (one: Switch) => {
    const uplinks = uplinksOf(one)
    return [
      `${one.name}: ${uplinks.length > 0 ? `uplinks ${namesOf(uplinks)}` : 'no uplink'}`,
      ...(one.bond === 'none' ? [] : [`bond ${one.bond}${one.bond === 'LACP' ? ', set on both ends (IEEE 802.1AX)' : ''}`]),
      `tagged VLANs ${one.taggedVlans ?? 'none'}`,
      `native VLAN ${one.nativeVlan ?? 'not recorded'}`,
      `MTU ${one.mtu}.`,
    ].join('; ')
  }
  return [
    {
      key: 'switches',
      title: 'Switches and networks',
      lines: [
        ...switches.map(switchLine),
        ...attachments.map((attachment) => {
          const network = estate.find('network', attachment.networkId)
          const on = estate.find('switch', attachment.switchId)
          const vlan = network?.vlanId == null ? 'untagged' : `VLAN ${network.vlanId}`
          return `Network ${network?.name ?? ''}, ${vlan}: ${attachment.kind === 'translated' ? 'NAT' : attachment.kind}${on ? ` on ${on.name}` : ''}.`
        }),
      ],
      ...(lonely ? { gap: `${lonely.name} is planned as a bond and has ${counted(uplinksOf(lonely).length, 'uplink')}.` } : {}),
    },
  ]
}

function arraysStep(estate: Estate, host: Host): PlannedStep {
  const { under, beside } = arraysByUse(estate, host)
  const storesOn = (array: DriveArray) =>
    estate.referring('store', 'arrayId', array.id).map(({ name, capacityBytes }) => `${name} ${formatBytes(capacityBytes)}`)
  const withStores = (array: DriveArray, said: string) => {
    const stores = storesOn(array)
    return `${said}${stores.length > 0 ? `; stores ${stores.join(', ')}` : ''}.`
  }
  const installed = installDrives(estate, host)
  const onSystem =
    installed.length > 1
      ? `The system is on the drives in bays ${baysOf(installed)}: leave them alone.`
      : `The system is on the drive in bay ${baysOf(installed)}: leave it alone.`
  return {
    key: 'arrays',
    title: 'Arrays and stores',
    lines: [
      ...beside.map((array) => withStores(array, arrayLine(estate, array))),
      ...under
        .filter((array) => storesOn(array).length > 0)
        .map((array) => withStores(array, `${recordTitle(estate, 'array', array)} exists already`)),
      ...(beside.length === 0 ? [`No ${under.length > 0 ? 'further ' : ''}array is planned; create the stores as recorded.`] : []),
    ],
    caution: ['Creating an array wipes its drives. Compare bays and serials first.', ...(installed.length > 0 ? [onSystem] : [])].join(' '),
  }
}

function licenceStep(estate: Estate, host: Host): PlannedStep {
  const { trialDays, name } = platformOf(estate, host)
  return {
    key: 'licence',
    title: 'Licence or trial',
    lines: [
      trialDays ? `${name} runs ${counted(trialDays, 'day')} without a licence.` : 'Record when the licence or support ends.',
      'Keep the licence code in the estate’s password safe; Insel keeps the date.',
    ],
    tool: 'trial',
    ...(host.trialEndsOn ? {} : { ...(trialDays ? { gap: 'The end of the trial is not recorded.' } : {}), unrecorded: 'when it ends' }),
  }
}
