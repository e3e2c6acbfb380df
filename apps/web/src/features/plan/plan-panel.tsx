import { counted, sayCommand } from '@insel/core'
import { ChevronDown, ChevronUp, X } from 'lucide-react'
import { useState } from 'react'
import { usePreview } from '../../checks/checks'
import { RECORDED, useEstate } from '../../estate'
import { useKey } from '../../lib/keys'
import { Button } from '../../ui/button'
import { DifferenceView } from '../proposals/difference-view'
import { Mark } from '../findings/mark'
import { Trouble } from '../../ui/page'
import { KeepInPlan } from './keep-in-plan'

/** The drafted commands: what each does, what all of them together do, and the choice to apply or discard them. */
export function PlanPanel() {
  const { plan, setPlan, showBasis, basis, recorded, estate, planTrouble, submit } = useEstate()
  const [isOpen, setOpen] = useState(true)
  const [trouble, setTrouble] = useState<string>()
  const [isBusy, setBusy] = useState(false)
  useKey('p', () => plan.length > 0 && showBasis({ on: basis.on === 'plan' ? 'recorded' : 'plan' }))
  const preview = usePreview(plan.length > 0 ? plan : undefined, RECORDED)
  if (plan.length === 0) return null
  const apply = async () => {
    setBusy(true)
    const problem = await submit(plan, `The plan of ${counted(plan.length, 'step')}`)
    setBusy(false)
    setTrouble(problem?.sentence)
    if (problem) return
    setPlan([])
    showBasis(RECORDED)
  }
  const discard = () => {
    setPlan([])
    showBasis(RECORDED)
  }
  return (
    <aside
      aria-label="Plan"
      className="print:hidden fixed bottom-4 right-4 z-20 w-[min(400px,calc(100vw-32px))] max-h-[70vh] overflow-auto bg-sheet border border-accent rounded-md shadow-lg"
    >
      <div className="flex items-center gap-2 px-4 py-2 sticky top-0 bg-sheet">
        <h2 className="flex-1">Plan: draft of {counted(plan.length, 'step')}</h2>
        <Button
          look="quiet"
          aria-expanded={isOpen}
          aria-label={isOpen ? 'Collapse the plan' : 'Expand the plan'}
          onClick={() => setOpen(!isOpen)}
        >
          {isOpen ? <ChevronDown size={16} aria-hidden /> : <ChevronUp size={16} aria-hidden />}
        </Button>
      </div>
      {isOpen && (
        <div className="px-4 pb-4">
          <ol className="border-t border-line">
            {plan.map((command, index) => (
              <li key={index} className="flex items-center gap-2 border-b border-line py-1">
                <span className="font-mono text-faint text-small w-5">{index + 1}</span>
                <span className="flex-1 min-w-0 break-words">{sayCommand(basis.on === 'plan' ? estate : recorded, command)}</span>
                <Button
                  look="quiet"
                  aria-label={`Remove step ${index + 1} from the plan`}
                  onClick={() => setPlan(plan.filter((_, at) => at !== index))}
                >
                  <X size={14} aria-hidden />
                </Button>
              </li>
            ))}
          </ol>
          {planTrouble && <Trouble>The plan does not fit the record as it is now: {planTrouble}</Trouble>}
          {preview.data?.ok && (
            <>
              <details className="mt-2">
                <summary className="text-accent">Exact changes</summary>
                <div className="mt-1 max-h-60 overflow-auto">
                  <DifferenceView estate={recorded} difference={preview.data.difference} />
                </div>
              </details>
              {preview.data.findings.raised.map((finding) => (
                <p key={finding.id} className="flex gap-2 items-baseline mt-1.5 text-dense">
                  <Mark of={finding.severity} /> {finding.sentence}
                </p>
              ))}
              {preview.data.findings.settled.length > 0 && (
                <p className="mt-1.5 text-dense text-soft">
                  Settles {preview.data.findings.settled.length} open {preview.data.findings.settled.length === 1 ? 'finding' : 'findings'}.
                </p>
              )}
            </>
          )}
          {trouble && <Trouble>{trouble}</Trouble>}
          <div className="flex gap-2 mt-3 flex-wrap">
            <Button look="primary" disabled={isBusy || planTrouble !== undefined} onClick={() => void apply()}>
              Apply plan
            </Button>
            <Button onClick={discard}>Discard</Button>
          </div>
          <KeepInPlan />
        </div>
      )}
    </aside>
  )
}
