import { lacksFor } from '../hosts/index.js'
import type { Precheck } from './check.js'
import { isSamePlatform, isToMetal } from './move-view.js'
import { hasNetworkDriver, needsDriver, needsStaging } from './drivers.js'

const APPLIES: Precheck = {
  id: 'applies',
  title: 'Cut-over possible',
  group: 'machine',
  check: ({ refusal }) =>
    refusal
      ? { verdict: 'error', sentence: `As mapped, the cut-over would be refused: ${refusal}`, remedy: 'Change the mapping.' }
      : { verdict: 'fine', sentence: 'The record takes the cut-over as it is mapped.' },
}

const PROCESSOR_LIVE: Precheck = {
  id: 'processor',
  title: 'Processor',
  group: 'machine',
  check({ method, source, sourceHost, host, vcpu }) {
    if (!host) return undefined
    const logical = host.sockets * host.coresPerSocket * host.threadsPerCore
    if (vcpu > logical)
      return {
        verdict: 'error',
        sentence: `${vcpu} vCPU on ${host.name}, which has ${logical} logical CPUs.`,
        evidence: [
          ['vCPU', String(vcpu)],
          ['logical CPUs', String(logical)],
        ],
        remedy: 'Give it fewer processors at the cut-over, or choose another host.',
      }
    if (source.processorMode !== 'host' && host.cpuFlags) {
      const lacks = lacksFor(source.processorMode, host.cpuFlags)
      if (lacks.length > 0)
        return {
          verdict: 'error',
          sentence: `${host.name} lacks ${lacks.slice(0, 4).join(', ')} for ${source.processorMode}: it does not start there.`,
          remedy: 'Lower its processor mode, or choose another host.',
        }
    }
    if (method !== 'live' || !sourceHost) return { verdict: 'fine', sentence: `${host.name} has the processors it needs.` }
    if (source.processorMode !== 'host')
      return host.cpuFlags
        ? { verdict: 'fine', sentence: `Both hosts are at or above ${source.processorMode}.` }
        : {
            verdict: 'warning',
            sentence: `The processor features of ${host.name} are not recorded, so it is unknown whether it is at ${source.processorMode}.`,
            remedy: 'Run the inventory check on that host.',
          }
    if (!sourceHost.processorModel || !host.processorModel)
      return {
        verdict: 'warning',
        sentence: 'It sees its host’s processor as it is, and the processor of one of the hosts is not recorded.',
        remedy: 'Record both models: a live move needs the same one.',
      }
    return sourceHost.processorModel === host.processorModel
      ? { verdict: 'fine', sentence: `Both hosts have ${host.processorModel}.` }
      : {
          verdict: 'error',
          sentence: `It sees its host’s processor as it is, ${sourceHost.processorModel}; ${host.name} has ${host.processorModel}.`,
          remedy: 'Move it powered off, or set a baseline level and restart it before.',
        }
  },
}

const FIRMWARE: Precheck = {
  id: 'firmware',
  title: 'Firmware',
  group: 'machine',
  check({ source, firmware, becomes, method }) {
    if (method === 'rebuild and move the data') return undefined
    if (firmware !== source.firmware)
      return {
        verdict: 'error',
        sentence: `${source.name} boots by ${source.firmware}, ${becomes?.name ?? 'the target'} by ${firmware}: its disk is not offered for boot.`,
        evidence: [
          ['source', source.firmware],
          ['target', firmware],
        ],
        remedy: `Set ${source.firmware} on the target, or plan to convert the partition table and the boot loader.`,
      }
    if (source.secureBoot && becomes && !becomes.secureBoot)
      return {
        verdict: 'warning',
        sentence: 'The source boots with secure boot, the target without.',
        remedy: 'Switch it on after the first boot, where the system is signed.',
      }
    return { verdict: 'fine', sentence: `Both boot by ${firmware}.` }
  },
}

