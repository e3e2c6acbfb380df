/** A page of the estate. Everything that lists pages follows from this: routes, sections, the command field; `place-views.ts` has what checks and pictures look at. */
export interface Place {
  /** Its path within the estate, as the router reads it. */
  readonly path: string
  /** The section it belongs to: the first part of the path says so, too. */
  readonly section: string
  /** The section's name in the bar and the key that goes there after `g`, where this is its first page. */
  readonly leads?: { readonly label: string; readonly key: string }
  /** What `n` adds here and in the rest of the section. */
  readonly adds?: string
  /** Whether, on a wide screen, it stays beside a thing of it: one of the paths that go on with `/:id`. */
  readonly hasPanes?: true
  /** What the command field calls it; its words are searched. Nothing where one gets there from a thing alone. */
  readonly find?: string
}

export const places = [
  {
    path: 'board',
    section: 'board',
    leads: { label: 'Board', key: 'b' },
    adds: 'guests/new',
  },
  {
    path: 'hosts',
    section: 'hosts',
    leads: { label: 'Hosts', key: 'h' },
    adds: 'hosts/new',
    hasPanes: true,
  },
  { path: 'hosts/new', section: 'hosts', find: 'Add host' },
  {
    path: 'hosts/capacity',
    section: 'hosts',
    find: 'Capacity: what still fits, which host could fail',
  },
  { path: 'hosts/releases', section: 'hosts', find: 'Release compatibility' },
  { path: 'hosts/:id/hardware', section: 'hosts' },
  { path: 'hosts/:id/drives', section: 'hosts' },
  { path: 'hosts/:id/ports', section: 'hosts' },
  { path: 'hosts/:id/build', section: 'hosts' },
  { path: 'hosts/:id/found', section: 'hosts' },
  { path: 'hosts/:id', section: 'hosts' },
  {
    path: 'networks',
    section: 'networks',
    leads: { label: 'Networks', key: 'n' },
    adds: 'records/network/new',
    hasPanes: true,
  },
  { path: 'networks/carried', section: 'networks', find: 'Networks by host' },
  {
    path: 'networks/reach',
    section: 'networks',
    find: 'Reachability: who reaches whom',
  },
  {
    path: 'networks/plan',
    section: 'networks',
    find: 'Plan segments in a block',
  },
  { path: 'networks/names', section: 'networks', find: 'DNS: zone files, hosts lines, DHCP reservations' },
  { path: 'networks/macs', section: 'networks', find: 'MAC addresses' },
  {
    path: 'networks/:id',
    section: 'networks',
  },
  {
    path: 'guests',
    section: 'guests',
    leads: { label: 'Guests', key: 'g' },
    adds: 'guests/new',
    hasPanes: true,
  },
  {
    path: 'guests/new',
    section: 'guests',
    find: 'Add guest',
  },
  {
    path: 'guests/order',
    section: 'guests',
    find: 'Start and stop order of guests',
  },
  {
    path: 'guests/sizes',
    section: 'guests',
    find: 'Right sizes from what was measured',
  },
  { path: 'guests/stores', section: 'guests', find: 'Stores: what they hold and when they are full', hasPanes: true },
  { path: 'guests/stores/:id', section: 'guests' },
  { path: 'guests/images', section: 'guests', find: 'Image library' },
  { path: 'guests/exchange', section: 'guests', find: 'Import and export: workbooks, tables, OVF, CSV, JSON, other tools' },
  { path: 'guests/systems', section: 'guests', find: 'Systems and workload profiles' },
  { path: 'guests/:id/install', section: 'guests' },
  { path: 'guests/:id/found', section: 'guests' },
  { path: 'guests/:id/observed', section: 'guests' },
  { path: 'guests/:id', section: 'guests' },
  { path: 'guests/:id/clone', section: 'guests' },
  { path: 'guests/:id/template', section: 'guests' },
  { path: 'guests/:id/first-boot', section: 'guests' },
  { path: 'guests/:id/migrate', section: 'guests' },
  { path: 'clones', section: 'clones', leads: { label: 'Clones', key: 'c' } },
  { path: 'clones/:id', section: 'clones' },
  { path: 'migrations', section: 'migrations', leads: { label: 'Migrations', key: 'm' }, adds: 'migrations/machine' },
  { path: 'migrations/history', section: 'migrations', find: 'History of migrations: planned against actual' },
  { path: 'migrations/machine', section: 'migrations', find: 'Add physical machine' },
  { path: 'migrations/:id', section: 'migrations' },
  { path: 'plans', section: 'plans', leads: { label: 'Plans', key: 'p' }, adds: 'records/plan/new', hasPanes: true },
  { path: 'plans/import', section: 'plans', find: 'Import plan' },
  { path: 'plans/:id/run', section: 'plans' },
  { path: 'plans/:id', section: 'plans' },
  { path: 'findings', section: 'findings', leads: { label: 'Findings', key: 'f' } },
  { path: 'logbook', section: 'logbook', leads: { label: 'Logbook', key: 'l' } },
  { path: 'setup', section: 'setup', find: 'Change the policies' },
  { path: 'records/:kind/new', section: 'records' },
  { path: 'records/:kind/:id', section: 'records' },
] as const satisfies readonly Place[]

export type PlacePath = (typeof places)[number]['path']

/** The same, to be gone through. */
export const allPlaces: readonly Place[] = [...places]

/** The sections, in the order of the work, with the key that goes there after `g`. */
export const sections = allPlaces.flatMap(({ path, leads }) => (leads ? [{ path, ...leads }] : []))
