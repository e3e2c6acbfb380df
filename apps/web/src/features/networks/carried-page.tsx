import { type Attachment, compareNames, counted, type Estate, type Network, uplinkEnd } from '@insel/core'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useQueryParam } from '../../lib/query-param'
import { ButtonLink } from '../../ui/button'
import { DiffersMark, differsInWords, useDiffers } from '../../ui/differs'
import { Empty, Page } from '../../ui/page'
import { NetworksNav } from '../frames/networks-nav'
import { Scrolling } from '../../ui/scrolling'

/** Networks from which the rows are drawn closer, so that forty are seen at one look. */
const MANY = 24
type Look = Attachment['kind'] | 'broken'
const words: Readonly<Record<Look, string>> = {
  bridged: 'bridged',
  translated: 'NAT',
  'host-only': 'host-only',
  internal: 'internal',
  broken: 'bridged, and does not leave the host',
}

/** Every network against every host: where it is carried, how, and where that breaks. Drawn small enough for 40 networks and 200 hosts. */
export function CarriedPage() {
  const { estate, recorded } = useEstate()
  const { to } = usePaths()
  const [site, setSite] = useQueryParam('site')
  const sites = useMemo(() => [...new Set(estate.all('host').map((host) => host.site))].sort(), [estate])
  const hosts = useMemo(
    () =>
      estate
        .all('host')
        .filter((host) => host.state !== 'retired' && (site === '' || host.site === site))
        .sort((a, b) => compareNames(a.site, b.site) || compareNames(a.name, b.name)),
    [estate, site],
  )
  const rows = useMemo(
    () =>
      [...estate.all('network')]
        .sort((a, b) => (a.vlanId ?? 0) - (b.vlanId ?? 0) || compareNames(a.name, b.name))
        .map((network) => {
          const looks = looksOf(estate, network)
          const before = recorded === estate ? looks : looksOf(recorded, network)
          const otherwise = new Set(hosts.filter(({ id }) => looks.get(id) !== before.get(id)).map(({ id }) => id))
          return { network, looks, otherwise, adapters: estate.referring('adapter', 'networkId', network.id).length }
        }),
    [estate, recorded, hosts],
  )
  const step = Math.max(3.4, Math.min(30, 760 / Math.max(1, hosts.length)))
  return (
    <Page
      title="Networks by host"
      about={
        <>
          {counted(rows.length, 'network')} on {counted(hosts.length, 'host')}.
          <NetworksNav />
        </>
      }
      actions={
        sites.length > 1 ? (
          <select className="field !w-40" aria-label="Site" value={site} onChange={(event) => setSite(event.target.value)}>
            <option value="">all sites</option>
            {sites.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        ) : undefined
      }
      isWide
    >
      {rows.length === 0 || hosts.length === 0 ? (
        <Empty
          action={
            <ButtonLink to={to(rows.length === 0 ? 'records/network/new' : 'hosts/new')}>
              {rows.length === 0 ? 'Add network' : 'Add host'}
            </ButtonLink>
          }
        >
          {rows.length === 0 ? 'No network is recorded yet.' : 'No host is recorded yet.'}
        </Empty>
      ) : (
        <Scrolling>
          <table className={`text-small border-collapse ${rows.length > MANY ? 'leading-[14px]' : ''}`}>
            <thead>
              <tr className="text-faint text-left">
                <th scope="col" className="font-normal pr-4 align-bottom">
                  network
                </th>
                <th scope="col" className="font-normal pr-4 align-bottom">
                  VLAN
                </th>
                <th scope="col" className="font-normal pr-4 align-bottom text-right">
                  adapters
                </th>
                <th scope="col" className="font-normal align-bottom">
                  {step >= 16 && <span className="sr-only">hosts</span>}
                  {step >= 16 ? (
                    <svg width={hosts.length * step + 40} height={84} aria-hidden>
                      {hosts.map((host, index) => (
                        <text
                          key={host.id}
                          transform={`translate(${index * step + step / 2 + 4} 80) rotate(-60)`}
                          className="fill-soft"
                          fontSize="12"
                        >
                          {host.name.length > 12 ? `${host.name.slice(0, 11)}…` : host.name}
                        </text>
                      ))}
                    </svg>
                  ) : (
                    `hosts, ${hosts[0]?.name ?? ''} to ${hosts.at(-1)?.name ?? ''}`
                  )}
                </th>
              </tr>
            </thead>
            <tbody>
              {rows.map(({ network, looks, otherwise, adapters }) => (
                <Row
                  key={network.id}
                  network={network}
                  looks={looks}
                  otherwise={otherwise}
                  adapters={adapters}
                  hosts={hosts}
                  step={step}
                  height={rows.length > MANY ? 14 : 16}
                />
              ))}
            </tbody>
          </table>
          <p className="flex flex-wrap gap-x-5 text-small text-soft mt-3">
            {(Object.keys(words) as Look[]).map((look) => (
              <span key={look} className="inline-flex items-center gap-1.5">
                <svg width="14" height="14" aria-hidden>
                  <Cell look={look} x={0} step={14} height={14} />
                </svg>
                {words[look]}
              </span>
            ))}
          </p>
        </Scrolling>
      )}
    </Page>
  )
}

/** How each host carries a network, by the host's id. */
function looksOf(estate: Estate, network: Network): ReadonlyMap<string, Look> {
  return new Map(
    estate
      .referring('attachment', 'networkId', network.id)
      .map((attachment) => [
        attachment.hostId,
        attachment.kind === 'bridged' && uplinkEnd(estate, attachment, network) ? 'broken' : attachment.kind,
      ]),
  )
}

function Row({
  network,
  looks,
  otherwise,
  adapters,
  hosts,
  step,
  height,
}: {
  network: Network
  looks: ReadonlyMap<string, Look>
  /** The hosts on which it stands otherwise than recorded. */
  otherwise: ReadonlySet<string>
  adapters: number
  hosts: readonly { readonly id: string; readonly name: string }[]
  step: number
  height: number
}) {
  const { to } = usePaths()
  const how = useDiffers().get(network.id) ?? (otherwise.size > 0 ? 'changed' : undefined)
  const shown = hosts.filter(({ id }) => looks.has(id))
  const broken = shown.filter(({ id }) => looks.get(id) === 'broken')
  const said = `${network.name} is carried by ${shown.length} of ${counted(hosts.length, 'host')}${broken.length > 0 ? `; it does not leave ${broken.map(({ name }) => name).join(', ')}` : ''}${otherwise.size > 0 ? `; on ${counted(otherwise.size, 'host')} it ${differsInWords.changed}` : ''}`
  return (
    <tr className="border-t border-line">
      <th scope="row" className="font-medium text-left pr-4 py-1 max-w-52 truncate">
        <Link className="name-link" to={to(`networks/${network.id}`)}>
          {network.name}
        </Link>
        {how && <DiffersMark how={how} className="ml-1.5" />}
      </th>
      <td className="pr-4 font-mono">{network.vlanId ?? '–'}</td>
      <td className="pr-4 text-right">{adapters}</td>
      <td>
        <svg width={hosts.length * step} height={height} role="img" aria-label={said} className="block">
          {hosts.map(({ id, name }, index) => {
            const look = looks.get(id)
            const differs = otherwise.has(id)
            return look || differs ? (
              <g key={id}>
                <title>{`${network.name} on ${name}: ${look ? words[look] : 'not carried'}${differs ? `, ${differsInWords.changed}` : ''}`}</title>
                {look && <Cell look={look} x={index * step} step={step} height={height} />}
                {differs && <rect x={index * step} y={height - 2} width={step} height={2} fill="var(--accent)" />}
              </g>
            ) : null
          })}
          <path d={`M0 ${height - 0.5}H${hosts.length * step}`} stroke="var(--line)" strokeWidth="0.5" />
        </svg>
      </td>
    </tr>
  )
}

/** Told apart by shape as well as by colour: full, half, low, outline, and a gap with a mark. */
function Cell({ look, x, step, height }: { look: Look; x: number; step: number; height: number }) {
  const gap = step > 8 ? 2 : 0.6
  const [left, width] = [x + gap / 2, step - gap]
  const [top, tall] = [2, height - 4]
  switch (look) {
    case 'bridged':
      return <rect x={left} y={top} width={width} height={tall} fill="var(--fill)" />
    case 'translated':
      return <path d={`M${left} ${top + tall}V${top}L${left + width} ${top + tall}z`} fill="var(--fill)" />
    case 'host-only':
      return <rect x={left} y={top + tall / 2} width={width} height={tall / 2} fill="var(--fill)" />
    case 'internal':
      return <rect x={left + 0.5} y={top + 0.5} width={Math.max(1, width - 1)} height={tall - 1} fill="none" stroke="var(--fill)" />
    case 'broken':
      return (
        <>
          <rect x={left} y={top} width={width} height={tall} fill="none" stroke="var(--error)" />
          <path d={`M${left} ${top}L${left + width} ${top + tall}`} stroke="var(--error)" strokeWidth="1.4" />
        </>
      )
  }
}
