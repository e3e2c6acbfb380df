import { alikeDrives, compareNames, drivesIn, formatBytes, formatLabelBytes, type Host, labelAgainstShown } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { ids } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { Ledger } from '../../ui/ledger'
import { Part } from '../../ui/page'
import { HostFrame } from './host-frame'
import { ArrayPlanner } from './array-planner'
import { AlikeLine } from './alike-line'
import { ArrayView } from './array-view'
import { Differs } from '../../ui/differs'

/** A host's drives, the arrays made of them and the stores cut from those; and what each level would give. */
export function DrivesPage() {
  const { to } = usePaths()
  return (
    <HostFrame
      actions={(host) => (
        <ButtonLink look="primary" to={to(`records/drive/new?hostId=${host.id}`)}>
          Add drive
        </ButtonLink>
      )}
    >
      {(host) => (
        <>
          <ArrayPlanner host={host} />
          <Arrays host={host} />
          <Drives host={host} />
        </>
      )}
    </HostFrame>
  )
}

function Drives({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const drives = drivesIn(estate, host)
  const sizes = [...new Set(drives.map(({ labelBytes }) => labelBytes))].sort((a, b) => a - b)
  return (
    <Part title={`Drives, ${drives.length}`}>
      <AlikeLine label="Several drives alike" placeholder="6 x 3.84 TB NVMe from 1" read={(text) => alikeDrives(estate, host, text, ids)} />
      {drives.length > 0 && (
        <Ledger headings={['bay', 'label', 'on the screen', 'kind', 'model', 'serial', 'controller', 'use']}>
          {drives.map((drive) => (
            <tr key={drive.id}>
              <td>
                <Link className="font-mono name-link" to={to(`records/drive/${drive.id}`)}>
                  {drive.position}
                </Link>
                <Differs id={drive.id} className="ml-1.5" />
              </td>
              <td className="font-mono">{formatLabelBytes(drive.labelBytes)}</td>
              <td className="font-mono">{formatBytes(drive.labelBytes)}</td>
              <td>{drive.kind}</td>
              <td>{drive.model ?? ''}</td>
              <td className="font-mono">{drive.serial ?? 'not recorded'}</td>
              <td className="font-mono">{drive.controller ?? ''}</td>
              <td>
                {drive.use}
                {drive.arrayId && ` in ${estate.find('array', drive.arrayId)?.name ?? ''}`}
              </td>
            </tr>
          ))}
        </Ledger>
      )}
      <div className="text-small text-soft mt-2">
        {sizes.slice(0, 3).map((size) => (
          <p key={size}>{labelAgainstShown(size)}</p>
        ))}
      </div>
    </Part>
  )
}

function Arrays({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const arrays = estate.referring('array', 'hostId', host.id)
  if (arrays.length === 0) return null
  return (
    <Part title={`Arrays, ${arrays.length}`}>
      {[...arrays]
        .sort((a, b) => compareNames(a.name, b.name))
        .map((array) => (
          <ArrayView key={array.id} host={host} array={array} editTo={to(`records/array/${array.id}`)} />
        ))}
    </Part>
  )
}
