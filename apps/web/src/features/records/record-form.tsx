import { docOf, formatField, kinds, timeZoneOf, writableFields, type Command, type Estate, type Field, type Kind } from '@insel/core'
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import { useForm, useWatch } from 'react-hook-form'
import { useLocation } from 'react-router'
import { refusedBy, type Refusal, useEstate, whereTo } from '../../estate'
import { useKey } from '../../lib/keys'
import { useDraft } from '../../lib/use-draft'
import { useLastChange } from '../../estate/use-last-change'
import { useOnce } from '../../lib/use-once'
import { UnreadContext } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { usePlanning, type Proposal } from '../proposals/use-proposal'
import { DraftOffer } from './draft-offer'
import { FieldInput } from './field-input'
import { groupsOf } from './form-groups'
import { inputText, inputValue } from './field-text'

type Texts = Record<string, string>
const NONE: readonly string[] = []

/** What was typed in a form, read: the values, and the sentence for each field that cannot be read. */
export interface FormReading {
  readonly values: Readonly<Record<string, unknown>>
  readonly problems: Readonly<Record<string, string>>
}

/** @param zone the time zone in which days and times are meant */
export function readForm(kind: Kind, fieldNames: readonly string[], texts: Texts, zone?: string): FormReading {
  const values: Record<string, unknown> = {}
  const problems: Record<string, string> = {}
  for (const name of fieldNames) {
    const field = (kinds[kind].fields as Readonly<Record<string, Field>>)[name]
    if (!field) continue
    const reading = inputValue(field, texts[name] ?? '', zone)
    if ('value' in reading) values[name] = reading.value
    else problems[name] = reading.sentence
  }
  return { values, problems }
}

/** The texts with which a form starts: a record's values, or the defaults. */
export function formTexts(kind: Kind, record: object | undefined, zone?: string): Texts {
  return Object.fromEntries(
    Object.entries(kinds[kind].fields as Readonly<Record<string, Field>>).map(([name, field]) => {
      const value = record && name in record ? (record as Record<string, unknown>)[name] : 'default' in field ? field.default : undefined
      return [name, inputText(field, value, zone)]
    }),
  )
}

export interface RecordFormProps {
  readonly kind: Kind
  /** The record to change, or what a new one starts with. */
  readonly record: object | undefined
  /** The id of a record that others may change meanwhile: what is typed is not replaced, each field asks. */
  readonly recordId?: string
  /** The record was removed meanwhile: nothing can be saved. */
  readonly isGone?: boolean
  readonly fieldNames?: readonly string[]
  readonly saveLabel: string
  readonly commandsOf: (values: Readonly<Record<string, unknown>>) => readonly Command[]
  /** What is done once they are recorded. */
  readonly recorded: (commands: readonly Command[]) => unknown
  /** Where one goes to see the plan. */
  readonly planAt: string
  readonly aside?: (commands: readonly Command[] | undefined, estate: Estate) => ReactNode
  readonly more?: ReactNode
  /** A text beside the fields that is kept with what was typed in them: the line from which they are filled. */
  readonly beside?: { readonly text: string; readonly take: (text: string) => void }
  /** What cannot be read outside of the fields: nothing is saved until it can. */
  readonly unread?: string | undefined
}

/** What is kept of a form that was left: the texts of fields that somebody typed in, and what stands beside them. */
interface FormDraft {
  readonly texts: Texts
  readonly beside: string
}

