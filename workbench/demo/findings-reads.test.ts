import { kinds, policyOf, rules, type AnyRecord, type Estate, type Kind } from '@insel/core'
import { describe, expect, it } from 'vitest'
import { demoEstate } from './demo-estate.js'

/** What a rule may read of anything: a new name or number has all findings said again, and so has a change of these kinds. */
const ALWAYS: ReadonlySet<string> = new Set(['id', 'name', 'position', 'use'])
const EVERYWHERE: readonly Kind[] = ['policy', 'estate']

/** What is read and cannot change, or makes no difference. */
const HARMLESS: ReadonlySet<string> = new Set([
  // A host's platform is read as a whole; of processors it says nothing.
  'host.vcpu-over-ceiling reads platform.ownMemoryMiB',
  // A copy is one of the same guest for ever.
  'sheet.step-failed reads copy.guestId',
])

/** An estate that notes what is read of kinds by which a rule does not look again. */
function watched(estate: Estate, isDeclared: (kind: Kind) => boolean, note: (what: string) => void): Estate {
  const shy = <R extends AnyRecord | undefined>(kind: Kind, record: R): R =>
    record && !isDeclared(kind)
      ? new Proxy(record, {
          get(target, field) {
            if (typeof field === 'string' && field in kinds[kind].fields && !ALWAYS.has(field)) note(`${kind}.${field}`)
            return (target as unknown as Record<PropertyKey, unknown>)[field]
          },
        })
      : record
  type Method = (...given: readonly unknown[]) => unknown
  const methods: Readonly<Record<string, Method>> = {
    find: (kind, id) => shy(kind as Kind, estate.find(kind as Kind, id as string)),
    ...Object.fromEntries(
      (['all', 'referring', 'byKey'] as const).map((name): [string, Method] => [
        name,
        (kind, ...given) => {
          if (!isDeclared(kind as Kind)) note(`which ${kinds[kind as Kind].plural} there are`)
          return (estate[name] as (...all: unknown[]) => readonly AnyRecord[])
            .call(estate, kind, ...given)
            .map((record) => shy(kind as Kind, record))
        },
      ]),
    ),
    count(kind) {
      if (!isDeclared(kind as Kind)) note(`how many ${kinds[kind as Kind].plural} there are`)
      return estate.count(kind as Kind)
    },
    // What is kept for all rules is worked out again for this one.
    derive: (_, workOut) => (workOut as Method)(seen),
    deriveFor: (_, key, workOut) => (workOut as Method)(seen, key),
  }
  const seen: Estate = new Proxy(estate, {
    get(target, name) {
      const own = methods[String(name)]
      if (own) return own
      const value: unknown = Reflect.get(target, name, target)
      return typeof value === 'function' ? (value as Method).bind(target) : value
    },
  })
  return seen
}

describe('each rule looks again when something changes that it reads', () => {
  const estate = demoEstate()
  const policy = policyOf(estate)

  it('on the demo, record by record', () => {
    const missed = new Set<string>()
    let checks = 0
    for (const rule of rules) {
      const declared = new Set<Kind>([rule.appliesTo, ...(Object.keys(rule.again) as Kind[]), ...EVERYWHERE])
      const seen = watched(
        estate,
        (kind) => declared.has(kind),
        (what) => missed.add(`${rule.id} reads ${what}`),
      )
      for (const subject of estate.all(rule.appliesTo)) {
        checks++
        rule.check(seen, subject, policy, '2027-01-18')
      }
    }
    expect([...missed].filter((one) => !HARMLESS.has(one)).join('\n')).toBe('')
    // What is harmless is so only as long as it is read.
    expect([...HARMLESS].filter((one) => !missed.has(one))).toEqual([])
    expect(checks).toBeGreaterThan(1500)
  })
})
