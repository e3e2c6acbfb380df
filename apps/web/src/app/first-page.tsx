import { useState, type SyntheticEvent } from 'react'
import { Navigate, useNavigate } from 'react-router'
import { estatesApi } from '../features/estates/estates-api'
import { readStored, store } from '../lib/storage'
import { ImportEstate } from '../features/estates/import-estate'
import { LAST_ESTATE, useEstates } from '../features/estates/use-estates'
import { Button } from '../ui/button'
import { Trouble, useTitle, Waiting } from '../ui/page'
import { Wordmark } from '../ui/wordmark'

/** The way in: to the estate that was looked at last, to another one, or to making the first. */
export function FirstPage() {
  useTitle('Estates')
  const estates = useEstates()
  const isAsked = new URLSearchParams(location.search).has('new')
  if (estates.isPending) return <Waiting what="the estates" />
  if (estates.isError)
    return (
      <main className="p-10 max-w-[640px]">
        <Wordmark />
        <Trouble>{estates.error.message}</Trouble>
        <Button onClick={() => void estates.refetch()}>Try again</Button>
      </main>
    )
  const last = readStored<string>(LAST_ESTATE)
  const open = estates.data.filter(({ archivedAt }) => archivedAt === null)
  const first = open.find(({ id }) => id === last) ?? open[0]
  if (first && !isAsked) return <Navigate to={`/estates/${first.id}/board`} replace />
  if (estates.data.length > 0 && !isAsked) return <Navigate to="/estates" replace />
  return (
    <main className="p-10 max-w-[560px]">
      <Wordmark />
      <h1 className="mt-6">{first ? 'New estate' : 'Create your first estate'}</h1>
      <p className="text-soft mt-1 mb-5">An estate holds the hosts, guests and networks of one organisation, with every change to them.</p>
      <NewEstate />
      <div className="mt-6">
        <ImportEstate />
      </div>
    </main>
  )
}

function NewEstate() {
  const navigate = useNavigate()
  const [name, setName] = useState('')
  const [recordedAs, setRecordedAs] = useState('')
  const [trouble, setTrouble] = useState<string>()
  const create = async (event: SyntheticEvent) => {
    event.preventDefault()
    try {
      const { id, personId } = await estatesApi.create({ name, recordedAs, timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone })
      store(`person.${id}`, personId)
      await navigate(`/estates/${id}/board`)
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error))
    }
  }
  return (
    <form onSubmit={(event) => void create(event)} className="flex flex-col gap-4">
      <label>
        Name of the estate
        <input className="field mt-1" value={name} onChange={(event) => setName(event.target.value)} required />
      </label>
      <label>
        Your name, as the logbook shows it
        <input className="field mt-1" value={recordedAs} onChange={(event) => setRecordedAs(event.target.value)} required />
      </label>
      {trouble && <Trouble>{trouble}</Trouble>}
      <div>
        <Button type="submit" look="primary">
          Create estate
        </Button>
      </div>
    </form>
  )
}
