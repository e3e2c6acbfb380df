import { type Estate, type Field, formatField, timeZoneOf } from '@insel/core'
import { clsx } from 'clsx'
import { useId, type ReactNode } from 'react'
import { type Control, useController } from 'react-hook-form'
import { Button } from '../../ui/button'
import { FieldControl, type FieldControlProps } from './field-control'
import { inputValue } from './field-text'

/** A field in a line: its label, its input, and beside it what is wrong with it, how it was read with its unit, or what it is for. */
export function FieldLine({
  doc,
  problem,
  className,
  children,
  ...input
}: Omit<FieldControlProps, 'id' | 'aria-invalid' | 'aria-describedby'> & {
  /** What it is for. */
  doc: string | undefined
  problem: string | undefined
  className?: string
  /** What is said below. */
  children?: ReactNode
}) {
  const id = useId()
  const { estate, field, text } = input
  const zone = timeZoneOf(estate)
  const reading = text.trim() === '' ? undefined : inputValue(field, text, zone)
  const hasUnit = (field.type === 'integer' || field.type === 'real') && field.unit !== ''
  const shape = field.type === 'text' ? field.shape : undefined
  const isTime = shape === 'instant' || (shape === 'date' && reading && 'value' in reading && reading.value !== text.trim())
  const said =
    reading && 'value' in reading ? `${formatField(estate, field, reading.value)}${shape === 'instant' ? `, ${zone}` : ''}` : undefined
  const read = (hasUnit || isTime) && said !== undefined ? `reads as ${said}` : undefined
  return (
    <div
      className={clsx(
        'grid grid-cols-[minmax(0,1fr)] sm:grid-cols-[170px_minmax(0,280px)_minmax(0,1fr)] gap-x-4 gap-y-1 items-start py-2 border-t border-line',
        className,
      )}
    >
      <label htmlFor={id} className="pt-1">
        {field.label}
        {field.optional && <span className="text-faint"> (optional)</span>}
      </label>
      <FieldControl {...input} id={id} aria-invalid={problem !== undefined} aria-describedby={`${id}-about`} />
      <div id={`${id}-about`} className="text-dense pt-1.5">
        {problem ? <span className="text-error">{problem}</span> : <span className="text-faint">{read ?? doc}</span>}
      </div>
      {children}
    </div>
  )
}

/** One field of a form, and what somebody else made of it meanwhile. */
export function FieldInput({
  estate,
  field,
  name,
  control,
  problem,
  meanwhile,
  doc,
}: {
  doc: string | undefined
  estate: Estate
  field: Field
  name: string
  control: Control<Record<string, string>>
  problem: string | undefined
  /** What somebody else made of it while it was in use here. */
  meanwhile?: { readonly sentence: string; keep(): void; take(): void } | undefined
}) {
  const {
    field: { value: text, onChange, onBlur, ref },
  } = useController({ name, control })
  return (
    <FieldLine
      name={name}
      ref={ref}
      estate={estate}
      field={field}
      text={text}
      setText={onChange}
      onBlur={onBlur}
      problem={problem}
      doc={doc}
    >
      {meanwhile && (
        <div role="alert" className="sm:col-start-2 sm:col-span-2 border-l-2 border-warning pl-2 flex flex-wrap gap-2 items-center">
          <span>{meanwhile.sentence}</span>
          <Button className="!min-h-7" onClick={meanwhile.keep}>
            Keep mine<span className="sr-only"> for {field.label}</span>
          </Button>
          <Button className="!min-h-7" onClick={meanwhile.take}>
            Take theirs<span className="sr-only"> for {field.label}</span>
          </Button>
        </div>
      )}
    </FieldLine>
  )
}
