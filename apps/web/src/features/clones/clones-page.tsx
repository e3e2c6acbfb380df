import {
  dayOf,
  counted,
  formatMiB,
  lineages,
  newerVersionOf,
  partsLeft,
  sayIdentity,
  sharersOf,
  templateOf,
  type Batch,
  type Guest,
  type Lineage,
} from '@insel/core'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { Differs, LeftOutNote } from '../../ui/differs'
import { Ledger } from '../../ui/ledger'
import { Empty, Page, Part } from '../../ui/page'
import { Mark } from '../../ui/mark'

/** Templates and their versions, batches of copies, and what came from what. */
export function ClonesPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const trees = useMemo(() => lineages(estate), [estate])
  const templates = useMemo(
    () => [...estate.all('guest')].filter(({ kind }) => kind === 'template').sort((a, b) => (a.name < b.name ? -1 : 1)),
    [estate],
  )
  const batches = [...estate.all('batch')].sort((a, b) => (a.startedAt < b.startedAt ? 1 : -1))
  return (
    <Page title="Clones" about="Templates, batches of copies, and what was copied from what.">
      <LeftOutNote kind="template" />
      {trees.length === 0 && templates.length === 0 && (
        <Empty action={<ButtonLink to={to('guests')}>Go to the guests</ButtonLink>}>
          No template or copy is recorded yet. Open a guest and clone it, or record it as a template.
        </Empty>
      )}
      {templates.length > 0 && (
        <Part title={`Templates, ${templates.length}`}>
          <Ledger headings={['template', 'version', 'last patched', 'generalised', 'copies', '.what one can do']}>
            {templates.map((template) => (
              <TemplateRow key={template.id} template={template} />
            ))}
          </Ledger>
        </Part>
      )}
      {batches.length > 0 && (
        <Part title={`Batches, ${batches.length}`}>
          <Ledger headings={['batch', 'of', 'copies', 'state', 'begun']}>
            {batches.map((batch) => (
              <BatchRow key={batch.id} batch={batch} />
            ))}
          </Ledger>
        </Part>
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

function TemplateRow({ template }: { template: Guest }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const version = templateOf(estate, template.id)
  const left = partsLeft(version, estate.find('system', template.systemId))
  const newer = newerVersionOf(estate, template.id)
  const copies = estate.referring('guest', 'clonedFromId', template.id).filter(({ kind }) => kind === 'machine').length
  return (
    <tr>
      <td>
        <Link className="font-medium name-link" to={to(`guests/${template.id}/template`)}>
          {template.name}
        </Link>
        <Differs id={template.id} className="ml-1.5" />
      </td>
      <td>
        {version?.version ?? 'not recorded'}
        {version?.withdrawnOn && <span className="text-warning">, withdrawn</span>}
        {newer && <span className="text-soft">, superseded by {newer.name}</span>}
      </td>
      <td>{version?.patchedOn ?? 'not recorded'}</td>
      <td>
        {left.length === 0 ? (
          'yes'
        ) : (
          <span className="flex gap-1.5 items-baseline">
            <Mark of="warning" /> not recorded: {left.map(({ label }) => label).join(', ')}
          </span>
        )}
      </td>
      <td>{copies}</td>
      <td>
        {!version?.withdrawnOn && (
          <ButtonLink look="quiet" className="!min-h-7" to={to(`guests/${template.id}/clone`)}>
            Make copies<span className="sr-only"> of {template.name}</span>
          </ButtonLink>
        )}
      </td>
    </tr>
  )
}

function BatchRow({ batch }: { batch: Batch }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const copies = estate.referring('copy', 'batchId', batch.id)
  const count = (state: string) => copies.filter((copy) => copy.state === state).length
  const failed = count('failed')
  return (
    <tr>
      <td>
        <Link className="font-medium name-link" to={to(`clones/${batch.id}`)}>
          {batch.name}
        </Link>
      </td>
      <td>
        {estate.find('guest', batch.templateId)?.name ?? batch.templateName ?? ''}
        {batch.version && `, version ${batch.version}`}
      </td>
      <td>
        {count('in service')} of {counted(copies.length - count('dropped'), 'copy', 'copies')} in service
      </td>
      <td>{batch.endedAt ? 'done' : failed > 0 ? <span className="text-error">{failed} failed</span> : 'under way'}</td>
      <td className="font-mono">{dayOf(estate, batch.startedAt)}</td>
    </tr>
  )
}

function Line({ tree: { guest, copies }, depth }: { tree: Lineage; depth: number }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const sharers = guest.kind === 'machine' && guest.identity === 'copied' ? sharersOf(estate, guest) : []
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
        {guest.clonedVersion && <span className="text-soft">version {guest.clonedVersion}</span>}
        {guest.kind === 'machine' &&
          (guest.identity === 'copied' ? (
            <span className="flex gap-1.5 items-baseline">
              <Mark of="warning" /> identity {sayIdentity(estate, guest)}
              {sharers.length > 1 && `, shared by ${sharers.length + 1}`}
            </span>
          ) : (
            <span className="text-soft">identity {guest.identity === 'removed' ? 'made at its next boot' : 'its own'}</span>
          ))}
      </div>
      {copies.map((copy) => (
        <Line key={copy.guest.id} tree={copy} depth={depth + 1} />
      ))}
    </>
  )
}
