import {
  type ArrayLevel,
  arrayLevels,
  arrayOf,
  type ArrayPlan,
  type Command,
  compareNames,
  type Drive,
  type DriveArray,
  drivesIn,
  drivesOf,
  formatBytes,
  formatLabelBytes,
  type Host,
  kinds,
  labelAgainstShown,
  planArray,
  readDriveList,
  uncutBytes,
} from '@insel/core'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../lib/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { FigureView } from '../figures/figure-view'
import { Ledger } from '../../ui/ledger'
import { Mark } from '../findings/mark'
import { Part, Trouble } from '../../ui/page'
import { inputValue } from '../records/field-text'
import { HostFrame } from './host-frame'

/** A host's drives, the arrays made of them and the stores cut from those; and what each level would give. */
export function DrivesPage() {
  const { to } = usePaths()
  return (
    <HostFrame
      actions={(host) => (
        <ButtonLink look="primary" to={to(`records/drive/new?hostId=${host.id}`)}>
          Add a drive
        </ButtonLink>
      )}
    >
      {(host) => (
        <>
          <ArrayPlanner host={host} />
          <Arrays host={host} />
          <Drives host={host} />
        </>
      )}
    </HostFrame>
  )
}

function Drives({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const drives = drivesIn(estate, host)
  const sizes = [...new Set(drives.map(({ labelBytes }) => labelBytes))].sort((a, b) => a - b)
  if (drives.length === 0) return null
  return (
    <Part title={`Drives, ${drives.length}`}>
      <Ledger headings={['bay', 'label', 'on the screen', 'kind', 'model', 'serial', 'controller', 'use']}>
        {drives.map((drive) => (
          <tr key={drive.id}>
            <td>
              <Link className="font-mono name-link" to={to(`records/drive/${drive.id}`)}>
                {drive.position}
              </Link>
            </td>
            <td className="font-mono">{formatLabelBytes(drive.labelBytes)}</td>
            <td className="font-mono">{formatBytes(drive.labelBytes)}</td>
            <td>{drive.kind}</td>
            <td>{drive.model ?? ''}</td>
            <td className="font-mono">{drive.serial ?? 'not recorded'}</td>
            <td className="font-mono">{drive.controller ?? ''}</td>
            <td>
              {drive.use}
              {drive.arrayId && ` in ${estate.find('array', drive.arrayId)?.name ?? ''}`}
            </td>
          </tr>
        ))}
      </Ledger>
      <div className="text-[12px] text-soft mt-2">
        {sizes.slice(0, 3).map((size) => (
          <p key={size}>{labelAgainstShown(size)}</p>
        ))}
      </div>
    </Part>
  )
}

function Arrays({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const arrays = estate.referring('array', 'hostId', host.id)
  if (arrays.length === 0) return null
  return (
    <Part title={`Arrays, ${arrays.length}`}>
      {[...arrays]
        .sort((a, b) => compareNames(a.name, b.name))
        .map((array) => (
          <ArrayView key={array.id} host={host} array={array} editTo={to(`records/array/${array.id}`)} />
        ))}
    </Part>
  )
}

function ArrayView({ host, array, editTo }: { host: Host; array: DriveArray; editTo: string }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const plan = arrayOf(estate, array)
  const stores = estate.referring('store', 'arrayId', array.id)
  const uncut = uncutBytes(estate, array)
  // Capacities are rounded when they are recorded: what that leaves over is no room for a store.
  const isWorthCutting = uncut > plan.usable.value / 100
  const [name, setName] = useState('')
  const reading = inputValue(kinds.store.fields.name, name)
  const cut = async () => {
    if (
      'value' in reading &&
      (await record([{ type: 'store.add', record: { name, hostId: host.id, arrayId: array.id, capacityBytes: uncut } }]))
    )
      setName('')
  }
  return (
    <div className="py-2.5 border-t border-line first:border-0">
      <p className="flex flex-wrap gap-x-4 items-baseline">
        <Link className="font-bold name-link" to={editTo}>
          {array.name}
        </Link>
        <span>level {array.level}</span>
        <span className="text-soft text-[13px]">
          bays{' '}
          {drivesOf(estate, array)
            .map(({ position, use }) => `${position}${use === 'spare' ? ' (spare)' : ''}`)
            .join(', ') || 'none yet'}
        </span>
        <FigureView figure={plan.usable} title={`Usable in ${array.name}`}>
          {formatBytes(plan.usable.value)} usable
        </FigureView>
        <span className="text-soft text-[13px]">{faults(plan)}</span>
      </p>
      <ArrayBar
        plan={plan}
        scale={Math.max(plan.members * plan.memberBytes + plan.lostBytes, 1)}
        parts={stores.map(({ id, name: store, capacityBytes }) => ({ id, name: store, bytes: capacityBytes }))}
      />
      <p className="text-[13px] flex flex-wrap gap-x-4 gap-y-1 items-center">
        {stores.map((store) => (
          <Link key={store.id} className="font-mono name-link" to={to(`guests/stores/${store.id}`)}>
            {store.name} {formatBytes(store.capacityBytes)}
          </Link>
        ))}
        {isWorthCutting ? <span className="text-soft">{formatBytes(uncut)} not cut yet</span> : null}
        {uncut < 0 ? <span className="text-error font-medium">stores take {formatBytes(-uncut)} too much</span> : null}
        {isWorthCutting && (
          <span className="inline-flex gap-2 items-center">
            <input
              className="field font-mono !w-32 !min-h-7"
              aria-label={`Name of a store cut from ${array.name}`}
              placeholder="store name"
              value={name}
              aria-invalid={name !== '' && 'sentence' in reading}
              onChange={(event) => setName(event.target.value)}
            />
            <Button className="!min-h-7" disabled={!('value' in reading)} onClick={() => void cut()}>
              Cut a store
            </Button>
          </span>
        )}
      </p>
      {[plan.problem, ...plan.cautions].filter(Boolean).map((sentence) => (
        <p key={sentence} className="text-[13px] flex gap-2 mt-1">
          <span className="pt-0.5">
            <Mark of={plan.problem ? 'no' : 'remark'} />
          </span>
          {sentence}
        </p>
      ))}
      {trouble && <Trouble>{trouble}</Trouble>}
    </div>
  )
}

const faults = ({ level, mayFail, mayFailAtBest, problem }: ArrayPlan) =>
  problem ? '' : level === '0' ? 'no drive may fail' : `${mayFail} may fail${mayFailAtBest > mayFail ? `, ${mayFailAtBest} with luck` : ''}`

/** Usable, protection and what is left over, to scale; stores as parts of the usable. */
function ArrayBar({
  plan,
  scale,
  parts = [],
}: {
  plan: ArrayPlan
  scale: number
  parts?: readonly { id: string; name: string; bytes: number }[]
}) {
  const share = (bytes: number) => `${(bytes / scale) * 100}%`
  return (
    <div className="flex h-5 my-1.5 max-w-[760px]" aria-hidden>
      <div className="relative bg-accent-wash border border-accent overflow-hidden flex" style={{ width: share(plan.usable.value) }}>
        {parts.map(({ id, bytes }) => (
          <div
            key={id}
            className="bg-accent/70 border-r-2 border-paper h-full"
            style={{ width: `${(bytes / Math.max(plan.usable.value, 1)) * 100}%` }}
          />
        ))}
      </div>
      <div
        className="hatch border-y border-r border-rule bg-sand-wash"
        style={{ width: share(plan.protectionBytes), '--hatch': 'var(--sand)' } as React.CSSProperties}
      />
      <div className="border-y border-r border-dashed border-rule" style={{ width: share(plan.lostBytes) }} />
    </div>
  )
}

/** Drives of other sizes than most have: an array is seldom meant of them, so they are not chosen at first. */
function unlike(drives: readonly Drive[]): readonly string[] {
  const count = (bytes: number) => drives.filter(({ labelBytes }) => labelBytes === bytes).length
  const usual = [...drives].sort((a, b) => count(b.labelBytes) - count(a.labelBytes) || b.labelBytes - a.labelBytes)[0]?.labelBytes
  return drives.flatMap(({ id, labelBytes }) => (labelBytes === usual ? [] : [id]))
}

/** All levels side by side for the drives at hand, to one scale. */
function ArrayPlanner({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  const free = useMemo(() => drivesIn(estate, host).filter(({ use }) => use === 'unused'), [estate, host])
  const [left, setLeft] = useState<ReadonlySet<string>>(() => new Set(unlike(free)))
  const [spares, setSpares] = useState(0)
  const [name, setName] = useState('')
  const [paper, setPaper] = useState('')
  const list = readDriveList(paper)
  const isOnPaper = paper.trim() !== ''
  const chosen = free.filter(({ id }) => !left.has(id))
  const sizes = isOnPaper ? ('bytes' in list ? list.bytes : []) : chosen.map(({ labelBytes }) => labelBytes)
  const spareCount = Math.min(spares, Math.max(0, sizes.length - 1))
  const plans = arrayLevels.map((level) => planArray(sizes, level, spareCount))
  const scale = Math.max(1, ...plans.map((plan) => plan.members * plan.memberBytes + plan.lostBytes))
  const reading = inputValue(kinds.array.fields.name, name)
  const make = async (level: ArrayLevel) => {
    if (await record(commandsFor(host, name, level, chosen, spareCount), `Array ${name} at level ${level}`)) setName('')
  }
  return (
    <Part title="Plan an array">
      <div className="flex flex-wrap gap-x-6 gap-y-2 py-2 items-end">
        <fieldset className="flex flex-wrap gap-x-4 gap-y-1">
          <legend className="text-[13px] text-soft">Of the unused drives</legend>
          {free.length === 0 && <span className="text-[13px] text-faint min-h-6">none is unused here</span>}
          {free.map((drive) => (
            <label key={drive.id} className="inline-flex items-center gap-1.5 text-[13px] min-h-6">
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
        <label className="text-[13px]">
          <span className="block text-soft">Or on paper, as labels count</span>
          <input
            className="field font-mono !w-44"
            placeholder="4x4T 2x960G"
            value={paper}
            aria-invalid={'sentence' in list}
            onChange={(event) => setPaper(event.target.value)}
          />
        </label>
        <label className="text-[13px]">
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
        <label className="text-[13px]">
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
      <table className="ledger w-full text-[13px]">
        <thead>
          <tr>
            <th scope="col">level</th>
            <th scope="col" className="w-[38%]">
              usable, <span className="text-faint">protection hatched, unused dashed</span>
            </th>
            <th scope="col">usable</th>
            <th scope="col">may fail</th>
            <th scope="col">to mind</th>
            <th scope="col">
              <span className="sr-only">make it</span>
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
                  Make<span className="sr-only"> it at level {plan.level}</span>
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {'sentence' in list && <p className="text-error text-[13px]">{list.sentence}</p>}
      {name !== '' && 'sentence' in reading && <p className="text-error text-[13px]">{reading.sentence}</p>}
      {name === '' && !isOnPaper && (
        <p className="text-faint text-[13px]">
          Name the array to make it at a level. Making an array for real wipes its members: compare bays and serials first.
        </p>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}

/** The array with its members; the largest drives become spares, for a spare must be able to stand in for any member. */
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
