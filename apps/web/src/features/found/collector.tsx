import { timeZoneOf, formatInstant } from '@insel/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { sentenceOf } from '../../lib/api'
import { machinesApi } from '../../lib/machines-api'
import { useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { Part, Trouble } from '../../ui/page'
import type { FoundWork, Taken } from './found-work'

export function Collector({ work, take }: { work: FoundWork; take: (taken: Taken) => void }) {
  const { estate, estateId } = useEstate()
  const timeZone = timeZoneOf(estate)
  const [command, setCommand] = useState<string>()
  const [trouble, setTrouble] = useState<string>()
  const list = useQuery({
    queryKey: ['collections', estateId, work.of],
    queryFn: () => machinesApi.collections(estateId, work.of),
    // While somebody is at the machine, what it sends should appear by itself.
    refetchInterval: command ? 3000 : false,
  })
  const start = async () => {
    setTrouble(undefined)
    try {
      setCommand((await machinesApi.startCollection(estateId, work.of)).command)
    } catch (error) {
      setTrouble(sentenceOf(error))
    }
  }
  const open = async (id: string, receivedAt: string) => {
    try {
      const { text } = await machinesApi.collection(estateId, id)
      take({ text, source: `collected ${formatInstant(receivedAt, timeZone)}` })
    } catch (error) {
      setTrouble(sentenceOf(error))
    }
  }
  return (
    <Part title="Collect with a script">
      <p className="text-dense text-soft py-1">
        A shell script that only reads, shows what it would send, and asks before it does. Its code works once and expires in 30 minutes.
      </p>
      {command ? (
        <>
          <pre
            className="font-mono text-small bg-sheet border border-rule rounded-md p-2 whitespace-pre-wrap break-all"
            aria-label="Command to run on the machine"
          >
            {command}
          </pre>
          <div className="flex gap-2 mt-1">
            <Button className="!min-h-7" onClick={() => void navigator.clipboard.writeText(command)}>
              Copy
            </Button>
            <Button className="!min-h-7" onClick={() => void start()}>
              New code
            </Button>
          </div>
        </>
      ) : (
        <Button onClick={() => void start()}>Create collector command</Button>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
      {list.isError && <Trouble>{list.error.message}</Trouble>}
      <ul className="text-dense mt-2" aria-label="Collected texts">
        {(list.data ?? []).map(({ id, receivedAt }) => (
          <li key={id} className="flex items-center gap-3 border-t border-line py-1">
            <span className="flex-1">{formatInstant(receivedAt, timeZone)}</span>
            <Button look="quiet" className="!min-h-7" onClick={() => void open(id, receivedAt)}>
              Compare
            </Button>
          </li>
        ))}
      </ul>
    </Part>
  )
}
