import { summaryDays, type Guest } from '@insel/core'
import { useSamples, useSummaries } from './observed'
import { useQueryParam } from '../../lib/query-param'
import { Part, Trouble, Waiting } from '../../ui/page'
import { GuestFrame } from '../frames/guest-frame'
import { ImportObservations } from './import-observations'
import { Advised } from './advised'
import { Charts } from './observed-charts'
import { Observer } from './observer'
import { TypeOne } from './type-one'

/** What was measured of a guest, what size follows from it, and how more comes in. */
export function ObservedPage() {
  return <GuestFrame>{(guest) => <Observed key={guest.id} guest={guest} />}</GuestFrame>
}

function Observed({ guest }: { guest: Guest }) {
  const [chosenDays, setDays] = useQueryParam('days')
  const days = summaryDays.find((one) => String(one) === chosenDays) ?? 30
  const samples = useSamples(guest.id, days)
  const summaries = useSummaries(days)
  // All at once: what comes later would push away what one is about to press.
  if (samples.isPending || summaries.isPending) return <Waiting what="what was observed" />
  return (
    <div className="beside">
      <div>
        <Part
          title="Measured"
          aside={
            <label className="inline-flex items-center gap-2 text-dense">
              Over
              <select className="field !w-28 !min-h-7" value={days} onChange={(event) => setDays(event.target.value)}>
                {summaryDays.map((one) => (
                  <option key={one} value={one}>
                    {one} days
                  </option>
                ))}
              </select>
            </label>
          }
        >
          {samples.isError && <Trouble>{samples.error.message}</Trouble>}
          {samples.data?.length === 0 && (
            <p className="text-soft py-1">No observations yet. It can be typed, pasted, imported, or sent by the guest itself.</p>
          )}
          {samples.data && samples.data.length > 0 && <Charts guest={guest} samples={samples.data} />}
        </Part>
        <ImportObservations guest={guest} />
      </div>
      <div>
        <Advised guest={guest} days={days} />
        <TypeOne guest={guest} />
        <Observer guest={guest} />
      </div>
    </div>
  )
}
