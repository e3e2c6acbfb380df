import { useState } from 'react'
import { api } from '../../lib/api'
import { useEstate } from '../../estate'
import { useGo } from '../../lib/use-go'
import { Part, Trouble } from '../../ui/page'
import { FileChoice } from '../../ui/file-choice'

/** The whole estate as a file, out and in as another. */
export function WholeEstate() {
  const { estateId } = useEstate()
  const go = useGo()
  const [trouble, setTrouble] = useState<readonly string[]>([])
  const [isBusy, setBusy] = useState(false)
  const take = async (file: File) => {
    setBusy(true)
    const refusal = await api.importEstate(file)
    setBusy(false)
    if ('problems' in refusal) setTrouble(refusal.problems)
    else await go(`/estates/${refusal.id}`)
  }
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
      <FileChoice label={isBusy ? 'Reading…' : 'Import as a new estate'} accept=".json,application/json" take={take} disabled={isBusy} />
      {trouble.length > 0 && (
        <Trouble>
          Nothing was imported. {trouble.slice(0, 6).join(' ')}
          {trouble.length > 6 && ` And ${trouble.length - 6} more.`}
        </Trouble>
      )}
    </Part>
  )
}
