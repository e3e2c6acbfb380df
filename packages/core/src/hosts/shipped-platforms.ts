import type { NewRecord } from '../estate/index.js'

const drivers = { portDrivers: 'e1000e igb ixgbe virtio_net', requiredFlags: 'svm' } as const

/**
 * Two invented platforms that ship with Insel, as a start for an estate that has none. Both are ordinary records once taken:
 * edit them to what the maker says and what you measure.
 */
export const shippedPlatforms: readonly NewRecord<'platform'>[] = [
  {
    ...drivers,
    name: 'Brackwater 5',
    controllers: 'ahci mpt3sas nvme virtio_scsi',
    minMemoryMiB: 8192,
    macPrefix: '02:1a:4b',
    translation: 'shared segment',
    managementUrl: 'https://{name}:8443/',
    trialDays: 60,
    releasedOn: '2025-09-01',
    supportedUntil: '2030-09-01',
  },
  {
    ...drivers,
    name: 'Marram 2',
    ownMemoryMiB: 1024,
    controllers: 'ahci nvme virtio_scsi',
    macPrefix: '02:3c:5d',
    translation: 'private segment',
    managementUrl: 'https://{name}/',
    trialDays: 90,
    releasedOn: '2024-03-15',
    supportedUntil: '2028-03-15',
  },
]
