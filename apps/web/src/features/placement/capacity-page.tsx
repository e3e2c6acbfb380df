import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { Empty, Page } from '../../ui/page'
import { Circuits } from './circuits'
import { Failover } from './failover-view'
import { WhatFits } from './what-fits'

/** What still fits, which host could fail, and what the circuits carry, over the whole estate. */
export function CapacityPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  if (estate.count('host') === 0)
    return (
      <Page title="Capacity">
        <Empty
          action={
            <ButtonLink look="primary" to={to('hosts/new')}>
              Add host
            </ButtonLink>
          }
        >
          No host is recorded yet. Add the first one to see what fits on it and what happens if it fails.
        </Empty>
      </Page>
    )
  return (
    <Page title="Capacity" about="What still fits, which host could fail, and the load of each circuit.">
      <WhatFits />
      <Failover />
      <Circuits />
    </Page>
  )
}
