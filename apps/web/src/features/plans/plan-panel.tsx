import { counted, isStale, projectPlan } from '@insel/core'
import { clsx } from 'clsx'
import { ChevronDown, ChevronUp, X } from 'lucide-react'
import { useMemo, useState } from 'react'
import { Link, useLocation } from 'react-router'
import { usePlanFindings } from '../../estate/checks'
import { RECORDED, useEstate, type Basis } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Trouble } from '../../ui/page'
import { FindingLine } from '../proposals/finding-line'
import { DifferenceView } from '../proposals/difference-view'
import { CarryOutAll } from './carry-out-all'

/** So many items are listed around the one that is looked at: of hundreds the whole plan’s page has the rest. */
const SHOWN = 14

/** So wide a window has room for the panel beside what it is about. */
const ROOMY = '(min-width: 64rem)'

/** The plan that is shown, beside any page: its items as stops, what they do up to the one looked at, and carrying them out. */
export function PlanPanel({ basis: { plan, item, ahead } }: { basis: Extract<Basis, { on: 'item' }> }) {
  const { recorded, ahead: difference, showBasis } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const { pathname } = useLocation()
  const [wanted, setWanted] = useState<boolean>()
  const [isExact, setExact] = useState(false)
  // Elsewhere it would lie over what a page proposes, until it is opened.
  const isOpen = wanted ?? (pathname.endsWith('/board') && window.matchMedia(ROOMY).matches)
  const stale = useMemo(() => {
    const { items } = projectPlan(recorded, plan.id)
    return new Map(items.filter(isStale).map((place) => [place.item.id, place.outcome.ok ? 'stale' : place.outcome.refusal.message]))
  }, [recorded, plan.id])
  const findings = usePlanFindings(plan.id, item.id).data
  const at = ahead.findIndex(({ id }) => id === item.id)
  const upTo = ahead.slice(0, at + 1)
  const first = Math.max(0, Math.min(at - SHOWN / 2, ahead.length - SHOWN))
  const drop = async (id: string) => {
    // What is looked at goes: the one before it is looked at instead.
    const next = id === item.id ? (ahead[at - 1] ?? ahead[at + 1]) : item
    if (await record([{ type: 'item.drop', itemId: id }])) showBasis(next ? { on: 'item', planId: plan.id, itemId: next.id } : RECORDED)
  }
  const dropPlan = async () => {
    if (await record([{ type: 'plan.drop', planId: plan.id }])) showBasis(RECORDED)
  }
  return (
    <aside
      aria-label="Plan"
      className="print:hidden fixed bottom-4 right-4 z-20 w-[min(400px,calc(100vw-32px))] max-h-[70vh] overflow-auto bg-sheet border border-accent rounded-md shadow-lg"
    >
      <div className="flex items-center gap-2 px-4 py-2 sticky top-0 bg-sheet">
        <h2 className="flex-1 min-w-0 truncate">
          <Link className="name-link" to={to(`plans/${plan.id}`)}>
            {plan.name}
          </Link>
          <span className="text-soft font-normal">, {plan.state}</span>
        </h2>
        <Button
          look="quiet"
          aria-expanded={isOpen}
          aria-label={isOpen ? 'Collapse the plan' : 'Expand the plan'}
          onClick={() => setWanted(!isOpen)}
        >
          {isOpen ? <ChevronDown size={16} aria-hidden /> : <ChevronUp size={16} aria-hidden />}
        </Button>
      </div>
      {isOpen && (
        <div className="px-4 pb-4">
          {first > 0 && <p className="text-dense text-soft">{counted(first, 'item')} before these.</p>}
          <ol className="border-t border-line" start={first + 1}>
            {ahead
              .slice(first, first + SHOWN)
              .map((one, place) => ({ one, index: first + place }))
              .map(({ one, index }) => (
                <li key={one.id} className={clsx('border-b border-line py-1', index > at && 'text-faint')}>
                  <div className="flex items-center gap-2">
                    <span className="font-mono text-faint text-small min-w-5 pr-1">{index + 1}</span>
                    <button
                      type="button"
                      className={clsx('flex-1 min-w-0 break-words text-left min-h-6', index === at && 'font-medium')}
                      aria-current={index === at ? 'step' : undefined}
                      onClick={() => showBasis({ on: 'item', planId: plan.id, itemId: one.id })}
                    >
                      {one.title}
                    </button>
                    {one.state === 'open' && (
                      <Button look="quiet" aria-label={`Drop item ${index + 1}`} onClick={() => void drop(one.id)}>
                        <X size={14} aria-hidden />
                      </Button>
                    )}
                  </div>
                  {stale.has(one.id) && (
                    <p className="text-warning text-dense pl-7 break-words">
                      {stale.get(one.id) === 'stale'
                        ? 'Stale: its effect has changed since it was written.'
                        : `Cannot be applied: ${stale.get(one.id)}`}
                    </p>
                  )}
                </li>
              ))}
          </ol>
          {ahead.length > first + SHOWN && (
            <p className="text-dense text-soft">And {counted(ahead.length - first - SHOWN, 'item')} after these.</p>
          )}
          {difference && (
            <details className="mt-2" onToggle={(event) => setExact(event.currentTarget.open)}>
              <summary className="text-accent min-h-7 content-center">Exact changes</summary>
              <div className="mt-1 max-h-60 overflow-auto">{isExact && <DifferenceView estate={recorded} difference={difference} />}</div>
            </details>
          )}
          {findings?.raised.map((finding) => (
            <FindingLine key={finding.id} finding={finding} how="new" />
          ))}
          {findings?.changed.map(({ finding, how }) => (
            <FindingLine key={finding.id} finding={finding} how={how} />
          ))}
          {findings && findings.settled.length > 0 && (
            <p className="mt-1.5 text-dense text-soft">Settles {counted(findings.settled.length, 'open finding')}.</p>
          )}
          {trouble && <Trouble>{trouble}</Trouble>}
          <div className="flex gap-2 mt-3 flex-wrap">
            <CarryOutAll items={upTo} least={1} done={() => showBasis(RECORDED)} />
            <Button look="danger" onClick={() => void dropPlan()}>
              Drop plan
            </Button>
          </div>
        </div>
      )}
    </aside>
  )
}
