import { useEstate } from '../../estate'
import { Part } from '../../ui/page'
import { ImportEstate } from '../estates/import-estate'

/** The whole estate as a file, out and in as another. */
export function WholeEstate() {
  const { estateId } = useEstate()
  return (
    <Part title="The whole estate">
      <p className="text-dense py-1">
        <a className="link" href={`/api/v1/estates/${estateId}/exports/estate.json`} download="estate.json">
          Download it as JSON
        </a>
        , of a{' '}
        <a className="link" href="/api/v1/estates/schema" target="_blank" rel="noreferrer">
          published JSON Schema
        </a>
        . The logbook and observations are not in it; a backup has both.
      </p>
      <ImportEstate />
    </Part>
  )
}
