import {
  groupFields,
  groupKey,
  groupName,
  groupOf,
  groupsOf,
  verdictOf,
  writeEnd,
  type Command,
  type Group,
  type GroupReach,
  type Intent,
  type ReachQuestion,
  type ReachVerdict,
} from '@insel/core'
import { useMemo, useState, type KeyboardEvent } from 'react'
import { useReachMatrix } from '../../estate/checks'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { useQueryParam, useSetQueryParams } from '../../lib/query-param'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Mark } from '../../ui/mark'
import { Part, Trouble } from '../../ui/page'

const kinds = ['network', 'role', 'site'] as const
const words: Readonly<Record<ReachVerdict, string>> = {
  all: 'reaches',
  some: 'reaches in part',
  none: 'does not reach',
  empty: 'nothing to ask',
}
const ICMP = { protocol: 'icmp' } as const
const pairKey = (from: Group, to: Group) => `${groupKey(from)} ${groupKey(to)}`

/** Groups against each other: what is intended, drawn by a person, beside what is computed; every difference is a finding. */
export function ReachMatrix() {
  const { estate } = useEstate()
  const [kind, setKind] = useQueryParam('groups')
  const groups = useMemo(() => {
    const wanted = kinds.find((one) => one === kind) ?? 'network'
    return groupsOf(estate).filter((group) => group.kind === wanted || group.kind === 'outside')
  }, [estate, kind])
  const matrix = useReachMatrix(ICMP, groups)
  const [cell, setCell] = useState<readonly [number, number]>([0, 0])
  const [row, column] = [Math.min(cell[0], groups.length - 1), Math.min(cell[1], groups.length - 1)]
  const intents = useMemo(
    () =>
      new Map(
        estate
          .all('intent')
          .filter(({ protocol }) => protocol === ICMP.protocol)
          .map((intent) => [pairKey(groupOf(intent, 'from'), groupOf(intent, 'to')), intent]),
      ),
    [estate],
  )
  const intentAt = (from: Group, to: Group): Intent | undefined => intents.get(pairKey(from, to))
  const reachAt = (r: number, c: number): GroupReach | undefined =>
    matrix.data?.length === groups.length ? matrix.data[r]?.[c] : undefined
  const move = (event: KeyboardEvent) => {
    const step = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[event.key]
    if (!step) return
    event.preventDefault()
    const clamp = (value: number) => Math.max(0, Math.min(groups.length - 1, value))
    const next = [clamp(row + (step[0] ?? 0)), clamp(column + (step[1] ?? 0))] as const
    setCell(next)
    document.getElementById(`reach-${next[0]}-${next[1]}`)?.focus()
  }
  const [from, to] = [groups[row], groups[column]]
  const size = groups.length > 24 ? 'size-4' : 'size-7'
  return (
    <Part
      title="Reachability by group"
      aside={
        <label className="flex gap-2 items-center text-dense">
          by
          <select className="field !min-h-7 !py-0 !w-28" value={kind || 'network'} onChange={(event) => setKind(event.target.value)}>
            {kinds.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        </label>
      }
    >
      <div className="flex flex-wrap gap-x-10 gap-y-4 pt-2">
        <div className="overflow-auto max-w-full" onKeyDown={move}>
          <table role="grid" aria-label="Reachability by group" className="text-small border-collapse">
            <thead>
              <tr>
                <th scope="col" className="font-normal text-faint text-left align-bottom pr-2">
                  from, to
                </th>
                {groups.map((group) => (
                  <th key={groupName(estate, group)} scope="col" className="font-normal align-bottom h-24">
                    <span className="[writing-mode:vertical-rl] rotate-180 max-h-24 truncate inline-block">{groupName(estate, group)}</span>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {groups.map((rowGroup, r) => (
                <tr key={groupName(estate, rowGroup)}>
                  <th scope="row" className="font-normal text-left pr-2 max-w-40 truncate">
                    {groupName(estate, rowGroup)}
                  </th>
                  {groups.map((columnGroup, c) => {
                    const found = reachAt(r, c)
                    const verdict = found ? verdictOf(found) : 'empty'
                    const intent = intentAt(rowGroup, columnGroup)
                    const isBroken = intent && found && isAgainst(intent, verdict)
                    const isChosen = r === row && c === column
                    return (
                      <td key={groupName(estate, columnGroup)} role="gridcell" aria-selected={isChosen} className="p-0">
                        <button
                          id={`reach-${r}-${c}`}
                          type="button"
                          tabIndex={isChosen ? 0 : -1}
                          className={`block ${size} border ${isChosen ? 'border-accent outline-1 outline-accent outline' : 'border-line'} ${isBroken ? 'bg-error-wash' : ''}`}
                          aria-label={`${groupName(estate, rowGroup)} to ${groupName(estate, columnGroup)}: ${words[verdict]}${intent ? `, ${intent.wanted}${isBroken ? ', not met' : ''}` : ''}`}
                          onClick={() => setCell([r, c])}
                        >
                          <Cell verdict={verdict} wanted={intent?.wanted} isBroken={isBroken ?? false} />
                        </button>
                      </td>
                    )
                  })}
                </tr>
              ))}
            </tbody>
          </table>
          <Legend />
        </div>
        {from && to && <CellPanel from={from} to={to} found={reachAt(row, column)} intent={intentAt(from, to)} />}
      </div>
    </Part>
  )
}

const isAgainst = ({ wanted }: Intent, verdict: ReachVerdict) =>
  verdict !== 'empty' && (wanted === 'must reach' ? verdict !== 'all' : verdict !== 'none')

/** Computed: a full, half or empty square. Intended: a bar above (must) or a bar across (must not). */
function Cell({ verdict, wanted, isBroken }: { verdict: ReachVerdict; wanted: Intent['wanted'] | undefined; isBroken: boolean }) {
  return (
    <svg viewBox="0 0 20 20" className="size-full" aria-hidden>
      {verdict !== 'empty' && (
        <rect x="5.5" y="5.5" width="9" height="9" fill={verdict === 'all' ? 'var(--fill)' : 'none'} stroke="var(--fill)" />
      )}
      {verdict === 'some' && <path d="M5.5 14.5L14.5 5.5V14.5z" fill="var(--fill)" />}
      {wanted === 'must reach' && <rect x="2" y="1.5" width="16" height="2" fill={isBroken ? 'var(--error)' : 'var(--accent)'} />}
      {wanted === 'must not reach' && <path d="M2 18L18 2" stroke={isBroken ? 'var(--error)' : 'var(--accent)'} strokeWidth="1.6" />}
    </svg>
  )
}

function Legend() {
  const items: readonly (readonly [string, ReachVerdict, Intent['wanted'] | undefined])[] = [
    ['reaches', 'all', undefined],
    ['in part', 'some', undefined],
    ['does not', 'none', undefined],
    ['must reach', 'empty', 'must reach'],
    ['must not', 'empty', 'must not reach'],
  ]
  return (
    <p className="flex flex-wrap gap-x-4 text-small text-soft mt-2">
      {items.map(([label, verdict, wanted]) => (
        <span key={label} className="inline-flex items-center gap-1">
          <span className="size-5">
            <Cell verdict={verdict} wanted={wanted} isBroken={false} />
          </span>
          {label}
        </span>
      ))}
    </p>
  )
}

/** One pair of groups: what is computed, what is intended, a path to look at. */
function CellPanel({ from, to, found, intent }: { from: Group; to: Group; found: GroupReach | undefined; intent: Intent | undefined }) {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  const setParams = useSetQueryParams()
  const intend = (wanted: string) => {
    const choice = wanted === 'must reach' || wanted === 'must not reach' ? wanted : undefined
    const commands: readonly Command[] = !choice
      ? intent
        ? [{ type: 'intent.remove', id: intent.id }]
        : []
      : intent
        ? [{ type: 'intent.update', id: intent.id, changes: { wanted: choice } }]
        : [
            {
              type: 'intent.add',
              record: { id: newId(), ...groupFields(from, 'from'), ...groupFields(to, 'to'), wanted: choice },
            },
          ]
    if (commands.length > 0) void record(commands)
  }
  const show = (question: ReachQuestion) => {
    setParams({ from: writeEnd(estate, question.from), to: writeEnd(estate, question.to), protocol: undefined })
    window.scrollTo({ top: 0 })
  }
  const verdict = found ? verdictOf(found) : 'empty'
  return (
    <div className="min-w-64 flex-1 max-w-[460px]" aria-live="polite">
      <p className="font-medium">
        {groupName(estate, from)} to {groupName(estate, to)}
      </p>
      <p className="text-dense my-1">
        {found && found.pairs > 0
          ? `Computed: ${found.reaching} of ${found.pairs} asked ${found.pairs === 1 ? 'answers' : 'answer'}.`
          : 'There is nothing to test.'}
      </p>
      <label className="flex gap-2 items-center">
        Intended
        <select className="field !w-44" value={intent?.wanted ?? ''} onChange={(event) => intend(event.target.value)}>
          <option value="">no intention</option>
          <option>must reach</option>
          <option>must not reach</option>
        </select>
      </label>
      {intent && isAgainst(intent, verdict) && (
        <p className="flex gap-2 items-baseline text-error text-dense my-1.5">
          <Mark of="error" /> Not as intended; see the findings.
        </p>
      )}
      <p className="flex flex-wrap gap-2 mt-2">
        {found?.does && <Button onClick={() => found.does && show(found.does)}>Show a path that reaches</Button>}
        {found?.doesNot && <Button onClick={() => found.doesNot && show(found.doesNot)}>Show one that fails</Button>}
      </p>
      {trouble && <Trouble>{trouble}</Trouble>}
    </div>
  )
}
