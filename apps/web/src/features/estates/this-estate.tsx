import { useState } from 'react'
import { useNavigate } from 'react-router'
import { useQueryClient } from '@tanstack/react-query'
import type { RecordOf } from '@insel/core'
import { useEstate } from '../../estate'
import { sentenceOf } from '../../lib/api'
import { estatesApi } from './estates-api'
import { usePaths } from '../../lib/paths'
import { now } from '../../lib/time'
import { useRecord } from '../../estate/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { Part, Trouble } from '../../ui/page'

/** What the estate is called, whether it is archived, and its end. */
export function ThisEstate({ described }: { described: RecordOf<'estate'> }) {
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const [isRemoving, setRemoving] = useState(false)
  const { id, name, domain, timeZone, archivedAt } = described
  const archive = (at: string | null) =>
    record(
      [{ type: 'estate.update', id, changes: { archivedAt: at } }],
      at === null ? `${name} is out of the archive` : `${name} is archived`,
    )
  return (
    <Part
      title="Estate"
      aside={
        <ButtonLink look="quiet" className="!min-h-7" to={to(`records/estate/${id}`)}>
          Rename or change
        </ButtonLink>
      }
    >
      <p className="py-1.5 text-dense">
        {name}, domain {domain ?? 'none'}, time zone {timeZone}
      </p>
      <div className="flex flex-wrap gap-2 items-center text-dense">
        <Button className="!min-h-7" onClick={() => void archive(archivedAt === null ? now() : null)}>
          {archivedAt === null ? 'Archive' : 'Take it out of the archive'}
        </Button>
        {!isRemoving && (
          <Button className="!min-h-7" look="danger" onClick={() => setRemoving(true)}>
            Remove the estate…
          </Button>
        )}
        <span className="text-soft">
          {archivedAt === null ? 'An archived estate can be read, and nothing in it changed.' : 'It can be read; nothing in it is changed.'}
        </span>
      </div>
      {trouble && <Trouble>{trouble}</Trouble>}
      {isRemoving && <Removal described={described} leave={() => setRemoving(false)} />}
    </Part>
  )
}

/** The end of an estate: what is lost, a copy first, and its name typed. */
function Removal({ described, leave }: { described: RecordOf<'estate'>; leave: () => void }) {
  const { estateId, revision } = useEstate()
  const client = useQueryClient()
  const navigate = useNavigate()
  const [typed, setTyped] = useState('')
  const [trouble, setTrouble] = useState<string>()
  const [isBusy, setBusy] = useState(false)
  const remove = async () => {
    setBusy(true)
    try {
      await estatesApi.remove(estateId, typed)
    } catch (error) {
      setTrouble(sentenceOf(error))
      setBusy(false)
      return
    }
    await client.invalidateQueries({ queryKey: ['estates'] })
    await navigate('/estates', { replace: true })
  }
  return (
    <form
      className="border-l-2 border-error pl-3 my-2 text-dense flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        void remove()
      }}
    >
      <p>
        {described.name} is removed for everybody, with all its records, its log of {revision} changes and its observations. This cannot be
        undone. Keep a copy first:{' '}
        <a className="link" href={`/api/v1/estates/${estateId}/exports/estate.json`} download="estate.json">
          the estate as JSON
        </a>
        , or a backup of everything on the server with <span className="font-mono">./insel backup</span>.
      </p>
      <label>
        Its name, to remove it
        <input className="field mt-1 !w-72 block" value={typed} onChange={(event) => setTyped(event.target.value)} autoComplete="off" />
      </label>
      {trouble && <Trouble>{trouble}</Trouble>}
      <span className="flex gap-2">
        <Button type="submit" look="danger" disabled={isBusy || typed !== described.name}>
          Remove the estate
        </Button>
        <Button onClick={leave}>Cancel</Button>
      </span>
    </form>
  )
}
