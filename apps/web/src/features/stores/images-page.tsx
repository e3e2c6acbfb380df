import { formatBytes, inNameOrder, isInService } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../estate/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { Ledger } from '../../ui/ledger'
import { Empty, Page, Trouble } from '../../ui/page'
import { GuestsNav } from '../frames/guests-nav'

/** The library of install images: what they are, where they are stored, and which guests have them in their drives. */
export function ImagesPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const images = inNameOrder(estate.all('image'))
  const add = (
    <ButtonLink look="primary" to={to('records/image/new')}>
      Add image
    </ButtonLink>
  )
  return (
    <Page
      title="Image library"
      about={
        <>
          What is recorded of each image. The files themselves stay where they are.
          <GuestsNav />
        </>
      }
      actions={add}
    >
      {trouble && <Trouble>{trouble}</Trouble>}
      {images.length === 0 ? (
        <Empty action={add}>No image is recorded yet. Record what you install from: its size, checksum and store.</Empty>
      ) : (
        <Ledger headings={['image', 'installs', 'size', 'SHA-256', 'store', 'uploaded', 'attached to']}>
          {images.map((image) => {
            const guests = estate.referring('guest', 'mediumId', image.id)
            const store = estate.find('store', image.storeId)
            const left = guests.filter((guest) => isInService(guest))
            return (
              <tr key={image.id}>
                <td>
                  <Link className="font-medium name-link" to={to(`records/image/${image.id}`)}>
                    {image.name}
                  </Link>
                  {image.version && <span className="text-faint"> {image.version}</span>}
                </td>
                <td>
                  {estate.find('platform', image.platformId)?.name ?? estate.find('system', image.systemId)?.name ?? ''}
                  {image.installer && <span className="text-faint"> {image.installer}</span>}
                </td>
                <td className="font-mono whitespace-nowrap">{formatBytes(image.sizeBytes)}</td>
                <td className="font-mono text-small" title={image.sha256 ?? undefined}>
                  {image.sha256 ? `${image.sha256.slice(0, 12)}…` : <span className="text-warning">not recorded</span>}
                </td>
                <td className="font-mono">{store?.name ?? <span className="text-warning">no store</span>}</td>
                <td className="font-mono">{image.uploadedOn ?? ''}</td>
                <td>
                  {guests.map((guest, index) => (
                    <span key={guest.id}>
                      {index > 0 && ', '}
                      <Link className="link" to={to(`guests/${guest.id}`)}>
                        {guest.name}
                      </Link>{' '}
                      <span className="text-faint">({guest.state})</span>
                    </span>
                  ))}
                  {left.length > 0 && (
                    <Button
                      className="!min-h-7 ml-2"
                      onClick={() =>
                        void record(
                          left.map((guest) => ({ type: 'guest.update', id: guest.id, changes: { mediumId: null, bootFirst: 'disk' } })),
                          `${image.name} ejected from ${left.length} in service`,
                        )
                      }
                    >
                      Eject from those in service
                    </Button>
                  )}
                </td>
              </tr>
            )
          })}
        </Ledger>
      )}
    </Page>
  )
}
