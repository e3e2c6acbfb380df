import { dayOf, daysBetween, policyOf, readField, text } from '../estate/index.js'
import { counted } from '../units/index.js'
import { checkStep, isDone, type Precheck } from './check.js'
import { isToMetal } from './move-view.js'

const SOURCE_VERIFIED: Precheck = {
  id: 'source-works',
  title: 'Source works',
  group: 'source',
  check: (view) => ({
    verdict: isDone(view, 'source-works') ? 'fine' : 'error',
    sentence: `${view.source.name} boots, and somebody logged in${view.source.verifiedAt ? `; its install was verified on ${dayOf(view.estate, view.source.verifiedAt)}` : ''}.`,
    remedy: 'Restart it once and log in: what does not boot at the source does not boot at the target either.',
    isByHand: true,
  }),
}

/** The day that somebody wrote into the note of the step, as the day of the last backup. */
const dayIn = (note: string): string | undefined => {
  const [day = ''] = /\b\d{4}-\d\d-\d\d\b/.exec(note) ?? []
  return readField(DAY, day).ok ? day : undefined
}
const DAY = text({ label: 'Day', doc: 'A day in a note.', shape: 'date' })

const BACKUP_FRESH: Precheck = {
  id: 'backup',
  title: 'Backup',
  group: 'source',
  check(view) {
    const days = policyOf(view.estate).moveBackupDays
    const store = view.estate.find('store', view.source.backupStoreId)
    const where = store ? `It is backed up to ${store.name}` : 'No backup of it is recorded'
    const step = view.steps.get(checkStep('backup'))
    const day = step?.state === 'done' ? dayIn(step.note) : undefined
    if (step?.state === 'done' && day === undefined)
      return { verdict: 'fine', sentence: `${where}; a backup was checked on ${dayOf(view.estate, step.at)}.`, isByHand: true }
    const age = day === undefined ? undefined : daysBetween(day, view.today)
    if (age !== undefined && age <= days) return { verdict: 'fine', sentence: `${where}; the last one is of ${day ?? ''}.`, isByHand: true }
    return {
      verdict: 'error',
      sentence:
        age === undefined
          ? `${where}; when it last ran is not recorded.`
          : `${where}; the last one is of ${day ?? ''}, ${counted(age, 'day')} old, and the policies allow ${days}.`,
      evidence: [['allowed age', counted(days, 'day')]],
      remedy: 'Make a backup now, restore a file of it, and write its day, such as 2027-01-18, into the note.',
      isByHand: true,
    }
  },
}

const SNAPSHOTS: Precheck = {
  id: 'snapshots',
  title: 'Snapshots',
  group: 'source',
  check({ estate, source, method, sourceHost }) {
    const snapshots = estate.referring('snapshot', 'guestId', source.id)
    if (snapshots.length === 0) return sourceHost ? { verdict: 'fine', sentence: 'It has no snapshots.' } : undefined
    const names = snapshots.map(({ name }) => name).join(', ')
    return {
      verdict: method === 'live' ? 'warning' : 'error',
      sentence: `${source.name} has ${counted(snapshots.length, 'snapshot')} (${names}); a copy of its disk file alone is not its present state.`,
      evidence: [['snapshots', names]],
      remedy: 'Merge or remove them first, and remove them from the record.',
    }
  },
}

const CONSISTENT: Precheck = {
  id: 'consistent',
  title: 'Consistent data',
  group: 'source',
  check(view) {
    const { hardware, source, method } = view
    const data = hardware?.data ?? 'unknown'
    if (data === 'no') return { verdict: 'fine', sentence: 'No database or directory service is recorded on it.' }
    const runs = method === 'agent conversion' || method === 'rebuild and move the data'
    if (data === 'unknown')
      return runs
        ? {
            verdict: 'warning',
            sentence: `Whether ${source.name} holds a database or directory service is not recorded; it is copied while it runs.`,
            remedy: 'Record it in the machine’s details. A database is stopped, or dumped, before the final pass.',
            isByHand: true,
          }
        : undefined
    return {
      verdict: isDone(view, 'consistent') ? 'fine' : runs ? 'error' : 'warning',
      sentence: `${source.name} holds a ${data}: ${
        data === 'database'
          ? 'it has to be stopped, or dumped, before the last of its data is copied'
          : 'copying it while it runs, or letting both run once, can put it out of step with its partners'
      }.`,
      remedy:
        data === 'database'
          ? 'Stop it before the final pass, and compare its row counts afterwards.'
          : 'Prefer a second server that replicates, and retire this one; otherwise copy it stopped and never start the source again.',
      isByHand: true,
    }
  },
}

const BOUND: Precheck = {
  id: 'bound-to-hardware',
  title: 'Tied to hardware',
  group: 'source',
  check(view) {
    const { hardware, source, becomes, sourceHost, host } = view
    const tied = [
      ...(hardware?.licences ? [`licences: ${hardware.licences}`] : []),
      ...(hardware?.devices ? [`devices: ${hardware.devices}`] : []),
    ]
    if (tied.length === 0)
      return source.kind === 'external' && !hardware
        ? {
            verdict: 'warning',
            sentence: `Nothing is recorded of what is tied to the hardware of ${source.name}: licences, dongles, cards.`,
            remedy: 'Look behind the machine, and record it in its details.',
            isByHand: true,
          }
        : undefined
    return {
      verdict: hardware?.devices && (becomes !== undefined || sourceHost?.id !== host?.id) ? 'error' : 'warning',
      sentence: `${source.name} is tied to hardware: ${tied.join('; ')}.`,
      remedy: 'Move or pass the devices through, and ask the makers for licences on the new machine, before its old one is stopped.',
      isByHand: true,
    }
  },
}

