import type { ReactNode } from 'react'
import { BoardPage } from '../features/board/board-page'
import type { PlacePath } from '../lib/places'

/** What shows a place: at once, or fetched when it is first opened. */
type Shown = { readonly now: () => ReactNode } | { readonly load: () => Promise<() => ReactNode> }

/** The page of each place. A place without one, or a page without a place, does not compile. */
export const pages: { readonly [P in PlacePath]: Shown } = {
  board: { now: BoardPage },
  hosts: { load: async () => (await import('../features/hosts/hosts-page')).HostsPage },
  'hosts/new': { load: async () => (await import('../features/hosts/compose-host-page')).ComposeHostPage },
  'hosts/capacity': { load: async () => (await import('../features/placement/capacity-page')).CapacityPage },
  'hosts/releases': { load: async () => (await import('../features/hosts/releases-page')).ReleasesPage },
  'hosts/:id/hardware': { load: async () => (await import('../features/hosts/hardware-page')).HardwarePage },
  'hosts/:id/drives': { load: async () => (await import('../features/hosts/drives-page')).DrivesPage },
  'hosts/:id/ports': { load: async () => (await import('../features/hosts/ports-page')).PortsPage },
  'hosts/:id/build': { load: async () => (await import('../features/hosts/build-page')).BuildPage },
  'hosts/:id/found': { load: async () => (await import('../features/hosts/found-page')).FoundPage },
  'hosts/:id': { load: async () => (await import('../features/hosts/host-page')).HostPage },
  networks: { load: async () => (await import('../features/networks/networks-page')).NetworksPage },
  'networks/carried': { load: async () => (await import('../features/networks/carried-page')).CarriedPage },
  'networks/reach': { load: async () => (await import('../features/reach/reach-page')).ReachPage },
  'networks/plan': { load: async () => (await import('../features/addresses/plan-page')).PlanPage },
  'networks/names': { load: async () => (await import('../features/names/names-page')).NamesPage },
  'networks/macs': { load: async () => (await import('../features/names/macs-page')).MacsPage },
  'networks/:id': { load: async () => (await import('../features/networks/network-page')).NetworkPage },
  guests: { load: async () => (await import('../features/guests/guests-page')).GuestsPage },
  'guests/new': { load: async () => (await import('../features/compose/compose-guest-page')).ComposeGuestPage },
  'guests/order': { load: async () => (await import('../features/start-order/order-page')).OrderPage },
  'guests/sizes': { load: async () => (await import('../features/observations/sizes-page')).SizesPage },
  'guests/stores': { load: async () => (await import('../features/stores/stores-page')).StoresPage },
  'guests/stores/:id': { load: async () => (await import('../features/stores/store-page')).StorePage },
  'guests/images': { load: async () => (await import('../features/stores/images-page')).ImagesPage },
  'guests/exchange': { load: async () => (await import('../features/exchange/exchange-page')).ExchangePage },
  'guests/systems': { load: async () => (await import('../features/systems/systems-page')).SystemsPage },
  'guests/:id/install': { load: async () => (await import('../features/systems/install-page')).InstallPage },
  'guests/:id/found': { load: async () => (await import('../features/guests/found-page')).GuestFoundPage },
  'guests/:id/observed': { load: async () => (await import('../features/observations/observed-page')).ObservedPage },
  'guests/:id': { load: async () => (await import('../features/guests/guest-page')).GuestPage },
  'guests/:id/clone': { load: async () => (await import('../features/clones/clone-page')).ClonePage },
  'guests/:id/migrate': { load: async () => (await import('../features/migrations/migrate-page')).MigratePage },
  clones: { load: async () => (await import('../features/clones/clones-page')).ClonesPage },
  migrations: { load: async () => (await import('../features/migrations/migrations-page')).MigrationsPage },
  plans: { load: async () => (await import('../features/plans/plans-page')).PlansPage },
  'plans/import': { load: async () => (await import('../features/plans/import-plan-page')).ImportPlanPage },
  'plans/:id/run': { load: async () => (await import('../features/plans/run-page')).RunPage },
  'plans/:id': { load: async () => (await import('../features/plans/plan-page')).PlanPage },
  findings: { load: async () => (await import('../features/findings/findings-page')).FindingsPage },
  logbook: { load: async () => (await import('../features/logbook/logbook-page')).LogbookPage },
  setup: { load: async () => (await import('../features/setup/setup-page')).SetupPage },
  'records/:kind/new': { load: async () => (await import('../features/records/record-page')).NewRecordPage },
  'records/:kind/:id': { load: async () => (await import('../features/records/record-page')).EditRecordPage },
}
