import { Page } from '../../ui/page'
import { GuestsNav } from '../frames/guests-nav'
import { OvfIn } from './ovf-in'
import { Out } from './out'
import { TablesIn } from './tables-in'
import { WholeEstate } from './whole-estate'

/** Guests in open formats, out and in: descriptors, tables, sheets, and the whole estate. */
export function ExchangePage() {
  return (
    <Page
      title="Import and export"
      about={
        <>
          Open formats: OVF descriptors (DMTF DSP0243), workbooks (Office Open XML), CSV (RFC 4180), Markdown, and the whole estate as JSON.
          <GuestsNav />
        </>
      }
    >
      <TablesIn />
      <div className="grid lg:grid-cols-2 gap-x-10">
        <div>
          <Out />
          <WholeEstate />
        </div>
        <div>
          <OvfIn />
        </div>
      </div>
    </Page>
  )
}
