import {
  dayIn,
  optionLabel,
  timeZoneOf,
  type TextField,
  type AnyRecord,
  compareNames,
  type Estate,
  type Field,
  isKind,
  recordTitle,
} from '@insel/core'
import { useMemo } from 'react'
import { onDemand } from '../../lib/on-demand'
import { now } from '../../lib/time'
import { Choice } from '../../ui/choice'
import type { FieldProps, Option } from '../../ui/choosing'
import { inputText, inputValue } from './field-text'

const DayChoice = onDemand(async () => (await import('../../ui/day-choice')).DayChoice)

/** What a field of yes and no is, as text. */
const YES_OR_NO: readonly Option[] = [
  ['false', 'no'],
  ['true', 'yes'],
]

/** Fields for which not every record of their kind is offered. */
const offered: Readonly<Record<string, (record: AnyRecord) => boolean>> = {
  backupStoreId: (record) => 'kind' in record && record.kind === 'backup',
}

/** Records of a kind by what people call them; a subnet by its network as well. */
function recordsOf(estate: Estate, kind: string, isOffered: (record: AnyRecord) => boolean): readonly Option[] {
  if (!isKind(kind)) return []
  const titleOf = (record: AnyRecord) =>
    kind === 'subnet'
      ? `${recordTitle(estate, kind, record)} on ${estate.find('network', (record as { networkId?: string }).networkId)?.name ?? '?'}`
      : recordTitle(estate, kind, record)
  return estate
    .all(kind)
    .filter(isOffered)
    .map((record): Option => [record.id, titleOf(record)])
    .sort(([, a], [, b]) => compareNames(a, b))
}

/** What a field chooses among, with what it holds among them; undefined where it is typed. */
function optionsOf(estate: Estate, name: string, field: Field, text: string): readonly Option[] | undefined {
  if (field.type === 'choice') return field.options.map((option) => [option, optionLabel(field, option)])
  if (field.type === 'bool') return YES_OR_NO
  if (field.type !== 'ref') return undefined
  const isOffered = offered[name]
  return recordsOf(estate, field.to, (record) => !isOffered || record.id === text || isOffered(record))
}

export interface FieldControlProps extends FieldProps {
  readonly estate: Estate
  readonly field: Field
  /** What the field is called in its kind. */
  readonly name: string
  /** What it holds, as text; see `inputText` and `inputValue`. */
  readonly text: string
  readonly setText: (text: string) => void
  /** What it is called that no record is chosen yet. */
  readonly none?: string | undefined
  readonly className?: string
}

/** The control in which the value of any field is chosen or typed. */
export function FieldControl({ estate, field, text, setText, none, className = '', ...props }: FieldControlProps) {
  const options = useMemo(() => optionsOf(estate, props.name, field, text), [estate, props.name, field, text])
  if (options)
    return (
      <Choice
        {...props}
        className={className}
        options={options}
        value={text}
        choose={setText}
        none={none ?? (field.optional ? 'none' : field.type === 'ref' ? 'choose…' : undefined)}
      />
    )
  const typed = {
    ...props,
    value: text,
    onChange: (event: { readonly target: { readonly value: string } }) => setText(event.target.value),
    autoComplete: 'off',
    spellCheck: false,
  }
  if (field.type === 'text' && field.shape === 'note') return <textarea rows={3} className={`field ${className}`} {...typed} />
  const input = <input className={`field ${field.type === 'text' && field.shape === 'line' ? '' : 'font-mono'} ${className}`} {...typed} />
  if (field.type !== 'text' || (field.shape !== 'date' && field.shape !== 'instant')) return input
  return (
    <span className="flex gap-1 min-w-0">
      {input}
      <DayOfField estate={estate} field={field} text={text} setText={setText} />
    </span>
  )
}

/** The calendar of a field of a day or a time. A time keeps its hour when another day is taken; a new one is at nine. */
function DayOfField({
  estate,
  field,
  text,
  setText,
}: {
  estate: Estate
  field: TextField & { readonly label: string }
  text: string
  setText: (text: string) => void
}) {
  const zone = timeZoneOf(estate)
  const reading = text.trim() === '' ? undefined : inputValue(field, text, zone)
  const value = reading && 'value' in reading && typeof reading.value === 'string' ? reading.value : undefined
  const isTime = field.shape === 'instant'
  const hour = value && isTime ? inputText(field, value, zone).slice(11) : '09:00'
  return (
    <DayChoice
      meanwhile={<span className="w-9" />}
      label={field.label}
      day={value && (isTime ? dayIn(zone, value) : value)}
      today={dayIn(zone, now())}
      now={isTime ? { label: 'Now', text: 'now' } : { label: 'Today', text: dayIn(zone, now()) }}
      take={(day) => setText(isTime && /^\d/.test(day) ? `${day} ${hour}` : day)}
    />
  )
}
