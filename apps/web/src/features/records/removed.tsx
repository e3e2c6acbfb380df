import { kinds, type Kind } from '@insel/core'
import { useState } from 'react'
import { useEstate } from '../../estate'
import { useLastChange } from '../../estate/use-last-change'
import { Button } from '../../ui/button'
import { Empty, Page, Trouble } from '../../ui/page'

/** Who removed a record and when, with the change to revert; nothing when it was never there. */
function useRemoval(id: string) {
  const { revert } = useEstate()
  const [trouble, setTrouble] = useState<string>()
  const change = useLastChange(id, true)
  const removal = change?.difference.removed[id] ? change : undefined
  const undo = async () => {
    if (removal) setTrouble((await revert(removal.revision))?.sentence)
  }
  return {
    sentence: removal && `${removal.actor.name} removed it with change ${removal.revision}.`,
    trouble,
    action: removal && <Button onClick={() => void undo()}>Revert change {removal.revision}</Button>,
  }
}

/** The page of a record that is not there: who removed it, and how it comes back. What was entered on the page stays with it. */
export function RemovedPage({ kind, id }: { kind: Kind; id: string }) {
  const { sentence, trouble, action } = useRemoval(id)
  return (
    <Page title={`There is no such ${kinds[kind].label}`}>
      <Empty action={action}>{sentence ?? 'It may be part of a plan that is not shown, or the address is mistyped.'}</Empty>
      {trouble && <Trouble>{trouble}</Trouble>}
    </Page>
  )
}

/** Above a form whose record was removed while it was filled in. */
export function RemovedNote({ id }: { id: string }) {
  const { sentence, trouble, action } = useRemoval(id)
  return (
    <div role="alert" className="border border-error/40 bg-error-wash rounded-md px-3 py-2 my-2">
      <p>
        {sentence ?? 'It was removed meanwhile.'} What you entered is kept here while this page is open; it can be saved once the record is
        back.
      </p>
      {action && <div className="mt-2">{action}</div>}
      {trouble && <Trouble>{trouble}</Trouble>}
    </div>
  )
}