/** The form of any kind of record, from the kind's definition. The core reads every field; its sentences are beside them. */
export function RecordForm({
  kind,
  record,
  recordId,
  isGone = false,
  fieldNames,
  saveLabel,
  commandsOf,
  recorded,
  planAt,
  aside,
  more,
  beside,
  unread,
}: RecordFormProps) {
  const { estate, estateId, revision, basis, submit } = useEstate()
  const { pathname } = useLocation()
  const planning = usePlanning(planAt)
  const zone = timeZoneOf(estate)
  const fields = kinds[kind].fields as Readonly<Record<string, Field>>
  const names = fieldNames ?? writableFields(kind)
  const [refusal, setRefusal] = useState<Refusal>()
  const once = useOnce()
  const form = useForm<Texts>({
    defaultValues: formTexts(kind, record, zone),
    mode: 'onBlur',
    resolver: (texts) => {
      const { values, problems } = readForm(kind, names, texts, zone)
      const errors = Object.fromEntries(Object.entries(problems).map(([name, message]) => [name, { type: 'field', message }]))
      return Object.keys(errors).length > 0 ? { values: {}, errors } : { values: values as Texts, errors: {} }
    },
  })
  const texts = useWatch({ control: form.control }) as Texts
  const given = useMemo(() => formTexts(kind, record, zone), [kind, record, zone])
  const [inUse, setInUse] = useState<string>()
  const [seen, setSeen] = useState(given)
  const [contested, setContested] = useState<readonly string[]>(NONE)
  // When what the form starts with changes (a line typed above it, a colleague's save), only the fields that differ follow; of
  // a record that others change, not those that somebody has typed in or is at.
  if (given !== seen) {
    setSeen(given)
    if (recordId !== undefined)
      setContested(
        names.filter(
          (name) =>
            given[name] !== texts[name] &&
            (contested.includes(name) || (given[name] !== seen[name] && (texts[name] !== seen[name] || name === inUse))),
        ),
      )
  }
  const last = useRef(given)
  useEffect(() => {
    for (const name of names) if (given[name] !== last.current[name] && !contested.includes(name)) form.setValue(name, given[name] ?? '')
    last.current = given
    // oxlint-disable-next-line react/exhaustive-deps -- the names follow from the kind, the form does not change
  }, [given])
  // Who types what the other made of it has chosen, too.
  const open = contested.filter((name) => texts[name] !== given[name])
  const other = useLastChange(recordId ?? '', open.length > 0)
  const typed = Object.fromEntries(names.flatMap((name) => (texts[name] !== given[name] ? [[name, texts[name] ?? '']] : [])))
  const isTyped = Object.keys(typed).length > 0 || (beside?.text ?? '') !== ''
  const draft = useDraft<FormDraft>(
    `${estateId}.${kind}.${recordId ?? pathname.split('/').slice(3).join('.')}`,
    isTyped ? { texts: typed, beside: beside?.text ?? '' } : undefined,
  )
  const takeUp = () => {
    const kept = draft.offered?.value
    if (!kept) return
    if (kept.beside !== '') beside?.take(kept.beside)
    // The fields follow the line first, then what was typed over it.
    setTimeout(() => {
      for (const [name, text] of Object.entries(kept.texts)) if (names.includes(name)) form.setValue(name, text, { shouldDirty: true })
    })
    draft.taken()
  }
  const settle = (name: string) => setContested((before) => before.filter((one) => one !== name))
  const { commands, unreadField } = useMemo(() => {
    const { values, problems } = readForm(kind, names, texts, zone)
    const [first] = Object.keys(problems)
    return { commands: first === undefined ? commandsOf(values) : undefined, unreadField: first }
    // oxlint-disable-next-line react/exhaustive-deps -- names and commandsOf are made again with each render and follow from these
  }, [texts, kind, record])

  /** Does something with the commands once every field can be read; a refusal of a field is said at the field. */
  const onceRead = (act: (ready: readonly Command[]) => Promise<Refusal | undefined>) => () =>
    once(() =>
      form.handleSubmit(async () => {
        setRefusal(undefined)
        if (unread !== undefined) return setRefusal({ sentence: `Nothing was saved: ${unread}`, problems: [] })
        const [undecided] = open
        if (undecided !== undefined) {
          setRefusal({
            sentence: `${fields[undecided]?.label ?? undecided} was changed meanwhile: choose yours or theirs, then save.`,
            problems: [],
          })
          form.setFocus(undecided)
          return
        }
        const { values } = readForm(kind, names, form.getValues(), zone)
        const problem = await act(commandsOf(values))
        if (!problem) return
        let isAtField = false
        for (const { path, message } of problem.problems) {
          const name = path.split('.').at(-1) ?? ''
          if (!names.includes(name)) continue
          isAtField = true
          form.setError(name, { type: 'refused', message })
          form.setFocus(name)
        }
        if (!isAtField) setRefusal(problem)
      })(),
    )
  const plan = async (ready: readonly Command[], newName?: string) => {
    const why = refusedBy(estate, ready, revision) ?? (await planning(ready, newName))
    if (!why) draft.over()
    return why
  }
  const proposal: Proposal = {
    refusal,
    isForPlan: whereTo(basis, commands ?? commandsOf({})) === 'plan',
    forget: () => setRefusal(undefined),
    record: onceRead(async (ready) => {
      if (whereTo(basis, ready) === 'plan') return plan(ready)
      const why = await submit(ready)
      if (!why) {
        draft.over()
        await recorded(ready)
      }
      return why
    }),
    plan: (newName) => onceRead((ready) => plan(ready, newName))(),
  }
  useKey('mod+Enter', () => !isGone && void proposal.record())
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        void proposal.record()
      }}
      onFocus={(event) => setInUse(event.target.getAttribute('name') ?? undefined)}
      onBlur={() => setInUse(undefined)}
      className={aside ? 'beside [--beside:360px]' : ''}
      noValidate
    >
      <div>
        <DraftOffer
          draft={draft.offered}
          what={[
            ...(draft.offered?.value.beside ? [`“${draft.offered.value.beside}”`] : []),
            ...Object.keys(draft.offered?.value.texts ?? {}).flatMap((name) => fields[name]?.label ?? []),
          ].join(', ')}
          take={takeUp}
          discard={draft.discard}
        />
        {groupsOf(kind, names).map((group) => (
          <fieldset key={group.title} className="mb-5 last-of-type:mb-0">
            {group.title && <legend className="font-bold pb-1">{group.title}</legend>}
            {group.names.map((name) => {
              const field = fields[name]
              return (
                field && (
                  <FieldInput
                    key={name}
                    estate={estate}
                    field={field}
                    doc={docOf(kind, name)}
                    name={name}
                    control={form.control}
                    problem={form.formState.errors[name]?.message}
                    meanwhile={
                      open.includes(name)
                        ? {
                            sentence: `${other?.actor.name ?? 'Somebody'} changed it to ${formatField(estate, field, (record as Readonly<Record<string, unknown>>)[name])} meanwhile.`,
                            keep: () => settle(name),
                            take: () => {
                              form.setValue(name, given[name] ?? '', { shouldValidate: true })
                              settle(name)
                            },
                          }
                        : undefined
                    }
                  />
                )
              )
            })}
          </fieldset>
        ))}
        {more}
        <ProposalFooter proposal={proposal} label={saveLabel} isReady={!form.formState.isSubmitting && !isGone} isForm />
      </div>
      {aside && (
        <UnreadContext value={unreadField && (fields[unreadField]?.label ?? unreadField)}>
          <div>{aside(isGone ? undefined : commands, estate)}</div>
        </UnreadContext>
      )}
    </form>
  )
}
