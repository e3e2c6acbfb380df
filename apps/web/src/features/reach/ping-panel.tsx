import { readEnd, type PingAnswer } from '@insel/core'
import { useState, type SyntheticEvent } from 'react'
import { checks } from '../../checks/checks-remote'
import { named, useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { Part } from '../../ui/page'
import { EndInput } from './end-input'

interface Line {
  readonly number: number
  readonly from: string
  readonly answer: PingAnswer | string
}
const KEPT = 12

/** Ping and name look-up as a recorded machine would see them; the last few answers stay. */
export function PingPanel() {
  const { estate, basis } = useEstate()
  const [from, setFrom] = useState('')
  const [target, setTarget] = useState('')
  const [lines, setLines] = useState<readonly Line[]>([])
  const end = readEnd(estate, from)
  const isMachine = end !== undefined && !estate.find('network', end.id)
  const run = async (event: SyntheticEvent) => {
    event.preventDefault()
    if (!isMachine || target.trim() === '') return
    const answer = await checks()
      .ping(named(basis), end.id, target)
      .catch((error: unknown) => (error instanceof Error ? error.message : String(error)))
    setLines((before) => [{ number: (before[0]?.number ?? 0) + 1, from: end.text, answer }, ...before].slice(0, KEPT))
  }
  return (
    <Part title="Simulated ping">
      <form className="flex flex-wrap gap-3 items-start pt-2" onSubmit={(event) => void run(event)}>
        <EndInput label="On" value={from} onChange={setFrom} />
        <label className="block min-w-0 flex-1 basis-40">
          <span className="text-soft text-dense">Ping</span>
          <input
            className="field font-mono"
            value={target}
            placeholder="a name or an address"
            spellCheck={false}
            onChange={(event) => setTarget(event.target.value)}
          />
        </label>
        <Button type="submit" className="mt-[19px]" disabled={!isMachine || target.trim() === ''}>
          Ping
        </Button>
      </form>
      {from !== '' && end && !isMachine && <p className="text-error text-dense">Choose one machine: a network does not ping.</p>}
      <ul aria-live="polite" className="mt-2 text-dense">
        {lines.map(({ number, from: asked, answer }) => (
          <li key={number} className="border-t border-line py-1.5">
            {typeof answer === 'string' ? (
              <span className="text-error">{answer}</span>
            ) : (
              <>
                <span className="font-mono">
                  {asked} → {answer.target}
                </span>{' '}
                <b className={`font-medium ${answer.outcome === 'reply' ? 'text-notice' : 'text-error'}`}>{answer.outcome}</b>
                <span className="block text-soft">
                  {answer.lookUp?.outcome === 'answer' && `${answer.lookUp.sentence} `}
                  {answer.sentence}
                  {answer.path?.failure && ` Recorded: ${answer.path.failure.sentence}`}
                </span>
              </>
            )}
          </li>
        ))}
      </ul>
    </Part>
  )
}
