/** A page of the estate. Everything that lists pages follows from this: routes, sections, the command field, checks, pictures. */
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
  /** Views of it in the demo that the checks look at; `{guest:sound-gate}` stands for that guest's id. */
  readonly views: readonly string[]
  /** Pictures of it in the documentation. */
  readonly pictures?: readonly string[]
}

export const places = [
  {
    path: 'board',
    section: 'board',
    leads: { label: 'Board', key: 'b' },
    adds: 'guests/new',
    views: ['board'],
    pictures: ['board', 'board-drag', 'board-plan-dark'],
  },
  {
    path: 'hosts',
    section: 'hosts',
    leads: { label: 'Hosts', key: 'h' },
    adds: 'hosts/new',
    hasPanes: true,
    views: ['hosts', 'hosts?group=site&columns=name,level,circuit'],
    pictures: ['hosts'],
  },
  { path: 'hosts/new', section: 'hosts', find: 'Add host', views: ['hosts/new'] },
  {
    path: 'hosts/capacity',
    section: 'hosts',
    find: 'Capacity: what still fits, which host could fail',
    views: ['hosts/capacity'],
    pictures: ['capacity'],
  },
  { path: 'hosts/releases', section: 'hosts', find: 'Which hosts can take a release', views: ['hosts/releases'] },
  { path: 'hosts/:id/hardware', section: 'hosts', views: ['hosts/{host:kittiwake}/hardware'] },
  { path: 'hosts/:id/drives', section: 'hosts', views: ['hosts/{host:kittiwake}/drives', 'hosts/{host:gannet}/drives'] },
  { path: 'hosts/:id/ports', section: 'hosts', views: ['hosts/{host:kittiwake}/ports'] },
  { path: 'hosts/:id/build', section: 'hosts', views: ['hosts/{host:kittiwake}/build'], pictures: ['host-build'] },
  { path: 'hosts/:id/found', section: 'hosts', views: ['hosts/{host:kittiwake}/found'], pictures: ['host-found'] },
  { path: 'hosts/:id', section: 'hosts', views: ['hosts/{host:puffin}'], pictures: ['host'] },
  {
    path: 'networks',
    section: 'networks',
    leads: { label: 'Networks', key: 'n' },
    adds: 'records/network/new',
    hasPanes: true,
    views: ['networks'],
  },
  { path: 'networks/carried', section: 'networks', find: 'Networks by host', views: ['networks/carried'] },
  {
    path: 'networks/reach',
    section: 'networks',
    find: 'Who reaches whom',
    views: ['networks/reach?from=newsroom&to=192.0.2.2'],
    pictures: ['networks-reach'],
  },
  {
    path: 'networks/plan',
    section: 'networks',
    find: 'Plan segments in a block',
    views: ['networks/plan'],
    pictures: ['networks-plan'],
  },
  { path: 'networks/names', section: 'networks', find: 'DNS: zone files, hosts lines, DHCP reservations', views: ['networks/names'] },
  { path: 'networks/macs', section: 'networks', find: 'MAC addresses', views: ['networks/macs'] },
  {
    path: 'networks/:id',
    section: 'networks',
    views: ['networks/{network:office}?at=10.61.40.120'],
    pictures: ['network'],
  },
  {
    path: 'guests',
    section: 'guests',
    leads: { label: 'Guests', key: 'g' },
    adds: 'guests/new',
    hasPanes: true,
    views: ['guests'],
  },
  {
    path: 'guests/new',
    section: 'guests',
    find: 'Add guest',
    views: ['guests/new?line=playout-3%204cpu%208G%2040G%20on%20gannet%20net%20office'],
    pictures: ['compose-guest'],
  },
  {
    path: 'guests/order',
    section: 'guests',
    find: 'Start and stop order of guests',
    views: ['guests/order'],
    pictures: ['guests-order'],
  },
  {
    path: 'guests/sizes',
    section: 'guests',
    find: 'Right sizes from what was measured',
    views: ['guests/sizes'],
    pictures: ['guests-sizes'],
  },
  { path: 'guests/stores', section: 'guests', find: 'Stores: what they hold and when they are full', views: ['guests/stores'] },
  { path: 'guests/stores/:id', section: 'guests', views: ['guests/stores/{store:nvme-2}'], pictures: ['store'] },
  { path: 'guests/images', section: 'guests', find: 'Image library', views: ['guests/images'] },
  { path: 'guests/exchange', section: 'guests', find: 'Import and export guests: OVF, CSV, JSON', views: ['guests/exchange'] },
  { path: 'guests/systems', section: 'guests', find: 'Systems and workload profiles', views: ['guests/systems'] },
  { path: 'guests/:id/install', section: 'guests', views: ['guests/{guest:sound-gate}/install'], pictures: ['guest-install'] },
  { path: 'guests/:id/found', section: 'guests', views: ['guests/{guest:sound-gate}/found'] },
  { path: 'guests/:id/observed', section: 'guests', views: ['guests/{guest:sound-gate}/observed'] },
  { path: 'guests/:id', section: 'guests', views: ['guests/{guest:sound-gate}'], pictures: ['guest'] },
  { path: 'guests/:id/clone', section: 'guests', views: ['guests/{guest:sound-gate}/clone'] },
  { path: 'guests/:id/migrate', section: 'guests', views: ['guests/{guest:sound-gate}/migrate'] },
  { path: 'clones', section: 'clones', leads: { label: 'Clones', key: 'c' }, views: ['clones'] },
  { path: 'migrations', section: 'migrations', leads: { label: 'Migrations', key: 'm' }, views: ['migrations'] },
  { path: 'findings', section: 'findings', leads: { label: 'Findings', key: 'f' }, views: ['findings'], pictures: ['findings'] },
  { path: 'logbook', section: 'logbook', leads: { label: 'Logbook', key: 'l' }, views: ['logbook'], pictures: ['logbook'] },
  { path: 'setup', section: 'setup', find: 'Change the policies', views: ['setup'] },
  { path: 'records/:kind/new', section: 'records', views: ['records/network/new'] },
  { path: 'records/:kind/:id', section: 'records', views: ['records/platform/{platform:Brackwater 5}'] },
] as const satisfies readonly Place[]

export type PlacePath = (typeof places)[number]['path']
/** The name of a picture in the documentation. */
export type PictureName = Extract<(typeof places)[number], { readonly pictures: readonly string[] }>['pictures'][number]

/** The same, to be gone through. */
export const allPlaces: readonly Place[] = [...places]

/** The sections, in the order of the work, with the key that goes there after `g`. */
export const sections = allPlaces.flatMap(({ path, leads }) => (leads ? [{ path, ...leads }] : []))
