import { formatBytes, type Host, storeBudget, storesOf } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { FigureView } from '../figures/figure-view'
import { Ledger } from '../../ui/ledger'
import { Part } from '../../ui/page'
import { FindingsOf } from '../findings/findings-of'
import { History } from '../logbook/history'
import { IfAllFill } from '../figures/if-all-fill'
import { HostFrame } from './host-frame'
import { Addresses } from './host-addresses'
import { Budgets, withoutPlanned } from './host-budgets'
import { Guests } from './host-guests'
import { Networks } from './host-networks'
import { Differs } from '../../ui/differs'

/** One host: its budgets with their working, its stores, networks, guests, addresses, findings and history. */
export function HostPage() {
  const { to } = usePaths()
  return (
    <HostFrame
      actions={(host) => (
        <>
          <ButtonLink look="primary" to={to(`guests/new?line=${encodeURIComponent(` on ${host.name}`)}`)}>
            Add guest here
          </ButtonLink>
          <ButtonLink to={to(`hosts/new?like=${host.id}`)}>Another like it</ButtonLink>
          <ButtonLink to={to(`records/host/${host.id}`)}>Change</ButtonLink>
        </>
      )}
    >
      {(host) => <Overview host={host} />}
    </HostFrame>
  )
}

function Overview({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const stores = storesOf(estate, host.id)
  const unplanned = withoutPlanned(estate, host.id)
  return (
    <div className="beside">
      <div>
        <Budgets host={host} unplanned={unplanned} />
        <Guests host={host} />
        <Part
          title="Stores"
          aside={
            <ButtonLink look="quiet" className="!min-h-7" to={to(`records/store/new?hostId=${host.id}`)}>
              Add store
            </ButtonLink>
          }
        >
          {stores.length === 0 ? (
            <p className="text-soft py-1">None of its own.</p>
          ) : (
            <Ledger headings={['name', 'kind', 'used', 'promised', 'capacity', 'if every thin disk fills up']}>
              {stores.map((store) => {
                const budget = storeBudget(estate, store)
                const promisedToday = unplanned && storeBudget(unplanned.today, store).promised.value
                return (
                  <tr key={store.id}>
                    <td>
                      <Link className="font-mono name-link" to={to(`guests/stores/${store.id}`)}>
                        {store.name}
                      </Link>
                      <Differs id={store.id} className="ml-1.5" />
                    </td>
                    <td>{store.kind}</td>
                    <td>
                      <FigureView figure={budget.used} title={`Used on ${store.name}`}>
                        {formatBytes(budget.used.value)}
                      </FigureView>
                      {budget.held.value > 0 && <span className="text-soft"> and {formatBytes(budget.held.value)} held for moves</span>}
                    </td>
                    <td>
                      <FigureView figure={budget.promised} title={`Promised by ${store.name}`}>
                        {formatBytes(budget.promised.value)}
                      </FigureView>
                      {promisedToday !== undefined && promisedToday !== budget.promised.value && (
                        <span className="text-soft"> ({formatBytes(promisedToday)} today)</span>
                      )}
                    </td>
                    <td>{formatBytes(store.capacityBytes)}</td>
                    <td>
                      <IfAllFill store={store} exposure={budget.exposure} />
                    </td>
                  </tr>
                )
              })}
            </Ledger>
          )}
        </Part>
        <History id={host.id} writesAbout="host" />
      </div>
      <div>
        <FindingsOf ids={[host.id, ...stores.map((store) => store.id)]} />
        <Networks host={host} />
        <Addresses host={host} />
        <Part title="Identity">
          <dl className="facts [--label:150px] gap-y-1 text-dense py-1">
            <dt className="text-faint">Management MAC</dt>
            <dd className="font-mono">{host.managementMac ?? 'not recorded'}</dd>
            <dt className="text-faint">Certificate fingerprint</dt>
            <dd className="font-mono break-all">{host.fingerprint ?? 'not recorded'}</dd>
            <dt className="text-faint">Trial or licence ends</dt>
            <dd>{host.trialEndsOn ?? 'not recorded'}</dd>
          </dl>
        </Part>
      </div>
    </div>
  )
}
