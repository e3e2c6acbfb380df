import type { Guest } from '@insel/core'
import type { ReactNode } from 'react'
import { Link, useParams } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { Page } from '../../ui/page'
import { RemovedPage } from '../records/removed'
import { DiffersNote } from '../proposals/differs-note'
import { PageNav } from '../../ui/page-nav'

/** What one can look at of a guest, each with its own address. */
const views = [
  { path: '', label: 'Overview' },
  { path: '/install', label: 'Install sheet' },
  { path: '/template', label: 'Template sheet' },
  { path: '/first-boot', label: 'First boot' },
  { path: '/observed', label: 'Observed' },
  { path: '/found', label: 'Inventory check' },
] as const

/** A page of one guest: its name, what it is, the ways to its other pages. */
export function GuestFrame({
  children,
  actions,
  more,
}: {
  children: (guest: Guest) => ReactNode
  actions?: (guest: Guest) => ReactNode
  more?: (guest: Guest) => ReactNode
}) {
  const { id = '' } = useParams()
  const { estate } = useEstate()
  const { to } = usePaths()
  const guest = estate.find('guest', id)
  if (!guest) return <RemovedPage kind="guest" id={id} />
  const host = estate.find('host', guest.hostId)
  const system = estate.find('system', guest.systemId)
  return (
    <Page
      title={guest.name}
      of={guest.id}
      about={
        <>
          {guest.kind === 'machine' ? `Guest, ${guest.state}` : guest.kind === 'template' ? 'Template' : `External machine, ${guest.state}`}
          {host && (
            <>
              {' '}
              on{' '}
              <Link className="link" to={to(`hosts/${host.id}`)}>
                {host.name}
              </Link>
            </>
          )}
          {guest.purpose && `, for ${guest.purpose}`}
          {system && `, ${system.name}`}
          {guest.group && `, in group ${guest.group}`}
          {more?.(guest)}
          <PageNav label={`Pages of ${guest.name}`} base={to(`guests/${guest.id}`)} views={views} />
        </>
      }
      actions={actions?.(guest)}
    >
      <DiffersNote of={guest.id} />
      {children(guest)}
    </Page>
  )
}
