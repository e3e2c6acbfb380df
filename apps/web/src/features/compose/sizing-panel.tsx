import { GROWTH_MONTHS, policyOf, sizeFor, sizingSchools, workloadsOf, type Sizing, type SizingSchool, type System } from '@insel/core'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { Button } from '../../ui/button'
import { FigureView } from '../figures/figure-view'

const says: Readonly<Record<SizingSchool, string>> = {
  'start small': `everyday use, then adjust as measured; ${GROWTH_MONTHS['start small']} months of growth`,
  'for the peak': `its highest use; ${GROWTH_MONTHS['for the peak']} months of growth`,
}

/** Works out a size from what the guest is for; taking it fills the fields. */
export function SizingPanel({
  system,
  workload,
  take,
}: {
  system: System | undefined
  workload: string
  take: (sizing: Sizing, workload: string) => void
}) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const profiles = useMemo(() => workloadsOf(estate), [estate])
  const [name, setName] = useState(workload)
  const [school, setSchool] = useState<SizingSchool>('start small')
  const profile = profiles.find((one) => one.name === name)
  const sizing = profile ? sizeFor(system, profile, school, policyOf(estate).sizeHeadroomPercent) : undefined
  return (
    <section className="mt-5" aria-label="Size by workload">
      <h2 className="mb-1">Size by workload</h2>
      <div className="flex flex-wrap gap-x-4 gap-y-2 items-center text-dense">
        <label className="inline-flex items-center gap-2">
          For
          <select className="field !w-44" aria-label="What it is for" value={name} onChange={(event) => setName(event.target.value)}>
            <option value="">choose a workload…</option>
            {profiles.map((one) => (
              <option key={one.name}>{one.name}</option>
            ))}
          </select>
        </label>
        <fieldset className="flex flex-wrap gap-x-4">
          <legend className="sr-only">Sizing method</legend>
          {sizingSchools.map((one) => (
            <label key={one} className="inline-flex items-center gap-1.5" title={says[one]}>
              <input
                type="radio"
                name="school"
                className="accent-[var(--accent)]"
                checked={school === one}
                onChange={() => setSchool(one)}
              />
              {one}
            </label>
          ))}
        </fieldset>
        <Link className="link target" to={to('guests/systems')}>
          Profiles and systems
        </Link>
      </div>
      {sizing && profile && (
        <div className="flex flex-wrap gap-x-5 gap-y-1 items-center text-dense mt-2 border-l-2 border-sand pl-3" aria-live="polite">
          <FigureView figure={sizing.vcpu} title="Processors" />
          <FigureView figure={sizing.memory} title="Memory" />
          {sizing.disks.map(({ use, size }) => (
            <span key={use}>
              {use} <FigureView figure={size} title={`Disk for ${use}`} />
            </span>
          ))}
          <span className="text-soft">{says[school]}</span>
          <Button className="!min-h-7" onClick={() => take(sizing, profile.name)}>
            Use this size
          </Button>
        </div>
      )}
    </section>
  )
}
