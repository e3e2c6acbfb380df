import { formatMiB, lineages, type Lineage } from '@insel/core'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { Mark } from '../findings/mark'
import { Empty, Page, Part } from '../../ui/page'
import { Differs } from '../../ui/differs'

/** What came from what: each template or original with its copies. */
export function ClonesPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const trees = useMemo(() => lineages(estate), [estate])
  return (
    <Page title="Clones" about="What was copied from what.">
      {trees.length === 0 && (
        <Empty action={<ButtonLink to={to('guests')}>Go to the guests</ButtonLink>}>
          No template or copy is recorded yet. Open a guest and clone it, or add one as a template.
        </Empty>
      )}
      {trees.map((tree) => (
        <Part
          key={tree.guest.id}
          title={`${tree.guest.name}, ${tree.guest.kind === 'template' ? 'template' : 'original'}`}
          aside={
            <ButtonLink look="quiet" className="!min-h-7" to={to(`guests/${tree.guest.id}/clone`)}>
              Clone {tree.guest.name}
            </ButtonLink>
          }
        >
          <Line tree={tree} depth={0} />
          {tree.copies.length === 0 && <p className="text-soft text-dense pl-6 py-1">No copies yet.</p>}
        </Part>
      ))}
    </Page>
  )
}

function Line({ tree: { guest, copies }, depth }: { tree: Lineage; depth: number }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  return (
    <>
      <div className="flex flex-wrap gap-x-4 items-baseline py-1.5 text-dense" style={{ paddingLeft: depth * 24 }}>
        {depth > 0 && (
          <span aria-hidden className="text-faint">
            └
          </span>
        )}
        <Link className="font-medium name-link min-w-36" to={to(`guests/${guest.id}`)}>
          {guest.name}
        </Link>
        <Differs id={guest.id} className="ml-1.5" />
        <span className="text-soft">
          {guest.kind === 'template' ? 'template' : guest.state} on {estate.find('host', guest.hostId)?.name ?? 'no host'}
        </span>
        <span className="font-mono text-soft">
          {guest.vcpu} vCPU, {formatMiB(guest.memoryMiB)}
        </span>
        {guest.isGeneralised ? (
          <span className="text-soft">generalised</span>
        ) : (
          <span className="flex gap-1.5 items-baseline">
            <Mark of="warning" /> not generalised
          </span>
        )}
      </div>
      {copies.map((copy) => (
        <Line key={copy.guest.id} tree={copy} depth={depth + 1} />
      ))}
    </>
  )
}
