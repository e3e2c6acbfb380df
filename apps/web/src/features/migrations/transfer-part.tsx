import {
  counted,
  formatBytes,
  formatDuration,
  isBeforeCutOver,
  parseSize,
  sayDoubt,
  sayRate,
  timeZoneOf,
  transferStanding,
  type Migration,
  type NumberDoubt,
  type NumberStyle,
  formatInstant,
} from '@insel/core'
import { useState } from 'react'
import { mayRecord, useEstate } from '../../estate'
import { sentenceOf } from '../../lib/api'
import { onDemand } from '../../lib/on-demand'
import { LOOK_EVERY_MS, useNow } from '../../lib/use-now'
import { useRecord } from '../../estate/use-record'
import { AddLine } from '../../ui/add-line'
import { Button } from '../../ui/button'
import { Part, Trouble } from '../../ui/page'
import { restOf } from '../../ui/use-line'
import { sayRange, sayTransfer } from './say-move'
import { transferApi, type ReadingsBody } from './transfer-api'
import { useTransfer } from './use-transfer'

const TransferChart = onDemand(async () => (await import('./transfer-chart')).TransferChart)

/** How the copying of a move goes: rate, rest as a range, stalls, the chart; and the ways for readings to come in. */
export function TransferPart({ move }: { move: Migration }) {
  const { estate, basis } = useEstate()
  const { transfer, count, trouble, asked, refresh } = useTransfer(move)
  const zone = timeZoneOf(estate)
  const at = useNow(LOOK_EVERY_MS)
  const { progress } = transfer ?? {}
  const last = transfer?.points.at(-1)
  const standing = progress && last ? transferStanding(progress, last, at) : undefined
  const isOpen = isBeforeCutOver(move) && mayRecord(basis)
  const hasReadings = (transfer?.points.length ?? 0) > 0
  if (!isOpen && !hasReadings) return null
  return (
    <Part title="Transfer">
      {trouble && <Trouble>{sentenceOf(trouble)}</Trouble>}
      {transfer && hasReadings && progress && (
        <>
          <p className="py-1" role="status">
            <b className="font-medium">{sayTransfer(transfer, zone, at)}</b>
          </p>
          <dl className="facts text-dense">
            <dt>Moved</dt>
            <dd>
              {formatBytes(transfer.points.at(-1)?.bytes ?? 0)} of {formatBytes(transfer.totalBytes)}
              {count !== undefined && `, ${counted(count, 'reading')}`}
            </dd>
            {progress.bytesPerSecond !== undefined && (
              <>
                <dt>Rate</dt>
                <dd>{sayRate(progress.bytesPerSecond)}</dd>
              </>
            )}
            {standing?.left && isBeforeCutOver(move) && (
              <>
                <dt>Left</dt>
                <dd>
                  {standing.isOverdue ? 'not known' : sayRange(standing.left.low, standing.left.high)}
                  {standing.isOld && !standing.isOverdue && (
                    <span className="text-warning"> as last read, {formatDuration(standing.ageSeconds)} ago</span>
                  )}
                  {!standing.isOld && !progress.isSettled && <span className="text-warning"> unsettled: the rate still wanders</span>}
                  {progress.byFraction !== undefined && (
                    <span className="text-faint"> (elapsed over fraction would say {formatDuration(progress.byFraction)})</span>
                  )}
                </dd>
              </>
            )}
            {progress.setupSeconds > 0 && (
              <>
                <dt>Set-up</dt>
                <dd>{formatDuration(progress.setupSeconds)} in which nothing moved</dd>
              </>
            )}
            {progress.stalls.length > 0 && (
              <>
                <dt>Stalls</dt>
                <dd>
                  {progress.stalls
                    .slice(-3)
                    .map(({ from, seconds }) => `${formatDuration(seconds)} from ${formatInstant(new Date(from).toISOString(), zone)}`)
                    .join('; ')}
                  {progress.stalls.length > 3 && `; ${counted(progress.stalls.length, 'stall')} in all`}
                </dd>
              </>
            )}
          </dl>
          {transfer.points.length > 1 && <TransferChart transfer={transfer} zone={zone} meanwhile={<div className="h-72" />} />}
        </>
      )}
      {transfer && !hasReadings && <p className="text-soft py-1">No readings yet.</p>}
      {isOpen && <Readings move={move} asked={asked} hasReadings={hasReadings} refresh={refresh} total={transfer?.totalBytes ?? 0} />}
    </Part>
  )
}

