import { modeReach, type DeviceMend, type DeviceRemark, type Host } from '@insel/core'
import { useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { Mark } from '../../ui/mark'
import { Part } from '../../ui/page'

/** What will bite of the devices, each with what works instead and a press that takes it. */
export function DeviceRemarks({ remarks, take }: { remarks: readonly DeviceRemark[]; take: (mend: DeviceMend) => void }) {
  if (remarks.length === 0) return null
  return (
    <Part title="Devices and system">
      <ul aria-live="polite">
        {remarks.map(({ severity, sentence, remedy, mend }) => (
          <li key={sentence} className="flex gap-2 items-baseline py-1.5 border-t border-line first:border-0 text-dense">
            <Mark of={severity} />
            <span className="min-w-0 flex-1">
              {sentence} <span className="text-soft">{remedy}</span>
            </span>
            {mend && (
              <Button className="!min-h-7" onClick={() => take(mend)}>
                Apply<span className="sr-only">: {remedy}</span>
              </Button>
            )}
          </li>
        ))}
      </ul>
    </Part>
  )
}

/** What each processor mode costs in moves, from the host it is to run on. */
export function ModeCosts({ host, mode }: { host: Host; mode: string }) {
  const { estate } = useEstate()
  const reach = modeReach(host, estate.all('host'))
  return (
    <ul className="text-small text-soft mt-1 grid gap-0.5" aria-label="Live migration by processor mode">
      {reach.map((one) => (
        <li key={one.mode} className={one.mode === mode ? 'text-ink' : ''}>
          <span className="font-mono">{one.mode}</span>: {one.cost}. Live to{' '}
          {one.hosts.length > 0 ? one.hosts.map(({ name }) => name).join(', ') : 'no other host'}
          {one.unknown.length > 0 && `; not known for ${one.unknown.map(({ name }) => name).join(', ')}`}
        </li>
      ))}
    </ul>
  )
}
