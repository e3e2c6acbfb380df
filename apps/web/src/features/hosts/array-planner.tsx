import {
  type ArrayLevel,
  arrayLevels,
  type Command,
  type Drive,
  drivesIn,
  formatBytes,
  formatLabelBytes,
  type Host,
  kinds,
  planArray,
  readDriveList,
} from '@insel/core'
import { useMemo, useState } from 'react'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { FigureView } from '../figures/figure-view'
import { Part, Trouble } from '../../ui/page'
import { useLine } from '../../ui/use-line'
import { inputValue } from '../records/field-text'
import { ArrayBar, faults, unlike } from './array-view'
import { LedgerTable } from '../../ui/scrolling'

/** All levels side by side for the drives at hand, to one scale. */
export function ArrayPlanner({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  const free = useMemo(() => drivesIn(estate, host).filter(({ use }) => use === 'unused'), [estate, host])
  const [left, setLeft] = useState<ReadonlySet<string>>(() => new Set(unlike(free)))
  const [spares, setSpares] = useState(0)
  const { text: name, setText: setName, give } = useLine()
  const [paper, setPaper] = useState('')
  const list = readDriveList(paper)
  const isOnPaper = paper.trim() !== ''
  const chosen = free.filter(({ id }) => !left.has(id))
  const sizes = isOnPaper ? ('bytes' in list ? list.bytes : []) : chosen.map(({ labelBytes }) => labelBytes)
  const spareCount = Math.min(spares, Math.max(0, sizes.length - 1))
  const plans = arrayLevels.map((level) => planArray(sizes, level, spareCount))
  const scale = Math.max(1, ...plans.map((plan) => plan.members * plan.memberBytes + plan.lostBytes))
  const reading = inputValue(kinds.array.fields.name, name)
  const make = (level: ArrayLevel) =>
    give(() => record(commandsFor(host, name, level, chosen, spareCount), `Array ${name} at level ${level}`))
  return (
    <Part title="Plan an array">
      <div className="flex flex-wrap gap-x-6 gap-y-2 py-2 items-end">
        <fieldset className="flex flex-wrap gap-x-4 gap-y-1">
          <legend className="text-dense text-soft">From unused drives</legend>
          {free.length === 0 && <span className="text-dense text-faint min-h-7">no unused drive here</span>}
          {free.map((drive) => (
            <label key={drive.id} className="inline-flex items-center gap-1.5 text-dense min-h-7">
              <input
                type="checkbox"
                className="size-4 accent-[var(--accent)]"
                checked={!left.has(drive.id)}
                onChange={(event) => {
                  const next = new Set(left)
                  if (event.target.checked) next.delete(drive.id)
                  else next.add(drive.id)
                  setLeft(next)
                }}
              />
              bay {drive.position}, {formatLabelBytes(drive.labelBytes)} {drive.kind}
            </label>
          ))}
        </fieldset>
        <label className="text-dense">
          <span className="block text-soft">Or on paper, in label sizes</span>
          <input
            className="field font-mono !w-44"
            placeholder="4x4T 2x960G"
            value={paper}
            aria-invalid={'sentence' in list}
            onChange={(event) => setPaper(event.target.value)}
          />
        </label>
        <label className="text-dense">
          <span className="block text-soft">Hot spares</span>
          <input
            type="number"
            min={0}
            max={Math.max(0, sizes.length - 1)}
            className="field font-mono !w-20"
            value={spares}
            onChange={(event) => setSpares(Math.max(0, Math.floor(Number(event.target.value)) || 0))}
          />
        </label>
        <label className="text-dense">
          <span className="block text-soft">Name of the array</span>
          <input
            className="field font-mono !w-40"
            value={name}
            placeholder="bulk"
            onChange={(event) => setName(event.target.value)}
            aria-invalid={name !== '' && 'sentence' in reading}
          />
        </label>
      </div>
      <LedgerTable>
        <thead>
          <tr>
            <th scope="col">level</th>
            <th scope="col" className="w-[38%] min-w-40">
              usable, <span className="text-faint">protection hatched, unused dashed</span>
            </th>
            <th scope="col">usable</th>
            <th scope="col">may fail</th>
            <th scope="col" className="min-w-44">
              notes
            </th>
            <th scope="col">
              <span className="sr-only">create</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {plans.map((plan) => (
            <tr key={plan.level} className={plan.problem ? 'text-faint' : ''}>
              <th scope="row" className="!text-ink font-bold !align-top !pt-1.5">
                {plan.level}
              </th>
              <td>{!plan.problem && <ArrayBar plan={plan} scale={scale} />}</td>
              <td className="font-mono whitespace-nowrap">
                {plan.problem ? (
                  '–'
                ) : (
                  <FigureView figure={plan.usable} title={`Usable at level ${plan.level}`}>
                    {formatBytes(plan.usable.value)}
                  </FigureView>
                )}
              </td>
              <td>{faults(plan) || '–'}</td>
              <td>{plan.problem ?? plan.cautions.join(' ')}</td>
              <td>
                <Button
                  className="!min-h-7"
                  disabled={isOnPaper || plan.problem !== undefined || !('value' in reading)}
                  onClick={() => void make(plan.level)}
                >
                  Create<span className="sr-only"> RAID {plan.level}</span>
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </LedgerTable>
      {'sentence' in list && <p className="text-error text-dense">{list.sentence}</p>}
      {name !== '' && 'sentence' in reading && <p className="text-error text-dense">{reading.sentence}</p>}
      {name === '' && !isOnPaper && (
        <p className="text-faint text-dense">
          Enter a name to create the array. Creating an array on the machine wipes its drives: compare bays and serials first.
        </p>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}

/** The array with its members; the largest drives become spares, for a spare must be able to replace any member. */
function commandsFor(host: Host, name: string, level: ArrayLevel, drives: readonly Drive[], spares: number): readonly Command[] {
  const arrayId = newId()
  const bySize = [...drives].sort((a, b) => a.labelBytes - b.labelBytes || a.position - b.position)
  return [
    { type: 'array.add', record: { id: arrayId, hostId: host.id, name, level } },
    ...bySize.map((drive, index): Command => ({
      type: 'drive.update',
      id: drive.id,
      changes: { use: index < bySize.length - spares ? 'member' : 'spare', arrayId },
    })),
  ]
}
