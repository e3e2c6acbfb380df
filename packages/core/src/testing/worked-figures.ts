import { memoryBudget, storeBudget, vcpuBudget } from '../capacity/index.js'
import { disksOf, moveMethods, type Estate } from '../estate/index.js'
import { evidenceShown, Findings } from '../findings/index.js'
import { arrayOf } from '../hosts/index.js'
import { moveTime } from '../transfers/index.js'
import { shownWorking, type Figure, type ShownTerm } from '../units/index.js'
import { TODAY } from './small-estate.js'

/** Every figure of an estate, each with where it is. */
function* figuresOf(estate: Estate): Generator<readonly [where: string, figure: Figure]> {
  for (const host of estate.all('host')) {
    const { availableForGuests, committed, held, left } = memoryBudget(estate, host)
    const processors = vcpuBudget(estate, host)
    for (const [name, figure] of Object.entries({
      availableForGuests,
      committed,
      held,
      left,
      load: processors.load,
      cores: processors.left,
    }))
      yield [`${host.name} ${name}`, figure]
  }
  for (const store of estate.all('store')) {
    const { used, promised, held, exposure } = storeBudget(estate, store)
    for (const [name, figure] of Object.entries({ used, promised, held, exposure })) yield [`${store.name} ${name}`, figure]
  }
  for (const array of estate.all('array')) yield [array.id, arrayOf(estate, array).usable]
  for (const guest of estate.all('guest').slice(0, 200)) {
    const to = estate.all('host').find(({ id }) => id !== guest.hostId)
    const stores = Object.fromEntries(
      disksOf(estate, guest.id).flatMap(({ id }) => {
        const [store] = estate.referring('store', 'hostId', to?.id ?? '')
        return store ? [[id, store.id]] : []
      }),
    )
    if (to) for (const method of moveMethods) yield [`${guest.name} ${method}`, moveTime(estate, { guest, to, method, stores }).bytes]
  }
}

/** Adds up what stands there, as a reader would: numbers of one unit, by hand. */
export function addedUp({ terms, result }: {
  readonly terms: readonly Pick<ShownTerm, 'sign' | 'text'>[]
  readonly result: string
}): {
  readonly sum: bigint
  readonly said: bigint
  readonly units: Set<string>
} {
  const read = (text: string) => {
    const [, minus, number = '', , unit = ''] = /^(−?)([\d\u2009.]+)(\/\d+)? ?(.*)$/.exec(text) ?? []
    const [whole = '0', fraction = ''] = number.replaceAll('\u2009', '').split('.')
    const value = BigInt(whole + fraction.padEnd(6, '0'))
    return { value: minus ? -value : value, unit }
  }
  const units = new Set([...terms.map(({ text }) => read(text).unit), read(result).unit])
  return {
    sum: terms.reduce((sum, { sign, text }) => sum + (sign === '−' ? -1n : 1n) * read(text).value, 0n),
    said: read(result).value,
    units,
  }
}

/** How many workings of an estate are sums, and those of which the terms that are shown do not make the result that is shown. */
export function notAddingUp(estate: Estate): { readonly count: number; readonly wrong: readonly string[] } {
  const wrong: string[] = []
  let count = 0
  for (const [where, figure] of figuresOf(estate)) {
    if (figure.inputs.length === 0 || figure.inputs.some(({ sign }) => sign === undefined)) continue
    count++
    const shown = shownWorking(figure)
    const { sum, said, units } = addedUp(shown)
    if (sum !== said || units.size !== 1)
      wrong.push(`${where}: ${shown.terms.map(({ sign, text }) => `${sign} ${text}`).join(' ')} = ${shown.result}`)
  }
  for (const { sentence, evidence } of Findings.of(estate, TODAY).settled().list()) {
    if (!evidence.some(({ label }) => label.startsWith('less '))) continue
    count++
    const terms = evidence.map((one) => ({ sign: one.label.startsWith('less ') ? ('−' as const) : ('' as const), text: evidenceShown(one) }))
    const { sum, said, units } = addedUp({ terms: terms.slice(0, -1), result: terms.at(-1)?.text ?? '' })
    if ((sum < 0n ? -sum : sum) !== said || units.size !== 1)
      wrong.push(`${sentence}: ${terms.map(({ sign, text }) => `${sign} ${text}`).join(' ')}`)
  }
  return { count, wrong }
}
