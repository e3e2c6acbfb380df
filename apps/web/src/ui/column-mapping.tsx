import { Ledger } from './ledger'

/**
 * The first rows of a table that comes in, with what each column is said to hold.
 *
 * @param holds what each column holds now, in order
 * @param options what a column may hold
 */
export function ColumnMapping<C extends string>({
  headings,
  rows,
  holds,
  options,
  choose,
}: {
  headings: readonly string[]
  rows: readonly (readonly string[])[]
  holds: readonly C[]
  options: readonly C[]
  choose: (holds: readonly C[]) => void
}) {
  const named = headings.map((heading, index) => heading || `column ${index + 1}`)
  return (
    <div className="overflow-x-auto mt-2">
      <Ledger headings={named}>
        <tr>
          {named.map((heading, index) => (
            <td key={index}>
              <select
                className="field !w-32"
                aria-label={`Column ${heading} holds`}
                value={holds[index]}
                onChange={(event) => choose(holds.map((column, at) => (at === index ? (event.target.value as C) : column)))}
              >
                {options.map((option) => (
                  <option key={option}>{option}</option>
                ))}
              </select>
            </td>
          ))}
        </tr>
        {rows.slice(0, 4).map((row, index) => (
          <tr key={index}>
            {row.map((cell, at) => (
              <td key={at} className="font-mono text-[12px]">
                {cell}
              </td>
            ))}
          </tr>
        ))}
      </Ledger>
    </div>
  )
}
