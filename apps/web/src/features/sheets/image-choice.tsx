import { compareNames, type Image } from '@insel/core'
import { Link } from 'react-router'
import { usePaths } from '../../lib/paths'
import { Checksum } from './checksum'

/**
 * The image that a sheet installs from, with its checksum.
 *
 * @param strange what is said of an image made for something else; nothing where it fits
 * @param newImage the query with which a new image is begun
 */
export function ImageChoice({
  chosen,
  images,
  strange,
  newImage,
  choose,
}: {
  chosen: Image | undefined
  images: readonly Image[]
  strange: (image: Image) => string | undefined
  newImage: string
  choose: (imageId: string | null) => void
}) {
  const { to } = usePaths()
  const fitFirst = [...images].sort(
    (a, b) => Number(strange(a) !== undefined) - Number(strange(b) !== undefined) || compareNames(a.name, b.name),
  )
  return (
    <div className="my-1">
      <div className="flex gap-3 items-center text-dense">
        <select
          className="field !w-72"
          aria-label="Image to install from"
          value={chosen?.id ?? ''}
          onChange={(event) => choose(event.target.value || null)}
        >
          <option value="">choose an image…</option>
          {fitFirst.map((image) => (
            <option key={image.id} value={image.id}>
              {[image.name, strange(image)].filter(Boolean).join(', ')}
            </option>
          ))}
        </select>
        <Link className="link" to={to(`records/image/new${newImage}`)}>
          Add image
        </Link>
      </div>
      {chosen && <Checksum key={chosen.id} image={chosen} />}
    </div>
  )
}
