import { arrayOf, type ArrayPlan, type Drive, type DriveArray, drivesOf, formatBytes, type Host, kinds, uncutBytes } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { FigureView } from '../figures/figure-view'
import { Mark } from '../../ui/mark'
import { Trouble } from '../../ui/page'
import { useLine } from '../../ui/use-line'
import { inputValue } from '../records/field-text'

export function ArrayView({ host, array, editTo }: { host: Host; array: DriveArray; editTo: string }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const plan = arrayOf(estate, array)
  const stores = estate.referring('store', 'arrayId', array.id)
  const uncut = uncutBytes(estate, array)
  // Capacities are rounded when they are recorded: what that leaves over is no room for a store.
  const isWorthCutting = uncut > plan.usable.value / 100
  const { text: name, setText: setName, give } = useLine()
  const reading = inputValue(kinds.store.fields.name, name)
  const cut = async () => {
    if ('value' in reading)
      await give(() => record([{ type: 'store.add', record: { name, hostId: host.id, arrayId: array.id, capacityBytes: uncut } }]))
  }
  return (
    <div className="py-2.5 border-t border-line first:border-0">
      <p className="flex flex-wrap gap-x-4 gap-y-2 items-baseline mb-1">
        <Link className="font-bold name-link" to={editTo}>
          {array.name}
        </Link>
        <span>level {array.level}</span>
        <span className="text-soft text-dense">
          bays{' '}
          {drivesOf(estate, array)
            .map(({ position, use }) => `${position}${use === 'spare' ? ' (spare)' : ''}`)
            .join(', ') || 'none yet'}
        </span>
        <FigureView figure={plan.usable} title={`Usable in ${array.name}`}>
          {formatBytes(plan.usable.value)} usable
        </FigureView>
        <span className="text-soft text-dense">{faults(plan)}</span>
      </p>
      <ArrayBar
        plan={plan}
        scale={Math.max(plan.members * plan.memberBytes + plan.lostBytes, 1)}
        parts={stores.map(({ id, name: store, capacityBytes }) => ({ id, name: store, bytes: capacityBytes }))}
      />
      <p className="text-dense flex flex-wrap gap-x-4 gap-y-1 items-center">
        {stores.map((store) => (
          <Link key={store.id} className="font-mono name-link" to={to(`guests/stores/${store.id}`)}>
            {store.name} {formatBytes(store.capacityBytes)}
          </Link>
        ))}
        {isWorthCutting ? <span className="text-soft">{formatBytes(uncut)} unallocated</span> : null}
        {uncut < 0 ? <span className="text-error font-medium">stores take {formatBytes(-uncut)} too much</span> : null}
        {isWorthCutting && (
          <span className="inline-flex gap-2 items-center">
            <input
              className="field font-mono !w-32 !min-h-7"
              aria-label={`Name of a new store in ${array.name}`}
              placeholder="store name"
              value={name}
              aria-invalid={name !== '' && 'sentence' in reading}
              onChange={(event) => setName(event.target.value)}
            />
            <Button className="!min-h-7" disabled={!('value' in reading)} onClick={() => void cut()}>
              Add store
            </Button>
          </span>
        )}
      </p>
      {[plan.problem, ...plan.cautions].filter(Boolean).map((sentence) => (
        <p key={sentence} className="text-dense flex gap-2 mt-1">
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

export const faults = ({ level, mayFail, mayFailAtBest, problem }: ArrayPlan) =>
  problem ? '' : level === '0' ? 'no drive may fail' : `${mayFail} may fail${mayFailAtBest > mayFail ? `, ${mayFailAtBest} with luck` : ''}`

/** Usable, protection and what is left over, to scale; stores as parts of the usable. */
export function ArrayBar({
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
export function unlike(drives: readonly Drive[]): readonly string[] {
  const count = (bytes: number) => drives.filter(({ labelBytes }) => labelBytes === bytes).length
  const usual = [...drives].sort((a, b) => count(b.labelBytes) - count(a.labelBytes) || b.labelBytes - a.labelBytes)[0]?.labelBytes
  return drives.flatMap(({ id, labelBytes }) => (labelBytes === usual ? [] : [id]))
}
