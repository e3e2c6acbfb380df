import { formatField, isKind, recordTitle, type AnyRecord, type Estate, type Field } from '@insel/core'
import { useId, type Ref } from 'react'
import type { UseFormRegisterReturn } from 'react-hook-form'
import { Button } from '../../ui/button'
import { inputValue } from './field-text'

/** Records that a reference may name, by what people call them. */
function choicesOf(estate: Estate, kind: string): readonly { id: string; title: string }[] {
  if (!isKind(kind)) return []
  const titleOf = (record: AnyRecord) =>
    kind === 'subnet'
      ? `${recordTitle(estate, kind, record)} on ${estate.find('network', (record as { networkId?: string }).networkId)?.name ?? '?'}`
      : recordTitle(estate, kind, record)
  return estate
    .all(kind)
    .map((record) => ({ id: record.id, title: titleOf(record) }))
    .sort((a, b) => a.title.localeCompare(b.title, 'en', { numeric: true }))
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
      {inputOf(field, described, estate)}
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

function inputOf(field: Field, described: object, estate: Estate) {
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
      return (
        <select className="field" {...described}>
          <option value="">{field.optional ? 'none' : 'choose…'}</option>
          {choicesOf(estate, field.to).map(({ id, title }) => (
            <option key={id} value={id}>
              {title}
            </option>
          ))}
        </select>
      )
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
