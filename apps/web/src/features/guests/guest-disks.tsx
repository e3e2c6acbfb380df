import { type Disk, type FieldsOf, formatBytes, type Guest } from '@insel/core'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { mayRecord, useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { Ledger } from '../../ui/ledger'
import { GrowDisk } from '../stores/grow-disk'
import { Differs } from '../../ui/differs'

interface DiskColumn {
  readonly heading: string
  readonly className?: string
  readonly of: (disk: Disk) => ReactNode
}

const IN_FORM = null
const COLUMNS = {
  position: { heading: '#', className: 'font-mono', of: ({ position }) => position },
  use: { heading: 'use', of: (disk) => <DiskLink disk={disk} /> },
  sizeBytes: { heading: 'size', className: 'font-mono whitespace-nowrap', of: ({ sizeBytes }) => formatBytes(sizeBytes) },
  usedBytes: {
    heading: 'used',
    className: 'font-mono whitespace-nowrap',
    of: ({ usedBytes }) => (usedBytes === null ? 'not seen yet' : formatBytes(usedBytes)),
  },
  provisioning: { heading: 'kind', of: ({ provisioning }) => provisioning },
  bus: { heading: 'bus', of: ({ bus }) => bus },
  storeId: { heading: 'store', className: 'font-mono wrap-anywhere', of: (disk) => <StoreLink disk={disk} /> },
  cache: IN_FORM,
  bootOrder: IN_FORM,
  expectedBytes: IN_FORM,
  growthBytesPerMonth: IN_FORM,
  // It is the guest's page.
  guestId: null,
} satisfies FieldsOf<'disk', DiskColumn>
const columns = Object.values<DiskColumn | null>(COLUMNS).filter((column) => column !== null)

/** The disks of a guest, each with its store. */
export function GuestDisks({ disks, guest }: { disks: readonly Disk[]; guest: Guest }) {
  const { basis } = useEstate()
  if (disks.length === 0) return <p className="text-soft py-1">None.</p>
  return (
    <Ledger headings={[...columns.map(({ heading }) => heading), '.extend']}>
      {disks.map((disk) => (
        <tr key={disk.id}>
          {columns.map(({ heading, className, of }) => (
            <td key={heading} className={className}>
              {of(disk)}
            </td>
          ))}
          <td>{mayRecord(basis) && disk.storeId && <GrowDisk disk={disk} guest={guest} />}</td>
        </tr>
      ))}
    </Ledger>
  )
}

function DiskLink({ disk }: { disk: Disk }) {
  const { to } = usePaths()
  return (
    <>
      <Link className="name-link" to={to(`records/disk/${disk.id}`)}>
        {disk.use}
      </Link>
      <Differs id={disk.id} className="ml-1.5" />
    </>
  )
}

function StoreLink({ disk }: { disk: Disk }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  if (!disk.storeId) return 'its own drive'
  return (
    <Link className="name-link" to={to(`guests/stores/${disk.storeId}`)}>
      {estate.find('store', disk.storeId)?.name}
    </Link>
  )
}