/** A reading typed, a tool's lines pasted, or an address at which it says how far it is. */
function Readings({
  move,
  total,
  asked,
  hasReadings,
  refresh,
}: {
  move: Migration
  hasReadings: boolean
  total: number
  asked: ReturnType<typeof useTransfer>['asked']
  refresh: () => Promise<unknown>
}) {
  const { estateId } = useEstate()
  const { record, trouble } = useRecord()
  const [text, setText] = useState('')
  const [isAddressOpen, setAddressOpen] = useState(false)
  const [said, setSaid] = useState<{ readonly sentence: string; readonly isWrong: boolean }>()
  const [doubt, setDoubt] = useState<NumberDoubt>()
  const [isForgetting, setForgetting] = useState(false)
  const send = async (body: ReadingsBody): Promise<boolean> => {
    try {
      const { taken, rejected, unread, doubt: asksFor, remarks } = await transferApi.take(estateId, move.id, body)
      setDoubt(asksFor)
      if (asksFor) {
        setSaid(undefined)
        return false
      }
      const [first] = rejected
      setSaid({
        sentence:
          `${counted(taken, 'reading')} taken${unread > 0 ? `; ${counted(unread, 'line')} without progress left out` : ''}${first ? `; ${rejected.length} refused: ${first.reason}` : ''}. ${remarks.join(' ')}`.trim(),
        isWrong: taken === 0,
      })
      await refresh()
      return taken > 0
    } catch (error) {
      setSaid({ sentence: sentenceOf(error), isWrong: true })
      return false
    }
  }
  const read = (style?: NumberStyle) =>
    send({ text, ...(style ? { style } : {}) }).then((isTaken) => isTaken && setText((now) => restOf(now, text)))
  const forget = async () => {
    try {
      await transferApi.forget(estateId, move.id)
      setForgetting(false)
      setSaid({ sentence: 'All readings are forgotten.', isWrong: false })
      await refresh()
    } catch (error) {
      setSaid({ sentence: sentenceOf(error), isWrong: true })
    }
  }
  const typed = async (line: string): Promise<boolean> => {
    const percent = /^(\d{1,3}(?:[.,]\d{1,3})?) ?%$/.exec(line.trim())
    const size = percent ? undefined : parseSize(line, 'disk')
    if (size && !size.ok) {
      setSaid({ sentence: `Write how far it is, such as 43 % or 4.2 GiB: ${size.sentence}`, isWrong: true })
      return false
    }
    const bytes = percent ? (Number((percent[1] ?? '0').replace(',', '.')) / 100) * total : size?.ok ? size.bytes : 0
    return send({ samples: [{ at: new Date().toISOString(), bytes: Math.round(bytes) }] })
  }
  return (
    <div className="mt-2 text-dense print:hidden">
      <AddLine
        label="How far it is now"
        placeholder="43 % or 4.2 GiB"
        action="Add reading"
        maxLength={40}
        className="flex-wrap items-center py-1"
        fieldWidth="!w-44"
        add={typed}
      />
      <details className="py-1">
        <summary className="text-accent min-h-7 content-center">Paste what the tool prints</summary>
        <label className="block">
          <span className="text-soft">
            Lines of dd, pv or rsync, percentages or sizes; a time before each line counts, otherwise the last one is of now. Times without
            a zone are UTC.
          </span>
          <textarea
            className="field font-mono !h-28 w-full my-1"
            aria-label="What the tool prints"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        </label>
        <Button disabled={text.trim() === ''} onClick={() => void read()}>
          Read lines
        </Button>
        {doubt && (
          <p role="alert" className="text-warning flex flex-wrap items-center gap-2">
            {sayDoubt(doubt)}
            {doubt.answers.map(({ style, says }) => (
              <Button key={style} onClick={() => void read(style)}>
                {says}
              </Button>
            ))}
          </p>
        )}
      </details>
      <details
        className="py-1"
        open={isAddressOpen || move.progressAt !== null}
        onToggle={(event) => setAddressOpen(event.currentTarget.open)}
      >
        <summary className="text-accent min-h-7 content-center">Ask an address</summary>
        {move.progressAt === null ? (
          <AddLine
            label="Address"
            placeholder="http://127.0.0.1:8102/transfers/1"
            action="Ask it every 5 s"
            maxLength={200}
            className="flex-wrap items-center py-1"
            fieldWidth="!w-80"
            add={(progressAt) => record([{ type: 'migration.update', id: move.id, changes: { progressAt: progressAt.trim() } }])}
          />
        ) : (
          <>
            <p className="py-1 flex flex-wrap items-center gap-2">
              <span>
                <span className="font-mono break-all">{move.progressAt}</span>
                {asked.isRefused ? ' is not asked.' : ' is asked every 5 s while this page is open.'}
              </span>
              <Button
                look="quiet"
                className="!min-h-7"
                onClick={() => void record([{ type: 'migration.update', id: move.id, changes: { progressAt: null } }])}
              >
                {asked.isRefused ? 'Enter another' : 'Stop asking'}
              </Button>
            </p>
            {asked.trouble && <Trouble>{sentenceOf(asked.trouble)}</Trouble>}
          </>
        )}
      </details>
      {hasReadings &&
        (isForgetting ? (
          <p className="py-1 flex flex-wrap items-center gap-2">
            Forget every reading of this move? They cannot be brought back.
            <Button look="danger" onClick={() => void forget()}>
              Forget them
            </Button>
            <Button onClick={() => setForgetting(false)}>Keep them</Button>
          </p>
        ) : (
          <p className="py-1">
            <Button look="quiet" onClick={() => setForgetting(true)}>
              Forget all readings
            </Button>
          </p>
        ))}
      {said && (
        <p role="status" className={said.isWrong ? 'text-error' : 'text-soft'}>
          {said.sentence}
        </p>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </div>
  )
}
