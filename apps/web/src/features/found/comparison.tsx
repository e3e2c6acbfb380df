import { counted, keepAsFinding, type ComparedLine, type FoundReading } from '@insel/core'
import { useMemo, useState } from 'react'
import { useEstate } from '../../estate'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Mark } from '../../ui/mark'
import { Part, Trouble } from '../../ui/page'
import type { FoundWork } from './found-work'
import { now } from '../../lib/time'
import { LedgerTable } from '../../ui/scrolling'

export function Comparison({ work, reading, source }: { work: FoundWork; reading: FoundReading; source: string }) {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  const lines = useMemo(() => work.compare(estate, reading.found), [estate, work, reading])
  const [isAll, setAll] = useState(false)
  const [chosen, choose] = useState<ReadonlySet<string>>(new Set())
  const differing = lines.filter(({ isSame }) => !isSame)
  const takeable = differing.filter(({ takeOver: commands }) => commands.length > 0)
  const picked = differing.filter(({ key }) => chosen.has(key))
  const shown = isAll ? lines : differing
  const toggle = (key: string, isOn: boolean) => {
    const next = new Set(chosen)
    if (isOn) next.add(key)
    else next.delete(key)
    choose(next)
  }
  const accept = async () => {
    const able = picked.filter(({ takeOver: commands }) => commands.length > 0)
    if (
      able.length > 0 &&
      (await record(work.takeOver(estate, able, lines), `Updated from ${source}: ${able.map(({ about }) => about).join(', ')}`))
    )
      choose(new Set())
  }
  const keep = async () => {
    const seenAt = now()
    if (
      await record(
        picked.flatMap((line) => keepAsFinding(estate, work.of, line, source, seenAt)),
        `${picked.length} kept as findings`,
      )
    )
      choose(new Set())
  }
  return (
    <Part
      title={differing.length === 0 ? 'As recorded' : `Different, ${differing.length}`}
      aside={
        <Button look="quiet" className="!min-h-7" onClick={() => setAll(!isAll)}>
          {isAll ? 'Only what differs' : `Show all ${lines.length}`}
        </Button>
      }
    >
      {shown.length === 0 ? (
        <p className="text-dense py-1">{counted(lines.length, 'thing')} were compared; all match the record.</p>
      ) : (
        <>
          <div className="flex flex-wrap gap-2 items-center py-2">
            <Button onClick={() => choose(new Set(chosen.size > 0 ? [] : takeable.map(({ key }) => key)))}>
              {chosen.size > 0 ? 'Choose none' : `Choose all ${takeable.length} that can be updated`}
            </Button>
            <Button look="primary" disabled={!picked.some(({ takeOver: commands }) => commands.length > 0)} onClick={() => void accept()}>
              Update record {picked.filter(({ takeOver: commands }) => commands.length > 0).length || ''}
            </Button>
            <Button disabled={picked.length === 0} onClick={() => void keep()}>
              Keep as findings
            </Button>
          </div>
          <LedgerTable>
            <thead>
              <tr>
                <th scope="col" className="w-7">
                  <span className="sr-only">choose</span>
                </th>
                <th scope="col">about</th>
                <th scope="col">recorded</th>
                <th scope="col">found</th>
              </tr>
            </thead>
            <tbody>
              {shown.map((line) => (
                <ComparedRow key={line.key} line={line} isChosen={chosen.has(line.key)} toggle={toggle} />
              ))}
            </tbody>
          </LedgerTable>
        </>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}

function ComparedRow({ line, isChosen, toggle }: { line: ComparedLine; isChosen: boolean; toggle: (key: string, isOn: boolean) => void }) {
  return (
    <tr className={line.isSame ? 'text-soft' : ''}>
      <td>
        {line.isSame ? (
          <Mark of="fits" />
        ) : (
          <input
            type="checkbox"
            aria-label={`Choose ${line.about}`}
            className="size-4 accent-[var(--accent)]"
            checked={isChosen}
            onChange={(event) => toggle(line.key, event.target.checked)}
          />
        )}
      </td>
      <td className="font-medium whitespace-nowrap">{line.about}</td>
      <td className="wrap-anywhere">{line.planned}</td>
      <td className={`wrap-anywhere ${line.isSame ? '' : 'text-ink'}`}>
        {line.found}
        {!line.isSame && line.takeOver.length === 0 && (
          <span className="block text-faint">{line.byHand ? `decide by hand: ${line.byHand}` : 'decide by hand'}</span>
        )}
      </td>
    </tr>
  )
}
