import { timeZoneOf, formatInstant, dayOf } from '@insel/core'
import type { Guest } from '@insel/core'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { machinesApi } from '../../lib/machines-api'
import { useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { Part, Trouble } from '../../ui/page'

/** Lets the guest send observations on a schedule: a script with its own key. */
export function Observer({ guest }: { guest: Guest }) {
  const { estate, estateId } = useEstate()
  const client = useQueryClient()
  const key = ['observer', estateId, guest.id]
  const state = useQuery({ queryKey: key, queryFn: () => machinesApi.observer(estateId, guest.id), staleTime: 5000 })
  const [command, setCommand] = useState<string>()
  const [trouble, setTrouble] = useState<string>()
  const run = async (work: () => Promise<unknown>) => {
    try {
      setTrouble(undefined)
      await work()
      await client.invalidateQueries({ queryKey: key })
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error))
    }
  }
  const observer = state.data?.observer
  return (
    <Part title="Sent by the guest itself">
      <p className="text-soft text-dense py-1">
        A script measures processors, memory and disks inside the guest and sends three numbers. It changes nothing there; you set the
        schedule.
      </p>
      {observer && (
        <p className="text-dense">
          A key was made {dayOf(estate, observer.madeAt)}; last heard{' '}
          {observer.lastSeenAt ? formatInstant(observer.lastSeenAt, timeZoneOf(estate)) : 'never'}.
        </p>
      )}
      {command && (
        <>
          <p className="text-dense mt-1">Run this inside {guest.name}, then put the printed line into crontab. The key is shown once.</p>
          <pre className="font-mono text-small bg-sheet border border-line rounded-sm p-2 whitespace-pre-wrap break-all select-all">
            {command}
          </pre>
        </>
      )}
      <span className="flex gap-2 mt-1">
        <Button
          className="!min-h-7"
          onClick={() => void run(async () => setCommand((await machinesApi.startObserver(estateId, guest.id)).command))}
        >
          {observer ? 'Create a new key' : 'Create a key'}
        </Button>
        {observer && (
          <Button
            className="!min-h-7"
            onClick={() =>
              void run(async () => {
                await machinesApi.stopObserver(estateId, guest.id)
                setCommand(undefined)
              })
            }
          >
            Revoke its key
          </Button>
        )}
      </span>
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}
