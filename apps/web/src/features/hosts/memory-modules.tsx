import { alikeModules, formatMiB, moduleView, type Command, type Host, type ModuleView } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { ids } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../estate/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { AlikeLine } from './alike-line'
import { Mark } from '../../ui/mark'
import { Part, Trouble } from '../../ui/page'

export function Modules({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const view = moduleView(estate, host)
  const most = Math.max(1, ...view.slots.map(({ module }) => module?.sizeMiB ?? 0))
  const firstFree = view.slots.find(({ module }) => !module)?.slot ?? view.slots.length + 1
  return (
    <Part
      title="Memory"
      aside={
        <ButtonLink look="quiet" className="!min-h-7" to={to(`records/module/new?hostId=${host.id}&slot=${firstFree}`)}>
          Add module
        </ButtonLink>
      }
    >
      <p className="text-dense py-1">
        <b>{formatMiB(host.memoryMiB)} usable</b>
        {view.fittedMiB > 0 && `, ${formatMiB(view.fittedMiB)} fitted`}
        {view.plannedMiB > 0 && `, ${formatMiB(view.plannedMiB)} more planned`}
        {view.isSlotCountKnown ? `, ${view.free} of ${view.slots.length} slots free` : ', number of slots not recorded'}
      </p>
      {view.slots.length > 0 && (
        <ul className="flex flex-wrap gap-1.5 items-end py-1" aria-label="Memory slots">
          {view.slots.map(({ slot, module }) => (
            <li key={slot}>
              <Link
                to={module ? to(`records/module/${module.id}`) : to(`records/module/new?hostId=${host.id}&slot=${slot}`)}
                aria-label={`Slot ${slot}: ${module ? `${formatMiB(module.sizeMiB)}, ${module.state}` : 'free'}`}
                className={`flex flex-col justify-end w-[46px] border text-tiny leading-tight text-center hover:border-accent ${module ? (module.state === 'planned' ? 'border-dashed border-fill' : 'border-fill') : 'border-dashed border-rule text-faint'}`}
                style={{ height: 74 }}
              >
                <span className="px-0.5">{module ? formatMiB(module.sizeMiB).replace(' ', '\u2009') : 'free'}</span>
                <span
                  aria-hidden
                  className={module?.state === 'planned' ? 'hatch' : 'bg-fill/70'}
                  style={{ height: module ? 10 + (28 * module.sizeMiB) / most : 0 }}
                />
                <span className="bg-sheet border-t border-rule font-mono">{slot}</span>
              </Link>
            </li>
          ))}
        </ul>
      )}
      <AlikeLine
        label="Several modules alike"
        placeholder="4 x 16 GiB 3200 in 1,3,5,7"
        read={(text) => alikeModules(estate, host, text, ids)}
      />
      {view.plannedMiB > 0 && (
        <p className="text-dense py-1 flex gap-3 items-center">
          With what is planned about {formatMiB(host.memoryMiB + view.plannedMiB)} usable.
          <Button
            className="!min-h-7"
            onClick={() => void record(fitModules(host, view), `${formatMiB(view.plannedMiB)} fitted in ${host.name}`)}
          >
            Record as fitted
          </Button>
        </p>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
      {view.remarks.map((remark) => (
        <p key={remark} className="flex gap-2 text-dense py-0.5">
          <span className="pt-0.5">
            <Mark of="remark" />
          </span>
          {remark}
        </p>
      ))}
    </Part>
  )
}

/** Planned modules are in the machine, and what is usable grows by them. */
const fitModules = (host: Host, view: ModuleView): readonly Command[] => [
  ...view.slots.flatMap(({ module }): Command[] =>
    module?.state === 'planned' ? [{ type: 'module.update', id: module.id, changes: { state: 'fitted' } }] : [],
  ),
  { type: 'host.update', id: host.id, changes: { memoryMiB: host.memoryMiB + view.plannedMiB } },
]
