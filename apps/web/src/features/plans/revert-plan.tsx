import { counted, doneItems, type Plan } from '@insel/core'
import { useState } from 'react'
import { useEstate } from '../../estate'
import { useRevertItem } from './use-revert-item'
import { Button } from '../../ui/button'
import { Trouble } from '../../ui/page'

/** Takes back everything a plan did, the last item first; asks before. */
export function RevertPlan({ plan }: { plan: Plan }) {
  const { recorded } = useEstate()
  const [isAsking, setAsking] = useState(false)
  const [trouble, setTrouble] = useState<string>()
  const [isBusy, setBusy] = useState(false)
  const revertItem = useRevertItem()
  const items = doneItems(recorded, plan.id)
  if (items.length === 0) return null
  if (!isAsking) return <Button onClick={() => setAsking(true)}>Revert plan…</Button>
  const revert = async () => {
    setBusy(true)
    for (const item of items) {
      const why = await revertItem(item)
      if (why) {
        setTrouble(`Stopped at “${item.title}”: ${why}`)
        setBusy(false)
        return
      }
    }
    setBusy(false)
    setAsking(false)
  }
  return (
    <div role="group" aria-label="Revert plan" className="border border-rule rounded-md p-3 bg-sheet max-w-[420px]">
      <p className="mb-2">
        Reverts what {counted(items.length, 'item')} did in the record, the last first, each as a separate change. The machines themselves
        are not touched.
      </p>
      {trouble && <Trouble>{trouble}</Trouble>}
      <div className="flex gap-2">
        <Button look="danger" disabled={isBusy} onClick={() => void revert()}>
          Revert {counted(items.length, 'item')}
        </Button>
        <Button onClick={() => setAsking(false)}>Cancel</Button>
      </div>
    </div>
  )
}
