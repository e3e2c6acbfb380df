import type { PlacePath } from './places.js'

/** What the checks and the documentation look at. */
interface PlaceViews {
  /** Views of a place in the demo that the checks look at; `{guest:sound-gate}` becomes that guest's id. */
  readonly views: readonly string[]
  /** Pictures of it in the documentation. */
  readonly pictures?: readonly string[]
}

/** The views of each place: a place without any does not compile. Apart from the places, since the first view carries those. */
const placeViews = {
  board: { views: ['board'], pictures: ['board', 'board-plan-dark'] },
  hosts: { views: ['hosts', 'hosts?group=site&columns=name,level,circuit'], pictures: ['hosts'] },
  'hosts/new': { views: ['hosts/new'] },
  'hosts/capacity': { views: ['hosts/capacity'], pictures: ['capacity'] },
  'hosts/releases': { views: ['hosts/releases'] },
  'hosts/:id/hardware': { views: ['hosts/{host:kittiwake}/hardware'] },
  'hosts/:id/drives': { views: ['hosts/{host:kittiwake}/drives', 'hosts/{host:gannet}/drives'] },
  'hosts/:id/ports': { views: ['hosts/{host:kittiwake}/ports'] },
  'hosts/:id/build': { views: ['hosts/{host:kittiwake}/build'], pictures: ['host-build'] },
  'hosts/:id/found': { views: ['hosts/{host:kittiwake}/found'] },
  'hosts/:id': { views: ['hosts/{host:puffin}'], pictures: ['host'] },
  networks: { views: ['networks'] },
  'networks/carried': { views: ['networks/carried'] },
  'networks/reach': { views: ['networks/reach?from=newsroom&to=192.0.2.2'], pictures: ['networks-reach'] },
  'networks/plan': { views: ['networks/plan'] },
  'networks/names': { views: ['networks/names'] },
  'networks/macs': { views: ['networks/macs'] },
  'networks/:id': { views: ['networks/{network:office}?at=10.61.40.120'], pictures: ['network'] },
  guests: { views: ['guests'] },
  'guests/new': { views: ['guests/new?line=playout-3%204cpu%208G%2040G%20on%20gannet%20net%20office'], pictures: ['compose-guest'] },
  'guests/order': { views: ['guests/order'] },
  'guests/sizes': { views: ['guests/sizes'], pictures: ['guests-sizes'] },
  'guests/stores': { views: ['guests/stores'] },
  'guests/stores/:id': { views: ['guests/stores/{store:nvme-2}'] },
  'guests/images': { views: ['guests/images'] },
  'guests/exchange': { views: ['guests/exchange'] },
  'guests/systems': { views: ['guests/systems'] },
  'guests/:id/install': { views: ['guests/{guest:sound-gate}/install'] },
  'guests/:id/found': { views: ['guests/{guest:sound-gate}/found'] },
  'guests/:id/observed': { views: ['guests/{guest:sound-gate}/observed'] },
  'guests/:id': { views: ['guests/{guest:sound-gate}'], pictures: ['guest'] },
  'guests/:id/clone': { views: ['guests/{guest:sound-gate}/clone'], pictures: ['clone'] },
  'guests/:id/migrate': { views: ['guests/{guest:sound-gate}/migrate'] },
  'guests/:id/template': { views: ['guests/{guest:tpl-desktop}/template'] },
  'guests/:id/first-boot': { views: ['guests/{guest:sound-gate}/first-boot'] },
  clones: { views: ['clones'] },
  'clones/:id': { views: ['clones/{batch:Mail relays}'], pictures: ['batch'] },
  migrations: { views: ['migrations'], pictures: ['migrations'] },
  'migrations/history': { views: ['migrations/history'] },
  'migrations/machine': { views: ['migrations/machine'] },
  'migrations/:id': { views: ['migrations/{migration:auk}'], pictures: ['migration'] },
  plans: { views: ['plans'] },
  'plans/import': { views: ['plans/import'] },
  'plans/:id/run': { views: ['plans/{plan:Memory for puffin}/run'], pictures: ['plan-run'] },
  'plans/:id': { views: ['plans/{plan:Memory for puffin}'], pictures: ['plan'] },
  findings: { views: ['findings'], pictures: ['findings'] },
  logbook: { views: ['logbook'], pictures: ['logbook'] },
  setup: { views: ['setup'] },
  'records/:kind/new': { views: ['records/network/new'] },
  'records/:kind/:id': { views: ['records/platform/{platform:Brackwater 5}'] },
} as const satisfies Readonly<Record<PlacePath, PlaceViews>>

/** The name of a picture in the documentation. */
export type PictureName = Extract<(typeof placeViews)[PlacePath], { readonly pictures: readonly string[] }>['pictures'][number]

/** The same, to be gone through. */
export const allPlaceViews: readonly (PlaceViews & { readonly path: PlacePath })[] = Object.entries(placeViews).map(([path, views]) => ({
  path: path as PlacePath,
  ...views,
}))
