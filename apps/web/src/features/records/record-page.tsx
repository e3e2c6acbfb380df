import { docOf, isKind, isMadeByVerbs, kinds, recordPhrase, referrersOf, type Command, type Kind } from '@insel/core'
import { useState } from 'react'
import { useParams, useSearchParams } from 'react-router'
import { useEstate, whyReadOnly } from '../../estate'
import { newId } from '../../lib/context'
import { useGo } from '../../lib/use-go'
import { Button } from '../../ui/button'
import { DifferenceView } from '../proposals/difference-view'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { Empty, Page, Trouble } from '../../ui/page'
import { usePreview } from '../../estate/checks'
import { RecordForm } from './record-form'
import { RemovedNote, RemovedPage } from './removed'

/** Adds a record of any kind; what is in the query fills fields, so that a link can name the parent. */
export function NewRecordPage() {
  const { kind = '' } = useParams()
  const [params] = useSearchParams()
  const go = useGo()
  const [id] = useState(newId)
  if (!isKind(kind) || isMadeByVerbs(kind)) return <Unknown />
  const given = Object.fromEntries([...params].filter(([name]) => name in kinds[kind].fields))
  return (
    <Page title={`Add ${kinds[kind].label}`} about={docOf(kind)}>
      <RecordForm
        key={kind}
        kind={kind}
        record={given}
        saveLabel={`Add ${kinds[kind].label}`}
        commandsOf={(values) => [{ type: `${kind}.add`, record: { ...values, id } } as unknown as Command]}
        recorded={() => go(-1)}
        planAt="board"
        aside={(commands) => <Effect commands={commands} withDifference={false} />}
      />
    </Page>
  )
}

/** Changes or removes a record of any kind. */
export function EditRecordPage() {
  const { kind = '', id = '' } = useParams()
  return isKind(kind) ? <EditRecord key={`${kind}/${id}`} kind={kind} id={id} /> : <Unknown />
}

function EditRecord({ kind, id }: { kind: Kind; id: string }) {
  const { estate, basis } = useEstate()
  const go = useGo()
  const isPast = whyReadOnly(basis) !== undefined
  const found = estate.find(kind, id)
  // When a colleague removes it, the form stays with what was typed.
  const [last, setLast] = useState(found)
  if (found && found !== last) setLast(found)
  const record = found ?? last
  if (!record) return <RemovedPage kind={kind} id={id} />
  return (
    <Page
      title={`Change ${recordPhrase(estate, kind, record)}`}
      about={docOf(kind)}
      actions={found && !isPast && <Removal kind={kind} id={id} leave={() => go(-1)} />}
    >
      {!found && <RemovedNote id={id} />}
      <RecordForm
        kind={kind}
        record={record}
        recordId={id}
        isGone={!found}
        saveLabel="Save changes"
        commandsOf={(values) => {
          const before = record as unknown as Record<string, unknown>
          const changes = Object.fromEntries(
            Object.entries(values).filter(([name, value]) => JSON.stringify(before[name]) !== JSON.stringify(value)),
          )
          return [{ type: `${kind}.update`, id, changes } as unknown as Command]
        }}
        recorded={() => go(-1)}
        planAt="board"
        aside={(commands) => <Effect commands={commands} />}
      />
    </Page>
  )
}

/**
 * Removes a record: first says what goes with it, then does it.
 *
 * @param leave the page’s way out: this part of it goes with the record
 */
function Removal({ kind, id, leave }: { kind: Kind; id: string; leave: () => Promise<void> }) {
  const { estate } = useEstate()
  const [isAsking, setAsking] = useState(false)
  const command = { type: `${kind}.remove`, id, withReferring: true } as Command
  const preview = usePreview(isAsking ? [command] : undefined)
  const proposal = useProposal({ commands: isAsking ? [command] : undefined, recorded: leave, planAt: 'board' })
  if (kind === 'estate' || kind === 'person' || isMadeByVerbs(kind)) return null
  const others = referrersOf(estate, kind, id).length
  if (!isAsking)
    return (
      <Button look="danger" onClick={() => setAsking(true)}>
        Remove…
      </Button>
    )
  return (
    <div className="border border-error rounded-md p-4 bg-sheet max-w-[420px]" role="group" aria-label="Remove">
      <p className="mb-2">{others > 0 ? 'Also affected, removed or with the reference cleared:' : 'Nothing refers to it.'}</p>
      {preview.data &&
        (preview.data.ok ? (
          <DifferenceView estate={estate} difference={preview.data.difference} />
        ) : (
          <Trouble>{preview.data.sentence}</Trouble>
        ))}
      <ProposalFooter proposal={proposal} label="Remove" isReady={preview.data?.ok === true} leave={() => setAsking(false)} />
    </div>
  )
}

const Unknown = () => (
  <Page title="There is no such record">
    <Empty>The address is mistyped: there is no such kind of record.</Empty>
  </Page>
)
