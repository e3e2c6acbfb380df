import {
  type Estate,
  type FieldsOf,
  formatMiB,
  type Guest,
  guestOverhead,
  modeReach,
  type Platform,
  platformOf,
  sumFigure,
  timeZoneOf,
  formatInstant,
} from '@insel/core'
import { Fragment, type ReactNode } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { Part } from '../../ui/page'
import { GuestLinks } from './guest-links'
import { FigureView } from '../figures/figure-view'

/** A line of the list: what it is called, and what it says; nothing to say, no line. */
interface Fact {
  readonly label: string
  readonly of: (guest: Guest, estate: Estate) => ReactNode
}

/** Said by another line, or elsewhere on the guest's pages. */
const ELSEWHERE = null
const FACTS = {
  vcpu: {
    label: 'Processors',
    of: ({ vcpu, sockets, latency }) => `${vcpu} vCPU${sockets > 1 ? ` in ${sockets} sockets` : ''}, ${latency}`,
  },
  sockets: ELSEWHERE,
  latency: ELSEWHERE,
  processorMode: { label: 'Processor mode', of: (guest) => <Mode guest={guest} /> },
  memoryMiB: { label: 'Memory', of: (guest) => <Memory guest={guest} /> },
  memoryMinMiB: ELSEWHERE,
  firmware: {
    label: 'Firmware, board',
    of: ({ firmware, secureBoot, trustedModule, machineType }) =>
      `${firmware}${secureBoot ? ', secure boot' : ''}${trustedModule ? ', trusted module' : ''}, ${machineType}`,
  },
  secureBoot: ELSEWHERE,
  trustedModule: ELSEWHERE,
  machineType: ELSEWHERE,
  bootFirst: { label: 'Boots first from', of: (guest) => <Boot guest={guest} /> },
  mediumId: ELSEWHERE,
  mediumConnected: ELSEWHERE,
  verifiedAt: {
    label: 'Verified',
    of: ({ verifiedAt }, estate) => (verifiedAt ? formatInstant(verifiedAt, timeZoneOf(estate)) : 'not yet'),
  },
  backupStoreId: {
    label: 'Backed up to',
    of: ({ backupStoreId }, estate) => {
      const store = estate.find('store', backupStoreId)
      return store ? <span className="font-mono">{store.name}</span> : 'nothing recorded'
    },
  },
  owner: { label: 'Owner', of: ({ owner, contact }) => [owner, contact].filter(Boolean).join(', ') },
  contact: ELSEWHERE,
  criticality: { label: 'Criticality', of: ({ criticality }) => criticality },
  patchedOn: { label: 'Last patched', of: ({ patchedOn }) => patchedOn },
  isRouter: { label: 'Forwards packets', of: ({ isRouter }) => isRouter && 'yes, it is a router' },
  workload: { label: 'Sized for', of: ({ workload }) => workload },
  apartFromId: {
    label: 'Kept apart from',
    of: ({ apartFromId }, estate) => links(estate.find('guest', apartFromId)),
  },
  clonedFromId: {
    label: 'Cloned from',
    of: ({ clonedFromId, clonedVersion }, estate) =>
      clonedFromId !== null && (
        <>
          {links(estate.find('guest', clonedFromId))}
          {clonedVersion !== null && `, version ${clonedVersion}`}
        </>
      ),
  },
  tags: { label: 'Tags', of: ({ tags }) => tags.length > 0 && <span className="font-mono">{tags.map((tag) => `#${tag}`).join(' ')}</span> },
  // In its own part.
  identity: ELSEWHERE,
  identityFromId: ELSEWHERE,
  identityFromName: ELSEWHERE,
  identityKey: ELSEWHERE,
  clonedVersion: ELSEWHERE,
  // In the heading.
  name: ELSEWHERE,
  kind: ELSEWHERE,
  state: ELSEWHERE,
  hostId: ELSEWHERE,
  purpose: ELSEWHERE,
  systemId: ELSEWHERE,
  group: ELSEWHERE,
  note: ELSEWHERE,
  // On the install sheet.
  installer: ELSEWHERE,
  packages: ELSEWHERE,
  locale: ELSEWHERE,
} satisfies FieldsOf<'guest', Fact>

/** What is recorded of a guest, but for its disks and adapters. */
export function GuestFacts({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const batchOf = ({ id }: Guest) => {
    const batch = estate.find('batch', estate.referring('copy', 'guestId', id)[0]?.batchId)
    return (
      batch && (
        <Link className="link" to={to(`clones/${batch.id}`)}>
          {batch.name}
        </Link>
      )
    )
  }
  const lines = [
    ...Object.values<Fact | null>(FACTS).flatMap((fact) => (fact ? [[fact.label, fact.of(guest, estate)] as const] : [])),
    ['Copied in', batchOf(guest)] as const,
    ['Copies', links(...estate.referring('guest', 'clonedFromId', guest.id))] as const,
  ].filter(([, said]) => Boolean(said))
  return (
    <Part title="Size and devices">
      <dl className="facts [--label:130px] gap-y-1 text-dense py-1">
        {lines.map(([label, said]) => (
          <Fragment key={label}>
            <dt className="text-faint">{label}</dt>
            <dd>{said}</dd>
          </Fragment>
        ))}
      </dl>
    </Part>
  )
}

/** Guests by name, each a link; nothing where there are none. */
const links = (...guests: readonly (Guest | undefined)[]): ReactNode => {
  const known = guests.filter((guest) => guest !== undefined)
  return known.length > 0 && <GuestLinks guests={known} />
}

function Mode({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const host = estate.find('host', guest.hostId)
  const mode = host ? modeReach(host, estate.all('host')).find((one) => one.mode === guest.processorMode) : undefined
  return (
    <span title={mode?.cost}>
      {guest.processorMode}
      {mode && (
        <span className="text-faint">
          , moves live to {mode.hosts.length > 0 ? mode.hosts.map(({ name }) => name).join(', ') : 'no other host'}
        </span>
      )}
    </span>
  )
}

function Memory({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const host = estate.find('host', guest.hostId)
  return (
    <>
      {host ? (
        <FigureView figure={memoryFigure(guest, platformOf(estate, host))} title={`Memory ${guest.name} takes on ${host.name}`}>
          {formatMiB(guest.memoryMiB)}
        </FigureView>
      ) : (
        formatMiB(guest.memoryMiB)
      )}
      {guest.memoryMinMiB !== null && `, at least ${formatMiB(guest.memoryMinMiB)}`}
    </>
  )
}

function Boot({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const medium = estate.find('image', guest.mediumId)
  return (
    <>
      {guest.bootFirst}
      {medium && (
        <>
          ; in the drive:{' '}
          <Link className="link" to={to('guests/images')}>
            {medium.name}
          </Link>
          {!guest.mediumConnected && ', not connected'}
        </>
      )}
    </>
  )
}

const memoryFigure = (guest: Guest, platform: Platform) =>
  sumFigure(
    'memory + overhead',
    'MiB',
    [
      { label: 'its memory', value: guest.memoryMiB, unit: 'MiB', sign: '+', from: `guest ${guest.name}` },
      {
        label: `${platform.guestOverheadMiB} MiB + ${platform.guestOverheadPercent} %`,
        value: guestOverhead(platform, guest.memoryMiB),
        unit: 'MiB',
        sign: '+',
        from: `platform ${platform.name}`,
      },
    ],
    'overhead per guest: basis: remembered value, check it on the platform',
  )
