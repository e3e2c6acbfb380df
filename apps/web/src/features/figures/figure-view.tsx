import { formatUnit, shownWorking, type Figure } from '@insel/core'
import { Popover } from 'radix-ui'
import type { ReactNode } from 'react'

/** The working of a figure as a ledger: each input with its sign, its value and where it comes from. */
export function Working({ figure, title }: { figure: Figure; title: string }) {
  const { terms, result } = shownWorking(figure)
  const said = formatUnit(figure.value, figure.unit)
  return (
    <div className="text-dense">
      <h3 className="font-bold mb-2">{title}</h3>
      <table className="font-mono text-small">
        <tbody>
          {terms.map(({ sign, text, label, from }, index) => (
            <tr key={index}>
              <td className="pr-2 w-4">{sign}</td>
              <td className="text-right pr-3 whitespace-nowrap">{text}</td>
              <td>
                {label} <span className="text-faint">({from})</span>
              </td>
            </tr>
          ))}
          <tr className="border-t border-rule font-bold">
            <td className="pr-2">=</td>
            <td className="text-right pr-3 whitespace-nowrap">{result}</td>
            <td className="font-normal">
              {figure.formula}
              {result !== said && <span className="text-faint"> ({said})</span>}
            </td>
          </tr>
        </tbody>
      </table>
      <p className="text-faint text-small mt-2">Basis: {figure.source}.</p>
    </div>
  )
}

/** A computed number with a dotted underline; opens its working. */
export function FigureView({
  figure,
  title,
  children,
  className = '',
}: {
  figure: Figure
  title: string
  children?: ReactNode
  className?: string
}) {
  return (
    <Popover.Root>
      <Popover.Trigger
        className={`target underline decoration-dotted underline-offset-4 whitespace-nowrap ${className}`}
        aria-label={`${title}: ${formatUnit(figure.value, figure.unit)}, show the working`}
      >
        {children ?? formatUnit(figure.value, figure.unit)}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={title}
          sideOffset={6}
          collisionPadding={12}
          className="z-40 bg-sheet border border-rule rounded-md shadow-lg p-4 max-w-[560px]"
        >
          <Working figure={figure} title={title} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
