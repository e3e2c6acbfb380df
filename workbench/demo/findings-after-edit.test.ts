import {
  apply,
  CommandError,
  commandTypes,
  Findings,
  invert,
  kindNames,
  kinds,
  makeIds,
  recordTitle,
  seededRandom,
  type Applied,
  type Command,
  type Estate,
  type Field,
  type Finding,
  type Kind,
} from '@insel/core'
import { describe, expect, it } from 'vitest'
import { isLong } from '../../packages/core/src/testing/tier.js'
import { demoEstate } from './demo-estate.js'

const context = { newId: makeIds(Date.now, seededRandom(8)), now: '2027-01-18T09:00:00.000Z', revision: 3 }
const TODAY = '2027-01-18'
/** Of so many edits one is tried in the quick run. */
const EVERY = 29

/** Other values that a field could hold. */
function otherValues(estate: Estate, field: Field, value: unknown): readonly unknown[] {
  const empty = field.optional === true && value !== null ? [null] : []
  switch (field.type) {
    case 'bool':
      return [value !== true]
    case 'choice':
      return [...empty, ...field.options.filter((option) => option !== value).slice(0, 2)]
    case 'integer':
    case 'real':
      return [
        ...empty,
        ...(typeof value === 'number'
          ? [value >= field.max ? field.min : value + 1, Math.max(field.min, Math.floor(value / 2))]
          : [field.min]),
      ]
    case 'ref': {
      const others = estate.all(field.to as Kind).filter(({ id }) => id !== value)
      return [...empty, ...others.slice(0, 1).map(({ id }) => id), ...others.slice(-1).map(({ id }) => id)]
    }
    case 'text':
      return [...empty, ...otherTexts(field, typeof value === 'string' ? value : '')]
    case 'refs':
    case 'tags':
      return Array.isArray(value) && value.length > 0 ? [[], value.slice(1)] : []
    default:
      return []
  }
}

const DAY_MS = 86_400_000
/** Another day or time, before and after one. */
const otherTimes = (value: string, length: number): readonly string[] =>
  [-400, 400].map((days) => new Date(Date.parse(value === '' ? '2027-01-18' : value) + days * DAY_MS).toISOString().slice(0, length))

/** Other texts of a shape. One that does not go there is refused, and then not tried. */
function otherTexts({ shape, max }: Extract<Field, { type: 'text' }>, value: string): readonly string[] {
  switch (shape) {
    case 'date':
      return otherTimes(value, 10)
    case 'instant':
      return otherTimes(value, 24)
    case 'domain':
      return ['elsewhere.example']
    case 'ip':
    case 'ips':
      return ['10.61.30.1', '10.61.30.201', '2001:db8::7']
    case 'mac':
      return ['02:1a:4b:7f:00:01']
    case 'macPrefix':
      return ['02:7f:01']
    case 'subnet':
      return ['10.99.0.0/24']
    case 'prefix':
      return ['2001:db8:7::']
    case 'timeZone':
      return ['Pacific/Auckland']
    case 'vlans':
      return ['10', '']
    case 'name':
    case 'label':
      return [`${value}-x`]
    default:
      return [`${value}x`.slice(0, max)]
  }
}

/** A change of one field of one record. */
const editsOf = (estate: Estate): readonly Command[] =>
  kindNames.flatMap((kind) =>
    commandTypes.some((type) => type === `${kind}.update`)
      ? estate
          .all(kind)
          .flatMap((record) =>
            Object.entries<Field>(kinds[kind].fields).flatMap(([field, definition]) =>
              otherValues(estate, definition, (record as unknown as Record<string, unknown>)[field]).map(
                (value) => ({ type: `${kind}.update`, id: record.id, changes: { [field]: value } }) as unknown as Command,
              ),
            ),
          )
      : [],
  )

const texts = (list: readonly Finding[]): ReadonlySet<string> => new Set(list.map((finding) => JSON.stringify(finding)))

/** What findings say of a change and should not, or should say and do not: nothing, when only what is touched is looked at again. */
function differences(what: string, mine: readonly Finding[], whole: readonly Finding[]): readonly string[] {
  const [found, all] = [texts(mine), texts(whole)]
  return [
    ...mine.filter((one) => !all.has(JSON.stringify(one))).map(({ ruleId }) => `${ruleId} says what is no longer so after ${what}`),
    ...whole.filter((one) => !found.has(JSON.stringify(one))).map(({ ruleId }) => `${ruleId} misses what is so after ${what}`),
  ]
}

/** What a command comes to, or undefined where it is refused. */
function tryOn(estate: Estate, command: Command): Applied | undefined {
  try {
    return apply(estate, command, context)
  } catch (error) {
    if (!(error instanceof CommandError)) throw error
    return undefined
  }
}

const some = <T>(all: readonly T[]): readonly T[] => (isLong ? all : all.filter((_, index) => index % EVERY === 0))

describe('the findings are those of a full pass', () => {
  const estate = demoEstate()
  const before = Findings.of(estate, TODAY)

  it('after any one field of the demo changes', () => {
    const tried = some(editsOf(estate))
    const wrong = new Set<string>()
    let refused = 0
    for (const command of tried) {
      const applied = tryOn(estate, command)
      if (!applied) {
        refused++
        continue
      }
      const mine = before.after(applied.estate, applied.difference).list()
      for (const one of differences(JSON.stringify(command), mine, Findings.of(applied.estate, TODAY).list())) wrong.add(one)
    }
    expect([...wrong].join('\n')).toBe('')
    expect(tried.length - refused).toBeGreaterThan(tried.length / 2)
    expect(tried.length).toBeGreaterThan(100)
  }, 1_800_000)

  it('after any one record goes with what is a part of it, and after it is back', () => {
    const removable = kindNames.filter((kind) => commandTypes.some((type) => type === `${kind}.remove`))
    const tried = some(removable.flatMap((kind) => estate.all(kind).map(({ id }) => [kind, id] as const)))
    const wrong = new Set<string>()
    let gone = 0
    for (const [kind, id] of tried) {
      const applied = tryOn(estate, { type: `${kind}.remove`, id, withReferring: true } as unknown as Command)
      if (!applied) continue
      gone++
      const without = Findings.of(applied.estate, TODAY)
      const what = `${kind} ${recordTitle(estate, kind, estate.find(kind, id) as never)}`
      const mine = before.after(applied.estate, applied.difference).list()
      for (const one of differences(`${what} is gone`, mine, without.list())) wrong.add(one)
      const back = invert(applied.difference)
      const again = without.after(applied.estate.with(back), back).list()
      for (const one of differences(`${what} is back`, again, before.list())) wrong.add(one)
    }
    expect([...wrong].join('\n')).toBe('')
    expect(gone).toBeGreaterThan(tried.length / 2)
    expect(tried.length).toBeGreaterThan(10)
  }, 1_800_000)
})
