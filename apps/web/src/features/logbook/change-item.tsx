import { timeZoneOf, sayWhole, describeDifference, formatInstant } from '@insel/core'
import type { Change, LoggedCommand } from '@insel/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useEstate } from '../../estate'
import { api, sentenceOf } from '../../lib/api'
import { usePaths } from '../../lib/paths'
import { Button, ButtonLink } from '../../ui/button'
import { SaidView } from '../proposals/difference-view'
import { Trouble } from '../../ui/page'
import { namesFor } from './names-for'

/** So many commands of a change are said in a list. */
export const COMMANDS_SHOWN = 3

/**
 * One entry of the logbook: who, when, what, and the exact difference; can be reverted.
 *
 * @param subject the thing whose history it is in: what the change did to it is said first
 */
export function ChangeItem({ change, subject = '' }: { change: Change; subject?: string }) {
  const { estateId, recorded, revision, revert } = useEstate()
  const { to } = usePaths()
  const [isOpen, setOpen] = useState(false)
  const [trouble, setTrouble] = useState<string>()
  const names = namesFor(recorded, change.difference)
  const isWhole = change.leftOut.records === 0
  const whole = useQuery({
    queryKey: ['change', estateId, change.revision],
    queryFn: () => api.change(estateId, change.revision),
    enabled: isOpen && !isWhole,
    staleTime: Infinity,
  })
  const difference = isWhole ? change.difference : whole.data?.difference
  const zone = timeZoneOf(recorded)
  const revertIt = async () => {
    const refusal = await revert(change.revision)
    setTrouble(refusal?.sentence)
  }
  const shown = aboutFirst(change.commands, subject).slice(0, COMMANDS_SHOWN)
  const more = change.commands.length + change.leftOut.commands - shown.length
  return (
    <li className="grid grid-cols-[44px_minmax(0,1fr)] sm:grid-cols-[56px_minmax(0,1fr)_auto] gap-x-3 py-2 border-t border-line first:border-0">
      <span className="font-mono text-faint text-small pt-0.5">r{change.revision}</span>
      <div className="min-w-0">
        <p className={`break-words ${change.revertedBy ? 'line-through decoration-faint' : ''}`}>
          {shown.map((command) => sayWhole(names, command).replace(/\.$/, '')).join('; ')}
          {more > 0 && ` and ${more} more`}
        </p>
        <p className="text-dense text-soft">
          {change.actor.name}, <time dateTime={change.at}>{formatInstant(change.at, zone)}</time>
          {change.revertedBy && <>, undone by change {change.revertedBy}</>}
        </p>
        {isOpen && (
          <div className="mt-1 mb-2 border-l-2 border-rule pl-3">
            {difference && <SaidView said={describeDifference(isWhole ? names : namesFor(recorded, difference), difference)} />}
            {whole.isFetching && !difference && <p className="text-soft">Reading what it changed …</p>}
            {whole.isError && <Trouble>{sentenceOf(whole.error)}</Trouble>}
          </div>
        )}
        {trouble && <Trouble>{trouble}</Trouble>}
      </div>
      <div className="flex flex-wrap gap-1 items-start max-sm:col-start-2 max-sm:-ml-1">
        {change.revision < revision && (
          <ButtonLink look="quiet" to={to(`board?basis=change-${change.revision}`)} aria-label={`As of change ${change.revision}`}>
            As of then
          </ButtonLink>
        )}
        <Button look="quiet" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          {isOpen ? 'Hide changes' : 'Show changes'}
        </Button>
        {!change.revertedBy && change.revision > 1 && (
          <Button look="quiet" onClick={() => void revertIt()} aria-label={`Revert change ${change.revision}`}>
            Revert
          </Button>
        )}
      </div>
    </li>
  )
}

/** Commands with those first that name a thing. */
function aboutFirst(commands: readonly LoggedCommand[], subject: string): readonly LoggedCommand[] {
  if (subject === '') return commands
  const names = (command: LoggedCommand) => JSON.stringify(command).includes(subject)
  return [...commands.filter(names), ...commands.filter((command) => !names(command))]
}