const ENCRYPTION: Precheck = {
  id: 'encryption',
  title: 'Disk encryption',
  group: 'source',
  check({ hardware, source, method, becomes }) {
    const isSealed = hardware?.encryption === 'encrypted'
    if (!isSealed && !source.trustedModule)
      return hardware?.encryption === 'none' ? { verdict: 'fine', sentence: 'Its disks are not encrypted.' } : undefined
    if (!isSealed && method === 'live') return { verdict: 'fine', sentence: 'The state of its trusted module moves with it.' }
    const key = hardware?.recoveryKeyAt
    return {
      verdict: key ? 'warning' : 'error',
      sentence: `${source.name} ${isSealed ? 'has encrypted disks' : 'has a trusted module'}; ${
        becomes ? 'the new machine has another module' : 'its module’s state has to move with it'
      }, and it asks for the recovery key at its first boot.${key ? ` The key is kept: ${key}.` : ' Where the key is kept is not recorded.'}`,
      remedy: 'Suspend the protection before the copy, have the recovery key at hand, resume it afterwards. Never write the key here.',
      isByHand: true,
    }
  },
}

const BACKUP_SERVER: Precheck = {
  id: 'backup-server',
  title: 'Backups follow',
  group: 'source',
  check({ estate, after, source, becomes, host }) {
    const machine = becomes ?? source
    const served = estate.referring('store', 'servedById', source.id).filter(({ kind }) => kind === 'backup')
    const there = served
      .flatMap(({ id }) => after.referring('guest', 'backupStoreId', id))
      .filter(({ id, hostId }) => host !== undefined && hostId === host.id && id !== machine.id)
    if (there.length > 0 && host)
      return {
        verdict: 'error',
        sentence: `${source.name} keeps the backups of ${counted(there.length, 'guest')} of ${host.name}: on it, it is down with what it protects.`,
        evidence: [['guests', there.map(({ name }) => name).join(', ')]],
        remedy: 'Choose another host, or let those guests be backed up elsewhere.',
      }
    const store = estate.find('store', source.backupStoreId)
    if (store?.hostId && host && store.hostId === host.id)
      return {
        verdict: 'warning',
        sentence: `Its backups are on ${store.name}, in ${host.name} itself: after the move they are lost with it.`,
        remedy: 'Give it another backup store after the move.',
      }
    return becomes
      ? {
          verdict: 'warning',
          sentence: `Backup and monitoring know ${source.name}; ${becomes.name} is another machine to them.`,
          remedy: 'Move both over with the cut-over; both are steps of the sheet.',
          isByHand: true,
        }
      : undefined
  },
}

const DEPENDANTS: Precheck = {
  id: 'dependants',
  title: 'Dependants told',
  group: 'source',
  check({ estate, source, hardware, method }) {
    if (method === 'live') return undefined
    const needing = estate.referring('dependency', 'needsId', source.id).flatMap(({ guestId }) => estate.find('guest', guestId)?.name ?? [])
    const services = hardware?.services
    if (needing.length === 0 && !services) return undefined
    return {
      verdict: 'warning',
      sentence: [
        ...(needing.length > 0 ? [`${needing.join(', ')} ${needing.length === 1 ? 'needs' : 'need'} ${source.name}.`] : []),
        ...(services ? [`Others reach by its address: ${services}.`] : []),
      ].join(' '),
      remedy: 'Tell who uses it when it will be off, and for how long.',
      isByHand: true,
    }
  },
}

const CLOCK: Precheck = {
  id: 'clock',
  title: 'Clock',
  group: 'source',
  check: ({ hardware, becomes }) =>
    becomes && hardware?.clock === 'local time'
      ? {
          verdict: 'warning',
          sentence: 'Its hardware clock is in local time; a new machine’s is usually in UTC, so its time is off by the zone.',
          remedy: 'Set the clock of the new machine to local time, or the system to UTC.',
        }
      : undefined,
}

const RUNS_WITH: Precheck = {
  id: 'power',
  title: 'Power state',
  group: 'source',
  check({ source, method, move }) {
    if (move && move.state !== 'begun') return undefined
    if (method === 'live')
      return source.state === 'running'
        ? { verdict: 'fine', sentence: `${source.name} is running.` }
        : { verdict: 'error', sentence: `${source.name} is ${source.state}; a live move is of a running guest.`, remedy: 'Copy it cold.' }
    if (method === 'agent conversion')
      return source.state === 'running'
        ? { verdict: 'fine', sentence: `${source.name} is running, as the agent needs it.` }
        : {
            verdict: 'error',
            sentence: `${source.name} is ${source.state}; the agent copies a running system.`,
            remedy: 'Start it, or copy it disk to disk.',
          }
    return undefined
  },
}

const TO_METAL: Precheck = {
  id: 'metal-drivers',
  title: 'Physical target',
  group: 'source',
  check: (view) =>
    isToMetal(view)
      ? {
          verdict: isDone(view, 'metal-drivers') ? 'fine' : 'warning',
          sentence: `${view.becomes?.name ?? 'The target'} is a physical machine: its chipset, graphics and sound need drivers that a guest never had.`,
          remedy: 'Put the network driver on the stick first; everything else can then be fetched. Third devices can wait.',
          isByHand: true,
        }
      : undefined,
}

/** Checks of the machine that is moved: what it is, and who depends on it. */
export const checksOfSource: readonly Precheck[] = [
  SOURCE_VERIFIED,
  BACKUP_FRESH,
  SNAPSHOTS,
  RUNS_WITH,
  CONSISTENT,
  BOUND,
  ENCRYPTION,
  BACKUP_SERVER,
  DEPENDANTS,
  CLOCK,
  TO_METAL,
]
