import { recordTitle, sameSerial, strayedDisk } from '../../estate/index.js'
import { elderOf } from './elder.js'
import { defineRule } from '../rule.js'

/** A disk on a store that is in another host than its guest. New ones are refused; records from before, and from elsewhere, are found. */
export const diskStrayed = defineRule({
  id: 'disk.other-host',
  title: 'Disk in another host',
  appliesTo: 'disk',
  reads: ['> guestId', '> storeId'],
  check(estate, disk) {
    const strayed = strayedDisk(estate, disk)
    if (!strayed) return []
    const { guest, store, on, inHost } = strayed
    return [
      {
        severity: 'error',
        sentence: `Disk ${disk.position} of ${guest.name} is on ${store.name}, a store in ${inHost.name}, while the guest is on ${on.name}.`,
        evidence: [
          { label: 'store in', value: inHost.name },
          { label: 'guest on', value: on.name },
        ],
        remedy: 'Record where the disk really is, or on which host the guest really runs.',
      },
    ]
  },
})

/** A disk of a guest on a host that is on no store: the room it takes is counted nowhere. New ones are refused, as those in another host. */
export const diskNoStore = defineRule({
  id: 'disk.no-store',
  title: 'Disk on no store',
  appliesTo: 'disk',
  reads: ['> guestId'],
  check(estate, disk) {
    const guest = estate.find('guest', disk.guestId)
    if (!guest?.hostId || disk.storeId) return []
    return [
      {
        severity: 'error',
        sentence: `Disk ${disk.position} of ${guest.name} is on no store: the room it takes is counted nowhere.`,
        evidence: [{ label: 'size', value: disk.sizeBytes, unit: 'bytes' }],
        remedy: 'Record the store that it is on.',
      },
    ]
  },
})

/** A disk that takes more than its size: one of the two numbers is wrong, and what is worked out from them too. */
export const diskOverSize = defineRule({
  id: 'disk.over-size',
  title: 'Disk holds more than its size',
  appliesTo: 'disk',
  reads: ['> guestId'],
  check(estate, disk) {
    if (disk.usedBytes === null || disk.usedBytes <= disk.sizeBytes) return []
    return [
      {
        severity: 'warning',
        sentence: `Disk ${disk.position} of ${estate.find('guest', disk.guestId)?.name ?? ''} is recorded as holding more than its size.`,
        evidence: [
          { label: 'used', value: disk.usedBytes, unit: 'bytes' },
          { label: 'size', value: disk.sizeBytes, unit: 'bytes' },
        ],
        remedy: 'Look at the size and the use of the disk again. What its snapshots take is recorded on them.',
      },
    ]
  },
})

/** Two drives with one serial. Drives are told apart by it before they are wiped. */
export const driveSameSerial = defineRule({
  id: 'drive.duplicate-serial',
  title: 'Serial of two drives',
  appliesTo: 'drive',
  reads: ['> hostId'],
  again: {
    drive: (estate, { serial }) => (serial === null ? [] : estate.byKey('drive', { serial }).map(({ id }) => id)),
  },
  check(estate, drive) {
    const elder = elderOf(sameSerial(estate, drive), drive)
    if (!elder) return []
    return [
      {
        severity: 'error',
        sentence: `${recordTitle(estate, 'drive', drive)} has the serial of ${recordTitle(estate, 'drive', elder)}.`,
        evidence: [{ label: 'serial', value: drive.serial ?? '' }],
        remedy: 'Read the labels of both drives and correct the record. Wipe neither before that.',
      },
    ]
  },
})
