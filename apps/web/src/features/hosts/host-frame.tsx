import { platformOf, type Host } from '@insel/core'
import type { ReactNode } from 'react'
import { Link, useParams } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { Page } from '../../ui/page'
import { RemovedPage } from '../records/removed'
import { DiffersNote } from '../proposals/differs-note'
import { PageNav } from '../../ui/page-nav'

/** What one can look at of a host, each with its own address. */
const views = [
  { path: '', label: 'Overview' },
  { path: '/hardware', label: 'Hardware' },
  { path: '/drives', label: 'Drives' },
  { path: '/ports', label: 'Ports' },
  { path: '/build', label: 'Build sheet' },
  { path: '/found', label: 'Inventory check' },
] as const

/** A page of one host: its name, what it is, the ways to its other pages. */
export function HostFrame({ children, actions }: { children: (host: Host) => ReactNode; actions?: (host: Host) => ReactNode }) {
  const { id = '' } = useParams()
  const { estate } = useEstate()
  const { to } = usePaths()
  const host = estate.find('host', id)
  if (!host) return <RemovedPage kind="host" id={id} />
  const outer = estate.find('guest', host.outerGuestId)
  return (
    <Page
      title={host.name}
      of={host.id}
      about={
        <>
          {host.kind === 'nested' ? 'Nested host' : 'Host'} at {host.site}, {host.state}, {platformOf(estate, host).name}
          {host.model && `, ${host.model}`}
          {outer && (
            <>
              , runs in{' '}
              <Link className="link" to={to(`guests/${outer.id}`)}>
                {outer.name}
              </Link>
            </>
          )}
          {host.tags.map((tag) => (
            <span key={tag} className="ml-2 font-mono text-small bg-line/60 rounded-sm px-1">
              #{tag}
            </span>
          ))}
          {host.note && <p className="mt-1 max-w-[70ch] whitespace-pre-wrap wrap-anywhere">{host.note}</p>}
          <PageNav label={`Pages of ${host.name}`} base={to(`hosts/${host.id}`)} views={views} />
        </>
      }
      actions={actions?.(host)}
    >
      <DiffersNote of={host.id} />
      {children(host)}
    </Page>
  )
}
