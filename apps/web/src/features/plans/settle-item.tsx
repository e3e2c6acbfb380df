import { commandsOf, readMinutes, type Command, type Item } from '@insel/core'
import { useState, type ReactNode } from 'react'
import { useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { FollowedItem, useFollowing } from './followed-item'

interface SettleProps {
  readonly item: Item
  readonly record: (commands: readonly Command[]) => Promise<boolean>
}

/** What can be done with an item that is still to be done. */
export function SettleItem({
  item,
  isNext,
  isStale: isOff,
  record,
  order,
  next,
}: SettleProps & { isNext: boolean; isStale: boolean; order: ReactNode; next: Item | undefined }) {
  const [mode, setMode] = useState<'skip' | 'fail'>()
  const [reason, setReason] = useState('')
  const [typed, setTyped] = useState('')
  const [isBusy, setBusy] = useState(false)
  const reading = readMinutes(typed)
  const batch = useFollowing(item)
  const minutes = reading.ok ? reading.minutes : null
  const act = async (command: Command) => {
    setBusy(true)
    const isDone = await record([command])
    setBusy(false)
    if (isDone) setMode(undefined)
  }
  if (mode)
    return (
      <form
        className="text-dense flex flex-wrap gap-2 items-center mt-1 print:hidden"
        onSubmit={(event) => {
          event.preventDefault()
          void act({ type: `item.${mode}`, itemId: item.id, reason: reason.trim(), ...(mode === 'fail' ? { minutes } : {}) })
        }}
      >
        <input
          className="field !w-80 !min-h-7"
          autoFocus
          aria-label={mode === 'skip' ? `Why “${item.title}” is skipped` : `What went wrong with “${item.title}”`}
          placeholder={mode === 'skip' ? 'why it is skipped' : 'what went wrong'}
          maxLength={400}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
        <Button type="submit" className="!min-h-7" disabled={reason.trim() === '' || isBusy}>
          {mode === 'skip' ? 'Record as skipped' : 'Record as failed'}
        </Button>
        <Button look="quiet" className="!min-h-7" onClick={() => setMode(undefined)}>
          Back
        </Button>
      </form>
    )
  const hidden = <span className="sr-only"> {item.title}</span>
  return (
    <div className="text-dense flex flex-wrap gap-2 items-center mt-1 print:hidden">
      <FollowedItem item={item} record={record} />
      {!(batch && batch.endedAt === null) && (
        <>
          <Button
            look={isNext && !isOff ? 'primary' : 'plain'}
            className="!min-h-7"
            disabled={isBusy || isOff || !reading.ok}
            onClick={() => void act({ type: 'item.carryOut', itemId: item.id, minutes })}
          >
            {item.kind === 'task' ? 'Done' : 'Carry out'}
            {hidden}
          </Button>
          <label className="inline-flex items-center gap-1.5">
            <input
              className="field font-mono !w-16 !min-h-7"
              aria-label={`Minutes for “${item.title}”`}
              aria-invalid={!reading.ok}
              value={typed}
              onChange={(event) => setTyped(event.target.value)}
            />
            minutes
            {!reading.ok && (
              <span role="alert" className="text-error">
                {reading.sentence}
              </span>
            )}
          </label>
          {item.state === 'open' && (
            <Button className="!min-h-7" disabled={isBusy} onClick={() => void act({ type: 'item.begin', itemId: item.id })}>
              Begin{hidden}
            </Button>
          )}
          <Button className="!min-h-7" onClick={() => setMode('skip')}>
            Skip…{hidden}
          </Button>
          <Button className="!min-h-7" onClick={() => setMode('fail')}>
            Failed…{hidden}
          </Button>
          {item.state === 'open' && (
            <Button look="quiet" className="!min-h-7" disabled={isBusy} onClick={() => void act({ type: 'item.drop', itemId: item.id })}>
              Drop{hidden}
            </Button>
          )}
          {item.state === 'open' && commandsOf(item).length > 1 && (
            <Button
              look="quiet"
              className="!min-h-7"
              disabled={isBusy}
              onClick={() => void act({ type: 'item.split', itemId: item.id, at: 1 })}
            >
              Split off the first<span className="sr-only"> command of {item.title}</span>
            </Button>
          )}
          {item.state === 'open' && next?.kind === item.kind && next.state === 'open' && (
            <Button look="quiet" className="!min-h-7" disabled={isBusy} onClick={() => void act({ type: 'item.join', itemId: item.id })}>
              Join with the next{hidden}
            </Button>
          )}
          {order}
        </>
      )}
    </div>
  )
}

/** What can be done with an item that is over. */
export function SettledItem({ item, record }: SettleProps) {
  const { revertItem } = useEstate()
  const [trouble, setTrouble] = useState<string>()
  return (
    <div className="text-dense mt-1 print:hidden">
      {item.state === 'done' ? (
        commandsOf(item).length > 0 && (
          <Button look="quiet" className="!min-h-7 !px-0" onClick={() => void revertItem(item).then((why) => setTrouble(why?.sentence))}>
            Revert<span className="sr-only"> {item.title}</span>
          </Button>
        )
      ) : (
        <Button look="quiet" className="!min-h-7 !px-0" onClick={() => void record([{ type: 'item.reopen', itemId: item.id }])}>
          Reopen<span className="sr-only"> {item.title}</span>
        </Button>
      )}
      {trouble && (
        <p role="alert" className="text-error">
          {trouble}
        </p>
      )}
    </div>
  )
}
