import { type AnyRecord, compareNames, type Estate, type Field, formatField, isKind, recordTitle } from '@insel/core'
import { useId, useMemo, type Ref } from 'react'
import type { UseFormRegisterReturn } from 'react-hook-form'
import { Button } from '../../ui/button'
import { Choice, type Option } from '../../ui/choice'
import { inputValue } from './field-text'

/** Records that a reference may name, by what people call them. */
function choicesOf(estate: Estate, kind: string): readonly Option[] {
  if (!isKind(kind)) return []
  const titleOf = (record: AnyRecord) =>
    kind === 'subnet'
      ? `${recordTitle(estate, kind, record)} on ${estate.find('network', (record as { networkId?: string }).networkId)?.name ?? '?'}`
      : recordTitle(estate, kind, record)
  return estate
    .all(kind)
    .map((record): Option => [record.id, titleOf(record)])
    .sort(([, a], [, b]) => compareNames(a, b))
}

/** One field of a form: its label, its input, how what was typed is read, and what is wrong with it. */
export function FieldInput({
  estate,
  field,
  text,
  problem,
  register,
  meanwhile,
}: {
  estate: Estate
  field: Field
  text: string
  problem: string | undefined
  register: UseFormRegisterReturn & { ref: Ref<never> }
  /** What somebody else made of it while it was in use here. */
  meanwhile?: { readonly sentence: string; keep(): void; take(): void } | undefined
}) {
  const id = useId()
  const described = { id, 'aria-invalid': problem !== undefined, 'aria-describedby': `${id}-about`, ...register }
  const reading = text.trim() === '' ? undefined : inputValue(field, text)
  const isSize = (field.type === 'integer' || field.type === 'real') && (field.unit === 'MiB' || field.unit === 'bytes')
  const read = isSize && reading && 'value' in reading ? `reads as ${formatField(estate, field, reading.value)}` : undefined
  return (
    <div className="grid sm:grid-cols-[170px_280px_1fr] gap-x-4 gap-y-1 items-start py-2 border-t border-line">
      <label htmlFor={id} className="pt-1">
        {field.label}
        {field.optional && <span className="text-faint"> (optional)</span>}
      </label>
      {inputOf(field, described, estate, text)}
      <div id={`${id}-about`} className="text-[13px] pt-1.5">
        {problem ? <span className="text-error">{problem}</span> : <span className="text-faint">{read ?? field.doc}</span>}
      </div>
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
    </div>
  )
}

type Described = UseFormRegisterReturn & {
  readonly ref: Ref<never>
  readonly id: string
  readonly 'aria-invalid': boolean
  readonly 'aria-describedby': string
}

function inputOf(field: Field, described: Described, estate: Estate, text: string) {
  switch (field.type) {
    case 'choice':
      return (
        <select className="field" {...described}>
          {field.optional && <option value="">none</option>}
          {field.options.map((option) => (
            <option key={option}>{option}</option>
          ))}
        </select>
      )
    case 'bool':
      return (
        <select className="field" {...described}>
          <option value="true">yes</option>
          <option value="false">no</option>
        </select>
      )
    case 'ref':
      return <RecordChoice field={field} described={described} estate={estate} text={text} />
    default:
      return field.type === 'text' && field.shape === 'note' ? (
        <textarea rows={3} className="field" {...described} />
      ) : (
        <input
          className={`field ${field.type === 'text' && field.shape === 'line' ? '' : 'font-mono'}`}
          autoComplete="off"
          spellCheck={false}
          {...described}
        />
      )
  }
}

/** Which record a reference names. */
function RecordChoice({
  field,
  described,
  estate,
  text,
}: {
  field: Field & { type: 'ref' }
  described: Described
  estate: Estate
  text: string
}) {
  const options = useMemo(() => choicesOf(estate, field.to), [estate, field.to])
  return (
    <Choice
      {...described}
      options={options}
      value={text}
      choose={(value) => void described.onChange({ target: { name: described.name, value } })}
      none={field.optional ? 'none' : 'choose…'}
    />
  )
}
