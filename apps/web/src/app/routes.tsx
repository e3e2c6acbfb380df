import { createBrowserRouter, type RouteObject } from 'react-router'
import { Broken } from './broken'
import { EstatePage } from './estate-page'
import { FirstPage } from './first-page'
import { BoardPage } from '../features/board/board-page'

type PageModule = Record<string, () => React.ReactNode>
/** A page that is fetched when it is first opened. */
const page = (path: string, load: () => Promise<PageModule>, name: string): RouteObject => ({
  path,
  lazy: async () => ({ Component: (await load())[name] }),
})

const inEstate: RouteObject[] = [
  { index: true, Component: BoardPage },
  { path: 'board', Component: BoardPage },
  page('hosts', () => import('../features/hosts/hosts-page'), 'HostsPage'),
  page('hosts/new', () => import('../features/hosts/compose-host-page'), 'ComposeHostPage'),
  page('hosts/capacity', () => import('../features/placement/capacity-page'), 'CapacityPage'),
  page('hosts/releases', () => import('../features/hosts/releases-page'), 'ReleasesPage'),
  page('hosts/:id/hardware', () => import('../features/hosts/hardware-page'), 'HardwarePage'),
  page('hosts/:id/drives', () => import('../features/hosts/drives-page'), 'DrivesPage'),
  page('hosts/:id/ports', () => import('../features/hosts/ports-page'), 'PortsPage'),
  page('hosts/:id/build', () => import('../features/hosts/build-page'), 'BuildPage'),
  page('hosts/:id/found', () => import('../features/hosts/found-page'), 'FoundPage'),
  page('hosts/:id', () => import('../features/hosts/host-page'), 'HostPage'),
  page('networks', () => import('../features/networks/networks-page'), 'NetworksPage'),
  page('networks/carried', () => import('../features/networks/carried-page'), 'CarriedPage'),
  page('networks/reach', () => import('../features/reach/reach-page'), 'ReachPage'),
  page('networks/plan', () => import('../features/addresses/plan-page'), 'PlanPage'),
  page('networks/names', () => import('../features/names/names-page'), 'NamesPage'),
  page('networks/macs', () => import('../features/names/macs-page'), 'MacsPage'),
  page('networks/:id', () => import('../features/networks/network-page'), 'NetworkPage'),
  page('guests', () => import('../features/guests/guests-page'), 'GuestsPage'),
  page('guests/new', () => import('../features/compose/compose-guest-page'), 'ComposeGuestPage'),
  page('guests/order', () => import('../features/start-order/order-page'), 'OrderPage'),
  page('guests/sizes', () => import('../features/observations/sizes-page'), 'SizesPage'),
  page('guests/stores', () => import('../features/stores/stores-page'), 'StoresPage'),
  page('guests/stores/:id', () => import('../features/stores/store-page'), 'StorePage'),
  page('guests/images', () => import('../features/stores/images-page'), 'ImagesPage'),
  page('guests/exchange', () => import('../features/exchange/exchange-page'), 'ExchangePage'),
  page('guests/systems', () => import('../features/systems/systems-page'), 'SystemsPage'),
  page('guests/:id/install', () => import('../features/systems/install-page'), 'InstallPage'),
  page('guests/:id/found', () => import('../features/guests/found-page'), 'GuestFoundPage'),
  page('guests/:id/observed', () => import('../features/observations/observed-page'), 'ObservedPage'),
  page('guests/:id', () => import('../features/guests/guest-page'), 'GuestPage'),
  page('guests/:id/clone', () => import('../features/clones/clone-page'), 'ClonePage'),
  page('guests/:id/migrate', () => import('../features/migrations/migrate-page'), 'MigratePage'),
  page('clones', () => import('../features/clones/clones-page'), 'ClonesPage'),
  page('migrations', () => import('../features/migrations/migrations-page'), 'MigrationsPage'),
  page('findings', () => import('../features/findings/findings-page'), 'FindingsPage'),
  page('logbook', () => import('../features/logbook/logbook-page'), 'LogbookPage'),
  page('setup', () => import('../features/setup/setup-page'), 'SetupPage'),
  page('records/:kind/new', () => import('../features/records/record-page'), 'NewRecordPage'),
  page('records/:kind/:id', () => import('../features/records/record-page'), 'EditRecordPage'),
]

export const router = createBrowserRouter([
  { path: '/', Component: FirstPage, ErrorBoundary: Broken },
  { path: '/estates/:estateId', Component: EstatePage, ErrorBoundary: Broken, children: inEstate },
  { path: '*', Component: Broken },
])
