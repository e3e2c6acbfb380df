import type { ReactNode } from 'react'
import { LedgerTable } from './scrolling'

/**
 * A small table inside a page.
 *
 * @param headings of the columns; one that begins with a dot is read by screen readers only
 */
export function Ledger({ headings, children }: { headings: readonly string[]; children: ReactNode }) {
  return (
    <LedgerTable>
      <thead>
        <tr>
          {headings.map((heading, index) => (
            <th key={index} scope="col">
              {heading.startsWith('.') ? <span className="sr-only">{heading.slice(1)}</span> : heading}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>{children}</tbody>
    </LedgerTable>
  )
}
