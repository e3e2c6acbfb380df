import { useState } from 'react'
import { useNavigate } from 'react-router'
import { estatesApi } from './estates-api'
import { useEstates } from './use-estates'
import { Button } from '../../ui/button'
import { FileChoice } from '../../ui/file-choice'
import { Trouble } from '../../ui/page'

/** What the estate in a file is called there; nothing where the file cannot be read, which the server says better. */
async function nameIn(file: File): Promise<string> {
  try {
    const { records } = JSON.parse(await file.text()) as { records?: { estate?: readonly { name?: unknown }[] } }
    const name = records?.estate?.[0]?.name
    return typeof name === 'string' ? name : ''
  } catch (error) {
    if (error instanceof SyntaxError || error instanceof TypeError) return ''
    throw error
  }
}

/** A whole estate from a file, as another one of this server, under a name. */
export function ImportEstate() {
  const navigate = useNavigate()
  const estates = useEstates()
  const [chosen, setChosen] = useState<{ readonly file: File; readonly name: string }>()
  const [trouble, setTrouble] = useState<readonly string[]>([])
  const [isBusy, setBusy] = useState(false)
  const take = async (file: File) => {
    setTrouble([])
    setChosen({ file, name: await nameIn(file) })
  }
  const bring = async () => {
    if (!chosen) return
    setBusy(true)
    const answer = await estatesApi.import(chosen.file, chosen.name.trim())
    setBusy(false)
    if ('problems' in answer) setTrouble(answer.problems)
    else await navigate(`/estates/${answer.id}/board`)
  }
  const isTaken = estates.data?.some(({ name }) => name === chosen?.name.trim()) === true
  return (
    <div className="text-dense">
      <FileChoice label="Import as a new estate" accept=".json,application/json" take={take} disabled={isBusy} />
      {chosen && (
        <form
          className="flex flex-wrap gap-2 items-end my-1"
          onSubmit={(event) => {
            event.preventDefault()
            void bring()
          }}
        >
          <label className="flex flex-col gap-0.5">
            Name of the new estate, from {chosen.file.name}
            <input
              className="field !w-72"
              value={chosen.name}
              maxLength={120}
              onChange={(event) => setChosen({ ...chosen, name: event.target.value })}
            />
          </label>
          <Button type="submit" look="primary" disabled={isBusy}>
            {isBusy ? 'Importing…' : 'Import'}
          </Button>
          <Button look="quiet" onClick={() => setChosen(undefined)}>
            Cancel
          </Button>
          {isTaken && <p className="basis-full text-warning">Another estate of this server is called that, too.</p>}
        </form>
      )}
      {trouble.length > 0 && (
        <Trouble>
          Nothing was imported. {trouble.slice(0, 6).join(' ')}
          {trouble.length > 6 && ` And ${trouble.length - 6} more.`}
        </Trouble>
      )}
    </div>
  )
}