const CONTROLLER: Precheck = {
  id: 'controller',
  title: 'Disk controller',
  group: 'machine',
  check({ hardware, disks, system, becomes, estate, method, source }) {
    if (method === 'rebuild and move the data') return undefined
    const target = becomes ? estate.referring('hardware', 'guestId', becomes.id)[0] : undefined
    const known = hardware?.controller ?? 'unknown'
    if (target && known !== 'unknown' && target.controller !== 'unknown' && target.controller !== known)
      return {
        verdict: 'error',
        sentence: `The disk controller of ${source.name} is set to ${known}, that of ${becomes?.name ?? 'the target'} to ${target.controller}: the system stops at boot.`,
        remedy: `Set ${known} in the firmware of the target, or enable the other driver in the system before the copy.`,
      }
    const missing = disks.filter(({ disk, bus, isCopied }) => isCopied && bus !== disk.bus && needsDriver(bus, system))
    if (missing.length > 0 && !needsStaging(hardware, system))
      return { verdict: 'fine', sentence: 'Its system has the drivers for the new bus of its disks.' }
    if (missing.length > 0)
      return {
        verdict: 'error',
        sentence: `Its system has no driver for the ${missing[0]?.bus ?? ''} bus of the target’s disks (${system?.name ?? 'system not recorded'}): it stops at boot.`,
        remedy: 'Use SATA for the first boot, or stage the driver and rebuild its boot image before the copy.',
        isByHand: true,
      }
    return undefined
  },
}

const NETWORK_DRIVER: Precheck = {
  id: 'network-driver',
  title: 'Network driver',
  group: 'machine',
  check({ adapters, system, hardware, source, becomes, sourceHost, host, method }) {
    if (method === 'rebuild and move the data' || isSamePlatform({ sourceHost, host })) return undefined
    const changed = adapters.filter(({ adapter, model }) => becomes !== undefined || model !== adapter.model)
    if (adapters.length === 0 || changed.length === 0) return undefined
    if (hardware?.drivers === 'staged') return { verdict: 'fine', sentence: 'The drivers for the target are staged on it.' }
    const isBuiltIn = changed.every(({ model }) => model !== 'paravirtual' || hasNetworkDriver(system))
    if (isBuiltIn && !isToMetal({ becomes }))
      return { verdict: 'fine', sentence: 'Its system has the driver for the target’s network adapter.' }
    return {
      verdict: 'error',
      sentence: `Whether ${source.name} has the driver for the target’s network adapter is not recorded: a system without network cannot fetch one.`,
      remedy: 'Stage it on the source before the copy, the network driver first; then record “staged” in the machine’s details.',
      isByHand: true,
    }
  },
}

const PARTITION_TABLE: Precheck = {
  id: 'partition-table',
  title: 'Partition table',
  group: 'machine',
  check({ hardware, disks, becomes, estate, method }) {
    if (method === 'rebuild and move the data') return undefined
    const large = disks.find(({ sizeBytes }) => (sizeBytes ?? 0) > 2 ** 41)
    if (hardware?.partitionTable === 'MBR' && large)
      return {
        verdict: 'warning',
        sentence: 'Its partition table is MBR, which reaches 2 TiB; what the target’s disk has beyond it stays out of use.',
        remedy: 'Convert it to GPT, or keep the disk at 2 TiB.',
      }
    const target = becomes ? estate.referring('hardware', 'guestId', becomes.id)[0] : undefined
    if (
      hardware &&
      target &&
      hardware.sectorSize !== target.sectorSize &&
      hardware.sectorSize !== 'unknown' &&
      target.sectorSize !== 'unknown'
    )
      return {
        verdict: 'error',
        sentence: `The source’s disk has sectors of ${hardware.sectorSize}, the target’s of ${target.sectorSize}: a block by block copy is not read there.`,
        remedy: 'Copy file by file, or use a disk with the same sectors.',
      }
    return undefined
  },
}

/** Checks of what the machine becomes: processor, firmware, controllers, drivers. */
export const checksOfMachine: readonly Precheck[] = [APPLIES, PROCESSOR_LIVE, FIRMWARE, CONTROLLER, NETWORK_DRIVER, PARTITION_TABLE]
