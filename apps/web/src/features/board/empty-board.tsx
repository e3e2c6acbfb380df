import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { Empty, Page } from '../../ui/page'

/** An estate without a host: the ways in. */
export function EmptyBoard() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const hasPlatform = estate.count('platform') > 0
  return (
    <Page title="Board">
      <Empty
        action={
          <>
            {!hasPlatform && (
              <ButtonLink look="primary" to={to('records/platform/new')}>
                Add platform
              </ButtonLink>
            )}
            <ButtonLink look={hasPlatform ? 'primary' : 'plain'} to={to('hosts/new')}>
              Add host
            </ButtonLink>
            <ButtonLink to={to('guests/exchange')}>Import tables</ButtonLink>
            <ButtonLink to={to('networks/plan')}>Plan segments in a block</ButtonLink>
          </>
        }
      >
        The board draws every host to one scale, with its guests as blocks. Nothing is recorded yet: start with the platform your hosts run,
        then add the first host; or import a spreadsheet of hosts, guests, networks and addresses, or plan the segments of an address block.
      </Empty>
    </Page>
  )
}
