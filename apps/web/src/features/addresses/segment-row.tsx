import { formatNumber, type BlockPlan, type Network } from '@insel/core'
import { Button } from '../../ui/button'
import { type SegmentRow, roles } from './sketch'

export const columns =
  'grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)_76px] sm:grid-cols-[minmax(90px,1fr)_132px_64px_64px_64px_76px] gap-1.5 items-center text-dense'

export function SegmentRowView({
  draft,
  problem,
  placed,
  onChange,
  onRemove,
}: {
  draft: SegmentRow
  problem: string | undefined
  placed: BlockPlan['segments'][number] | undefined
  onChange: (changes: Partial<SegmentRow>) => void
  onRemove: () => void
}) {
  const of = draft.name || 'the new segment'
  const field = 'field !min-h-7 !py-0.5'
  return (
    <li className="border-t border-line first:border-0 py-2">
      <div className={columns}>
        <input
          className={field}
          aria-label={`Name of ${of}`}
          placeholder="name"
          value={draft.name}
          onChange={(event) => onChange({ name: event.target.value })}
        />
        <select
          className={field}
          aria-label={`Role of ${of}`}
          value={draft.role}
          onChange={(event) => onChange({ role: event.target.value as Network['role'] })}
        >
          {roles.map((role) => (
            <option key={role}>{role}</option>
          ))}
        </select>
        <input
          className={field}
          aria-label={`Machines on ${of}`}
          title="machines"
          inputMode="numeric"
          value={draft.machines}
          onChange={(event) => onChange({ machines: event.target.value })}
        />
        <input
          className={field}
          aria-label={`Growth of ${of}, percent`}
          title="growth, percent"
          inputMode="numeric"
          value={draft.growth}
          onChange={(event) => onChange({ growth: event.target.value })}
        />
        <input
          className={field}
          aria-label={`VLAN of ${of}`}
          title="VLAN ID"
          inputMode="numeric"
          placeholder={placed ? String(placed.vlanId) : 'VLAN'}
          value={draft.vlan}
          onChange={(event) => onChange({ vlan: event.target.value })}
        />
        <Button look="quiet" className="!min-h-7" aria-label={`Remove ${of}`} onClick={onRemove}>
          Remove
        </Button>
      </div>
      {problem ? (
        <p className="text-error text-dense mt-1">{problem}</p>
      ) : (
        placed && (
          <p className="text-small text-soft mt-1">
            <span className="font-mono text-ink">{placed.prefix.text}</span>, VLAN {placed.vlanId},{' '}
            {placed.gateway ? `gateway ${placed.gateway}` : 'no gateway'}
            {placed.pool && `, DHCP range from ${placed.pool.first}`}. {draft.machines} machines and {draft.growth} % make{' '}
            {formatNumber(placed.needed, 0)}; room for {formatNumber(placed.room, 0)} more.{' '}
            {draft.prefix && (
              <Button look="quiet" className="!min-h-7 !px-0" onClick={() => onChange({ prefix: '' })}>
                Place it automatically
              </Button>
            )}
          </p>
        )
      )}
    </li>
  )
}
