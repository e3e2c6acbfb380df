import { forecastStore, formatBytes, type Store, storeBudget } from '@insel/core'
import { useMemo, useState } from 'react'
import { useParams } from 'react-router'
import { useEstate } from '../../estate'
import { useDaily } from '../observations/observed'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { FigureView } from '../figures/figure-view'
import { Page, Part } from '../../ui/page'
import { RemovedPage } from '../records/removed'
import { Tick } from '../../ui/tick'
import { FindingsOf } from '../findings/findings-of'
import { GuestsNav } from '../frames/guests-nav'
import { IfAllFill } from '../figures/if-all-fill'
import { StoreBar } from './store-bar'
import { placeOf } from './store-place'
import { DisksOn, Drivers } from './store-disks'
import { DiffersNote } from '../proposals/differs-note'
import { Filling, TakeOver } from './store-filling'

/** One store: what it holds and promised, how it filled and when it is full, who drives it, and every disk on it. */
export function StorePage() {
  const { id = '' } = useParams()
  const { estate } = useEstate()
  const { to } = usePaths()
  const store = estate.find('store', id)
  if (!store) return <RemovedPage kind="store" id={id} />
  return (
    <Page
      title={store.name}
      of={store.id}
      about={
        <>
          Store, {placeOf(store, (hostId) => estate.find('host', hostId)?.name)}
          {store.servedById && `, served by ${estate.find('guest', store.servedById)?.name ?? ''}`}
          <GuestsNav />
        </>
      }
      actions={<ButtonLink to={to(`records/store/${store.id}`)}>Change</ButtonLink>}
    >
      <DiffersNote of={store.id} />
      <StoreBody key={store.id} store={store} />
    </Page>
  )
}

function StoreBody({ store }: { store: Store }) {
  const { estate } = useEstate()
  const daily = useDaily(store.id)
  const budget = storeBudget(estate, store)
  const forecast = useMemo(() => (daily.data ? forecastStore(estate, store, daily.data) : undefined), [estate, store, daily.data])
  const [isFilled, setFilled] = useState(false)
  const used = isFilled ? (forecast?.allFilledBytes ?? budget.promised.value) : budget.used.value
  return (
    <div className="beside [--beside:360px]">
      <div>
        <Part
          title="Now"
          aside={
            <label className="inline-flex items-center gap-2 text-dense">
              <Tick
                isTicked={isFilled}
                onTick={(ticked) => {
                  setFilled(ticked)
                  return Promise.resolve()
                }}
              />
              If every thin disk filled up
            </label>
          }
        >
          <div className="py-2">
            <StoreBar store={store} used={used} held={isFilled ? 0 : budget.held.value} promised={budget.promised.value} />
          </div>
          <p className="text-dense flex flex-wrap gap-x-6" aria-live="polite">
            <span>
              Used <FigureView figure={budget.used} title={`Used on ${store.name}`} />
            </span>
            <span>
              {budget.held.value > 0 && (
                <>
                  Held for moves <FigureView figure={budget.held} title={`Held on ${store.name}`} />
                </>
              )}
            </span>
            <span>
              Promised <FigureView figure={budget.promised} title={`Promised by ${store.name}`} />
            </span>
            <span>Free {formatBytes(budget.freeBytes)}</span>
            <span>
              If every thin disk fills up <IfAllFill store={store} exposure={budget.exposure} />
            </span>
            {isFilled && (
              <b className={used > store.capacityBytes ? 'text-error' : ''}>
                {used > store.capacityBytes
                  ? `All filled: short of ${formatBytes(used - store.capacityBytes)}.`
                  : `All filled: ${formatBytes(store.capacityBytes - used)} left.`}
              </b>
            )}
          </p>
        </Part>
        <Part title="Growth">{forecast ? <Filling store={store} forecast={forecast} /> : <p className="text-faint py-1">Looking…</p>}</Part>
        <DisksOn store={store} />
      </div>
      <div>
        {forecast && <Drivers forecast={forecast} />}
        {forecast && <TakeOver store={store} forecast={forecast} />}
        <FindingsOf ids={[store.id]} />
      </div>
    </div>
  )
}
