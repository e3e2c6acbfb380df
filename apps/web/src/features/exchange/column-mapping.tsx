import { readNumber, sizeUnits, type SizeUnit, type Table, type TableMapping } from '@insel/core'
import { Ledger } from '../../ui/ledger'
import { Scrolling } from '../../ui/scrolling'

/** A number without a unit. */
const BARE = /^\d[\d.,\s]*$/

/**
 * The first rows of a table that comes in, with what each column is said to hold, the unit of its sizes, and how the file
 * writes its numbers where that is open.
 *
 * @param mapping what each column holds now, and in which unit
 * @param options what a column may hold
 * @param sizes columns whose numbers need a unit
 * @param withPercent whether a size may be a share of what the machine has
 */
export function ColumnMapping<C extends string>({
  table: { headings, rows, ambiguous },
  mapping,
  options,
  sizes,
  withPercent = false,
  choose,
}: {
  table: Table<C>
  mapping: TableMapping<C>
  options: readonly C[]
  sizes: ReadonlySet<C>
  withPercent?: boolean
  choose: (mapping: TableMapping<C>) => void
}) {
  const replaced = <T,>(list: readonly T[], at: number, value: T) => list.map((one, index) => (index === at ? value : one))
  const units = [...sizeUnits, ...(withPercent ? ['%' as const] : [])]
  const named = headings.map((heading, index) => heading || `column ${index + 1}`)
  return (
    <Scrolling className="mt-2">
      <Ledger headings={named}>
        <tr>
          {named.map((heading, index) => (
            <td key={index}>
              <select
                className="field !w-32"
                aria-label={`Column ${heading} holds`}
                value={mapping.columns[index]}
                onChange={(event) => choose({ ...mapping, columns: replaced(mapping.columns, index, event.target.value as C) })}
              >
                {options.map((option) => (
                  <option key={option}>{option}</option>
                ))}
              </select>
              {sizes.has(mapping.columns[index] as C) && (
                <select
                  className={`field !w-32 mt-1 ${mapping.units[index] || !rows.some(({ cells }) => BARE.test((cells[index] ?? '').trim())) ? '' : '!border-warning'}`}
                  aria-label={`Unit of ${heading}`}
                  value={mapping.units[index] ?? ''}
                  onChange={(event) =>
                    choose({ ...mapping, units: replaced(mapping.units, index, (event.target.value || undefined) as SizeUnit | undefined) })
                  }
                >
                  <option value="">no unit</option>
                  {units.map((unit) => (
                    <option key={unit}>{unit}</option>
                  ))}
                </select>
              )}
            </td>
          ))}
        </tr>
        {rows.slice(0, 4).map(({ line, cells }) => (
          <tr key={line}>
            {cells.map((cell, at) => (
              <td key={at} className="font-mono text-small max-w-80 truncate" title={cell.length > 40 ? cell : undefined}>
                {cell}
              </td>
            ))}
          </tr>
        ))}
      </Ledger>
      {ambiguous && (
        <label className="inline-flex items-center gap-2 text-dense mt-1">
          In this file {ambiguous} is
          <select
            className={`field !w-40 ${mapping.style ? '' : '!border-warning'}`}
            value={mapping.style ?? ''}
            onChange={(event) => choose({ ...mapping, style: (event.target.value || undefined) as TableMapping<C>['style'] })}
          >
            <option value="">choose</option>
            {(['point', 'comma'] as const).map((style) => {
              const reading = readNumber(ambiguous, style)
              return (
                <option key={style} value={style}>
                  {reading.ok ? String(reading.value) : style}
                </option>
              )
            })}
          </select>
        </label>
      )}
    </Scrolling>
  )
}
