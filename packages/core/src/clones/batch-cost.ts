import { DAYS_PER_MONTH, storeGrowth, takenBytes } from '../capacity/index.js'
import { disksOf, policyOf, type Batch, type Estate, type Guest } from '../estate/index.js'
import { sheetTimes } from '../sheets/index.js'
import type { StoreRoom } from '../placement/index.js'
import { GIGABIT_LINK_BYTES_PER_SECOND } from '../transfers/index.js'
import { sumFigure, type Figure } from '../units/index.js'
import type { BatchRow } from './compose-batch.js'
import { copyMinutes } from './copy-lines.js'
import { copySteps } from './copy-steps.js'

/** What a batch does to one store. */
export interface BatchStore {
  readonly storeId: string
  readonly name: string
  readonly copies: number
  /** Bytes that the copies take at once: thick disks whole, thin ones as the template’s are used. */
  readonly takes: Figure
  /** Bytes that they promise. */
  readonly promises: number
  readonly capacityBytes: number
  readonly usedNowBytes: number
  readonly usedThenBytes: number
  /** In 90 days, at the growth recorded on the disks that are there and on the template’s. */
  readonly usedIn90DaysBytes: number
  readonly promisedThenBytes: number
}

/** The days of a quarter, in which growth is looked ahead. */
const AHEAD_DAYS = 90

/**
 * What a batch takes of each store it goes to: now, and in 90 days.
 *
 * @param stores the stores with all copies on them, as composing the batch left them
 * @see facts of the trade: full copies take n × used where thin, n × provisioned where thick; common practice, no source
 */
export function batchStores(
  estate: Estate,
  template: Guest,
  rows: readonly BatchRow[],
  stores: readonly StoreRoom[],
): readonly BatchStore[] {
  const disks = disksOf(estate, template.id)
  return stores.flatMap((room): BatchStore[] => {
    const inputs = rows.flatMap(({ command, name, place }) =>
      disks.flatMap((disk, index) => {
        const storeId = command?.stores?.[disk.id] ?? place.stores[index]?.id
        if (storeId !== room.store.id) return []
        const sizeBytes = index === 0 ? Math.max(disk.sizeBytes, command?.systemDiskBytes ?? 0) : disk.sizeBytes
        const made = { ...disk, sizeBytes, provisioning: command?.provisioning ?? disk.provisioning }
        return [{ name, disk: made }]
      }),
    )
    if (inputs.length === 0) return []
    const takes = sumFigure(
      'thick disks at their size + thin ones as the template’s are used',
      'bytes',
      inputs.map(({ name, disk }) => ({
        label: `${name} ${disk.use}`,
        value: takenBytes(disk),
        unit: 'bytes' as const,
        sign: '+' as const,
        from: `disk ${disk.position}, ${disk.provisioning}`,
      })),
      'common practice',
    )
    const promises = inputs.reduce((sum, { disk }) => sum + disk.sizeBytes, 0)
    const usedThenBytes = room.store.capacityBytes - room.freeBytes
    const ownGrowth = inputs.reduce((sum, { disk }) => sum + (disk.provisioning === 'thin' ? (disk.growthBytesPerMonth ?? 0) : 0), 0)
    const months = AHEAD_DAYS / DAYS_PER_MONTH
    return [
      {
        storeId: room.store.id,
        name: room.store.name,
        copies: new Set(inputs.map(({ name }) => name)).size,
        takes,
        promises,
        capacityBytes: room.store.capacityBytes,
        usedNowBytes: usedThenBytes - takes.value,
        usedThenBytes,
        usedIn90DaysBytes: Math.round(usedThenBytes + (storeGrowth(estate, room.store).perMonth.value + ownGrowth) * months),
        promisedThenBytes: room.promisedBytes,
      },
    ]
  })
}

/** How long a batch takes, and the same number of fresh installs. */
export interface BatchMinutes {
  readonly copying: number
  /** First boots, so many together as the policies say. */
  readonly booting: number
  /** What a person does with each after that. */
  readonly byHand: number
  readonly total: number
  /** As many fresh installs, one after the other. */
  readonly installing: number
  readonly from: string
  readonly installingFrom: string
}

/** Copies within a host, which share its spindles, bytes a second. Common practice, no source. */
const LOCAL_BYTES_PER_SECOND = 250e6
/** Setting a copy going and looking at it, minutes. Common practice, no source. */
const AROUND_A_COPY = 1
/** A fresh install with its updates, minutes. Common practice, no source: 10 to 30 minutes. */
const AN_INSTALL = 30

/**
 * How long the copies take: bytes over the link or spindles they share, set-up and first boots so many together as the policies say, and
 * what is done with each by hand, as own batches took it where there were some.
 *
 * @example batchMinutes(estate, template, rows, 'template generalised').total // 24
 */
export function batchMinutes(estate: Estate, template: Guest, rows: readonly BatchRow[], school: Batch['school']): BatchMinutes {
  const policy = policyOf(estate)
  const bytesOf = (row: BatchRow) =>
    disksOf(estate, template.id).reduce(
      (sum, disk) => sum + takenBytes({ ...disk, provisioning: row.command?.provisioning ?? disk.provisioning }),
      0,
    )
  const isLocal = (row: BatchRow) => row.place.host?.id === template.hostId
  const seconds = (some: readonly BatchRow[], rate: number) => some.reduce((sum, row) => sum + bytesOf(row), 0) / rate
  const local = seconds(rows.filter(isLocal), LOCAL_BYTES_PER_SECOND)
  const remote = seconds(
    rows.filter((row) => !isLocal(row)),
    GIGABIT_LINK_BYTES_PER_SECOND,
  )
  const own = sheetTimes(estate, 'copyId', 'copy')
  const minutesOf = (key: string) => own.get(key)?.minutes ?? copyMinutes[key] ?? 0
  const steps = copySteps(school).map(({ key }) => key)
  const measured = own.get('copied')?.minutes
  const copying =
    measured === undefined
      ? Math.max(local, remote) / 60 + Math.ceil(rows.length / policy.copiesAtOnce) * AROUND_A_COPY
      : Math.ceil(rows.length / policy.copiesAtOnce) * measured
  const booting = Math.ceil(rows.length / policy.bootsAtOnce) * minutesOf('first-boot')
  const byHand = rows.length * steps.filter((key) => key !== 'copied' && key !== 'first-boot').reduce((sum, key) => sum + minutesOf(key), 0)
  const installs = sheetTimes(estate, 'guestId', 'set-up')
  const install = installs.size > 0 ? [...installs.values()].reduce((sum, { minutes }) => sum + minutes, 0) : AN_INSTALL
  const timed = Math.max(0, ...[...own.values()].map(({ count }) => count))
  return {
    copying: Math.round(copying),
    booting: Math.round(booting),
    byHand: Math.round(byHand),
    total: Math.round(copying + booting + byHand),
    installing: Math.round(rows.length * install),
    from: timed > 0 ? `steps as ${timed === 1 ? 'one own copy' : `${timed} own copies`} took them` : 'common practice',
    installingFrom: installs.size > 0 ? 'steps as own installs took them' : 'common practice',
  }
}
