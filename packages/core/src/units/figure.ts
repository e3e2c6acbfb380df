/** One value that went into a figure, and where it comes from. */
export interface FigureInput {
  readonly label: string
  readonly value: number
  readonly unit: FigureUnit
  /** How it enters a sum: added, taken away, or only shown. */
  readonly sign?: '+' | '−'
  /** The record, field or policy it was read from. */
  readonly from: string
}

export type FigureUnit = 'MiB' | 'bytes' | 'vCPU' | 'cores' | '%' | 'guests' | 'hosts' | 'addresses' | 'ratio' | 'W' | 'days'

/**
 * A computed number with its working, made where the number is made so that the explanation cannot drift from the
 * arithmetic.
 */
export interface Figure {
  readonly value: number
  readonly unit: FigureUnit
  readonly formula: string
  readonly inputs: readonly FigureInput[]
  /** The rule it follows: a standard, or "common practice". */
  readonly source: string
}

/**
 * A figure that is the signed sum of its inputs.
 *
 * @example sumFigure('available for guests', 'MiB', [{ label: 'usable', value: 7782, unit: 'MiB', sign: '+', from: 'host' }], 'x').value // 7782
 */
export function sumFigure(formula: string, unit: FigureUnit, inputs: readonly FigureInput[], source: string): Figure {
  const value = inputs.reduce((sum, input) => (input.sign === '−' ? sum - input.value : input.sign === '+' ? sum + input.value : sum), 0)
  return { value, unit, formula, inputs, source }
}
