import { formatNumber, GiB, KiB, MiB, TiB } from './bytes.js'
import type { Figure, FigureInput, FigureUnit } from './figure.js'
import { formatUnit } from './format-unit.js'

/** A term of a working as it is shown. */
export interface ShownTerm {
  /** Empty for what is only shown, and for the first term where it is added. */
  readonly sign: '' | '+' | '−'
  readonly text: string
  /** What is written, unrounded, in the figure's unit. */
  readonly value: number
  readonly label: string
  readonly from: string
}

/** A working as it is shown: what stands there adds up to what stands below it. */
export interface ShownWorking {
  readonly terms: readonly ShownTerm[]
  readonly result: string
}

/** So many terms are shown; those beyond are one, so that the sum can be followed. */
const TERMS_MAX = 14
/** More decimals are not read. */
const DECIMALS_MAX = 6
/** Shares of a core are thirds, sixths or the like at the most. */
const PARTS_MAX = 1000

/** A way to write numbers of a working, the same for all of its terms. */
interface Writing {
  /** Decimals that are written. */
  readonly digits: number
  /** A value as a whole number of the smallest part that is written, which may be rounded. */
  wholes(value: number): number
  /** Whether a value is written as it is, without rounding. */
  isExact(value: number): boolean
  text(value: number): string
}

function decimals(unitSize: number, digits: number, unit: string): Writing {
  const scaled = (value: number) => (value / unitSize) * 10 ** digits
  const wholes = (value: number) => Math.round(scaled(value))
  return {
    digits,
    wholes,
    isExact: (value) => Math.abs(scaled(value) - wholes(value)) < 1e-9,
    text: (value) => `${formatNumber(wholes(value) / 10 ** digits, digits)}${unit && ` ${unit}`}`,
  }
}

/** Parts of one, for shares that no decimals end: 13/3. */
const parts = (denominator: number, unit: string): Writing => ({
  digits: DECIMALS_MAX,
  wholes: (value) => Math.round(value * denominator),
  isExact: () => false,
  text: (value) => `${formatNumber(Math.round(value * denominator), 0)}/${denominator} ${unit}`,
})

/** How numbers of a unit may be written, the shortest first. */
function* writings(unit: FigureUnit, values: readonly number[]): Generator<Writing> {
  if (unit === 'MiB' || unit === 'bytes') {
    const scale = unit === 'MiB' ? MiB : 1
    const largest = Math.max(...values.map(Math.abs)) * scale
    const steps = (
      [
        ['TiB', TiB],
        ['GiB', GiB],
        ['MiB', MiB],
        ['KiB', KiB],
        ['B', 1],
      ] as const
    ).filter(([, size]) => largest >= size || size === 1)
    for (const [name, size] of steps) for (let digits = 0; digits <= 3; digits++) yield decimals(size / scale, digits, name)
    return
  }
  for (let digits = 0; digits <= DECIMALS_MAX; digits++) yield decimals(1, digits, unit === 'ratio' ? '' : unit)
  for (let denominator = 2; denominator <= PARTS_MAX; denominator++)
    if (values.every((value) => Math.abs(value * denominator - Math.round(value * denominator)) < 1e-6)) yield parts(denominator, unit)
}

const signed = ({ sign, value }: FigureInput): number => (sign === '−' ? -value : value)

/**
 * A figure's working as it is shown: its terms in one unit with as many digits as make what is shown add up to the result that is shown.
 * No term is adjusted. What is no term of a sum stands as it is.
 *
 * @example shownWorking(sumFigure('left', 'MiB', inputs, 'common practice')).terms[1]?.text // '7.25 GiB'
 */
export function shownWorking(figure: Figure): ShownWorking {
  const { unit, value } = figure
  const sum = figure.inputs.filter(({ sign }) => sign !== undefined)
  const inputs = shortened(figure)
  const shown = inputs.filter(({ sign }) => sign !== undefined)
  const isSum = sum.length > 0 && sum.every((input) => input.unit === unit)
  const writing = isSum ? exactWriting(unit, shown, value) : undefined
  return {
    terms: inputs.map((input, index) => ({
      sign: input.sign === '−' ? '−' : input.sign === '+' && index > 0 ? '+' : '',
      text: writing && input.sign !== undefined ? writing.text(input.value) : formatUnit(input.value, input.unit),
      value: input.value,
      label: input.label,
      from: input.from,
    })),
    result: writing ? writing.text(value) : formatUnit(value, unit),
  }
}

/** Numbers of more digits are not taken in at a glance. */
const GLANCE_MAX = 1e6

/**
 * How the terms are written so that they make the result: without rounding where that takes few digits, otherwise with two decimals or
 * more in the largest unit in which what is shown adds up.
 */
function exactWriting(unit: FigureUnit, terms: readonly FigureInput[], value: number): Writing | undefined {
  const values = [...terms.map((term) => term.value), value]
  const all = [...writings(unit, values)]
  const addsUp = (writing: Writing) =>
    terms.reduce((sum, term) => sum + (term.sign === '−' ? -1 : 1) * writing.wholes(term.value), 0) === writing.wholes(value) &&
    values.every((one) => one === 0 || writing.wholes(one) !== 0)
  return (
    all.find(
      (one) => one.digits <= 2 && values.every((term) => one.isExact(term) && Math.abs(one.wholes(term)) < GLANCE_MAX) && addsUp(one),
    ) ?? all.find((one) => (one.digits >= 2 || values.every((term) => one.isExact(term))) && addsUp(one))
  )
}

/** The inputs of a figure, those beyond what is shown as one. */
function shortened({ inputs, unit }: Figure): readonly FigureInput[] {
  if (inputs.length <= TERMS_MAX) return inputs
  const beyond = inputs.slice(TERMS_MAX - 1)
  const rest = beyond.filter(({ sign }) => sign !== undefined).reduce((sum, input) => sum + signed(input), 0)
  return [
    ...inputs.slice(0, TERMS_MAX - 1),
    { label: `${beyond.length} more`, value: Math.abs(rest), unit, sign: rest < 0 ? '−' : '+', from: 'added up' },
  ]
}
