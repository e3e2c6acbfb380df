import {
  apply,
  CommandError,
  commandTypes,
  Findings,
  kindNames,
  kinds,
  makeIds,
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
const EVERY = 53

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
      return ['note', 'line', 'words'].includes(field.shape) ? [`${String(value ?? '')}x`.slice(0, field.max)] : empty
    default:
      return []
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

describe('after any one field of the demo changes', () => {
  const estate = demoEstate()
  const before = Findings.of(estate, TODAY)
  const edits = editsOf(estate)
  const tried = isLong ? edits : edits.filter((_, index) => index % EVERY === 0)

  it('the findings are those of a full pass', () => {
    const wrong = new Set<string>()
    let refused = 0
    for (const command of tried) {
      let applied: Applied
      try {
        applied = apply(estate, command, context)
      } catch (error) {
        if (!(error instanceof CommandError)) throw error
        refused++
        continue
      }
      const [mine, whole] = [before.after(applied.estate, applied.difference).list(), Findings.of(applied.estate, TODAY).list()]
      const [found, all] = [texts(mine), texts(whole)]
      const what = JSON.stringify(command)
      for (const one of mine) if (!all.has(JSON.stringify(one))) wrong.add(`${one.ruleId} says what is no longer so after ${what}`)
      for (const one of whole) if (!found.has(JSON.stringify(one))) wrong.add(`${one.ruleId} misses what is so after ${what}`)
    }
    expect([...wrong]).toEqual([])
    expect(tried.length - refused).toBeGreaterThan(tried.length / 2)
    expect(tried.length).toBeGreaterThan(100)
  }, 1_800_000)
})
