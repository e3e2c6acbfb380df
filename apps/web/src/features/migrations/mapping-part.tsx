import { formatBytes, type MoveView } from '@insel/core'
import type { ReactNode } from 'react'
import { Part } from '../../ui/page'

/** What becomes of each disk and adapter. */
export function MappingPart({ view }: { view: MoveView }) {
  const { estate, disks, adapters, source, vcpu, memoryMiB, firmware } = view
  return (
    <Part title="Mapping">
      <dl className="facts text-dense">
        {disks.map(({ disk, from, store, sizeBytes, bus, provisioning, isCopied }) => (
          <Row key={disk.id} label={`Disk ${disk.position}, ${disk.use}`}>
            {formatBytes(disk.sizeBytes)}
            {from && ` on ${from.name}`}
            {isCopied
              ? ` → ${sizeBytes === undefined ? 'no disk there' : `${formatBytes(sizeBytes)}${store ? ` on ${store.name}, ${provisioning}` : ''}, ${bus}`}`
              : ', stays'}
          </Row>
        ))}
        {adapters.map(({ adapter, target, networkId, mac, model, isKept }) => (
          <Row key={adapter.id} label={`Adapter ${adapter.position}`}>
            {estate.find('network', adapter.networkId)?.name ?? 'no network'} →{' '}
            {target ? `${estate.find('network', networkId)?.name ?? 'no network'}, ${model}, ` : 'none there'}
            {target && <span className="font-mono">{mac ?? 'MAC unknown'}</span>}
            {target && (isKept ? ' (kept)' : ' (new)')}
          </Row>
        ))}
        <Row label="Processors, memory">
          {source.vcpu === vcpu ? `${vcpu} vCPU` : `${source.vcpu} → ${vcpu} vCPU`},{' '}
          {source.memoryMiB === memoryMiB ? `${memoryMiB} MiB` : `${source.memoryMiB} → ${memoryMiB} MiB`}, {firmware}
        </Row>
        {view.becomes && (
          <Row label="Name">
            {view.mapping.takesName === false ? `stays ${view.becomes.name}` : `${view.becomes.name} takes the name ${source.name}`}
          </Row>
        )}
      </dl>
    </Part>
  )
}

/** A line of facts. */
export const Row = ({ label, children }: { label: string; children: ReactNode }) => (
  <>
    <dt>{label}</dt>
    <dd>{children}</dd>
  </>
)
