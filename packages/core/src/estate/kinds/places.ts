import { defineKind } from '../define-kind.js'
import { choice, integer, note, optional, real, text } from '../field.js'

export const estateKind = defineKind({
  name: 'estate',
  label: 'estate',
  plural: 'estates',
  doc: 'Everything recorded for one organisation or site group; the unit of access, revision and export.',
  fields: {
    name: text({ label: 'Name', doc: 'What the estate is called.' }),
    domain: optional(text({ label: 'Domain', doc: 'The domain under which hosts and guests are named.', shape: 'domain' })),
    timeZone: text({ label: 'Time zone', doc: 'The zone in which people of this estate plan.', shape: 'timeZone', default: 'UTC' }),
    note: note(),
  },
  keys: [],
})

export const personKind = defineKind({
  name: 'person',
  label: 'person',
  plural: 'people',
  doc: 'Who records changes: a person, or a program that acts on its own.',
  fields: {
    name: text({ label: 'Name', doc: 'The name that stands in the logbook.' }),
    kind: choice(['person', 'program'], { label: 'Kind', doc: 'A person, or a program.', default: 'person' }),
    note: note(),
  },
  keys: [{ fields: ['name'], unique: true }],
})

export const policyKind = defineKind({
  name: 'policy',
  label: 'policies',
  plural: 'policies',
  doc: 'The thresholds of the estate. Defaults are common practice, no source, unless the line says otherwise.',
  fields: {
    failoverReservePercent: real({
      label: 'Failover reserve',
      doc: 'Share of a host’s usable memory kept free for guests of a failed host.',
      unit: '%',
      max: 90,
      default: 15,
    }),
    memoryCeiling: real({
      label: 'Memory ceiling',
      doc: 'Committed memory over planable memory; above 1 memory is over-committed.',
      unit: '',
      min: 0.5,
      max: 2,
      default: 1,
    }),
    vcpuPerCoreGeneral: real({
      label: 'vCPU per core, general',
      doc: 'How many vCPUs of general guests share a core.',
      unit: 'vCPU',
      min: 0.5,
      max: 64,
      default: 4,
    }),
    vcpuPerCoreSteady: real({
      label: 'vCPU per core, steady',
      doc: 'How many vCPUs of steady or latency-bound guests share a core.',
      unit: 'vCPU',
      min: 0.5,
      max: 64,
      default: 1,
    }),
    vcpuPerCoreLab: real({
      label: 'vCPU per core, lab',
      doc: 'How many vCPUs of lab guests share a core.',
      unit: 'vCPU',
      min: 0.5,
      max: 64,
      default: 8,
    }),
    storeWarnPercent: real({
      label: 'Store warning',
      doc: 'Share of a store in use from which a warning is due.',
      unit: '%',
      min: 1,
      max: 100,
      default: 85,
    }),
    storeErrorPercent: real({
      label: 'Store error',
      doc: 'Share of a store in use from which it is an error.',
      unit: '%',
      min: 1,
      max: 100,
      default: 95,
    }),
    thinPromiseMaxPercent: real({
      label: 'Thin promise',
      doc: 'How much disks may promise, of the store’s capacity.',
      unit: '%',
      min: 50,
      max: 1000,
      default: 100,
    }),
    soakDays: integer({
      label: 'Soak time',
      doc: 'How long a migrated source stays powered off before it is removed.',
      unit: 'days',
      max: 365,
      default: 14,
    }),
    reminderDays: integer({
      label: 'Reminders',
      doc: 'How long before a trial, licence or support ends a reminder is due.',
      unit: 'days',
      max: 730,
      default: 30,
    }),
  },
  keys: [],
})
