import {
  timeZoneOf,
  formatNumber,
  keepAsFinding,
  redfishSystems,
  TEXT_MAX,
  type Command,
  type ComparedLine,
  type Estate,
  type FoundHost,
  type FoundReading,
  type RedfishTree,
} from '@insel/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState, type ReactNode } from 'react'
import { useFoundReading } from '../../checks/checks'
import { api, ProblemResponse, Unreachable, type MachineRef } from '../../lib/api'
import { useEstate } from '../../estate'
import { formatInstant } from '../../lib/time'
import { useRecord } from '../../lib/use-record'
import { Button } from '../../ui/button'
import { Mark } from '../findings/mark'
import { Part, Trouble } from '../../ui/page'

/** What was taken in: the text, where it came from, and for a controller which of its systems is meant. */
export interface Taken {
  readonly text: string
  readonly source: string
  readonly tree?: RedfishTree
  readonly system?: string
}

/** The machine whose findings are looked at, and how they are held against its plan. The same object from render to render. */
export interface FoundWork {
  readonly of: MachineRef
  readonly name: string
  readonly compare: (estate: Estate, found: FoundHost) => readonly ComparedLine[]
  readonly takeOver: (estate: Estate, lines: readonly ComparedLine[], all: readonly ComparedLine[]) => readonly Command[]
  /** Further ways for texts to come in. */
  readonly more?: (take: (taken: Taken) => void) => ReactNode
}

const NOTHING: Taken = { text: '', source: 'pasted' }
/** Longer texts are not put into the field, characters. */
const SHOWN_MAX = 200_000

const longText = ({ tree, source, text }: Taken) =>
  tree ? `${source}: ${Object.keys(tree.redfish).length} resources read` : `${source}: ${formatNumber(text.length / 1e6, 2)} MB read`

/** Planned beside found: pasted, dropped, collected, or whatever else the machine offers. */
export function FoundView({ work }: { work: FoundWork }) {
  const [{ taken, taking }, setTaken] = useState({ taken: NOTHING, taking: 0 })
  const take = (next: Taken) => setTaken((before) => ({ taken: next, taking: before.taking + 1 }))
  const [tooLarge, setTooLarge] = useState<string>()
  const { text } = taken
  const reading = useFoundReading(taking, text, taken.system).data
  // A text of megabytes is read, not shown: a field that long would hold up the page.
  const isLong = taken.tree !== undefined || text.length > SHOWN_MAX
  const open = async (file: File) => {
    setTooLarge(undefined)
    if (file.size > TEXT_MAX)
      return setTooLarge(
        `${file.name} has ${formatNumber(file.size / 1e6)} MB; at most ${TEXT_MAX / 1e6} MB are read. Nothing was changed.`,
      )
    take({ text: await file.text(), source: file.name })
    return undefined
  }
  return (
    <div className="grid xl:grid-cols-[minmax(0,1fr)_400px] gap-x-10">
      <div>
        <div
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => {
            event.preventDefault()
            const file = event.dataTransfer.files[0]
            if (file) void open(file)
          }}
        >
          <label htmlFor="found-text" className="text-[13px] text-soft">
            Paste or drop the output of lscpu, lsblk, ip, free, dmidecode, ethtool or lshw, several one after the other
          </label>
          <textarea
            id="found-text"
            rows={isLong ? 2 : reading && reading.sources.length > 0 ? 4 : 8}
            className="field font-mono text-[12px] mt-1"
            spellCheck={false}
            placeholder={'lscpu --json\nlsblk --json --bytes -o +MODEL,SERIAL,TYPE,ROTA\nip -json address\nfree -b'}
            value={isLong ? longText(taken) : text}
            readOnly={isLong}
            onChange={(event) => take({ text: event.target.value, source: 'pasted' })}
          />
          <div className="flex flex-wrap gap-3 items-center text-[13px] mt-1">
            <label className="inline-flex gap-2 items-center">
              or a file: <input type="file" onChange={(event) => event.target.files?.[0] && void open(event.target.files[0])} />
            </label>
            {taken.text !== '' && (
              <Button className="!min-h-7" onClick={() => take(NOTHING)}>
                Clear
              </Button>
            )}
          </div>
          {tooLarge && <Trouble>{tooLarge}</Trouble>}
        </div>
        {taken.tree && redfishSystems(taken.tree).length > 1 && (
          <label className="flex gap-2 items-center text-[13px] my-2">
            Which of its systems is {work.name}?
            <select className="field !w-72" value={taken.system ?? ''} onChange={(event) => take({ ...taken, system: event.target.value })}>
              {redfishSystems(taken.tree).map(({ path, name, model }) => (
                <option key={path} value={path}>
                  {name}
                  {model && `, ${model}`}
                </option>
              ))}
            </select>
          </label>
        )}
        {text.trim() !== '' && reading && <Reading reading={reading} />}
        {text.trim() !== '' && reading && reading.sources.length > 0 && <Comparison work={work} reading={reading} source={taken.source} />}
      </div>
      <div>
        <Collector work={work} take={take} />
        {work.more?.(take)}
      </div>
    </div>
  )
}

function Reading({ reading }: { reading: FoundReading }) {
  const shown = reading.unread.slice(0, 8)
  return (
    <div className="my-2" role="status">
      {reading.sources.length > 0 && <p className="text-[13px]">Read: {reading.sources.join(', ')}.</p>}
      {shown.map(({ line, text, sentence }) => (
        <p key={`${line} ${sentence}`} className="text-[13px] text-error">
          {text && `Line ${line}, `}
          {text && <span className="font-mono">{text.length > 60 ? `${text.slice(0, 60)}…` : text}: </span>}
          {sentence}
        </p>
      ))}
      {reading.unread.length > shown.length && (
        <p className="text-[13px] text-error">And {reading.unread.length - shown.length} more lines.</p>
      )}
    </div>
  )
}

function Comparison({ work, reading, source }: { work: FoundWork; reading: FoundReading; source: string }) {
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
      (await record(work.takeOver(estate, able, lines), `Taken over from ${source}: ${able.map(({ about }) => about).join(', ')}`))
    )
      choose(new Set())
  }
  const keep = async () => {
    const seenAt = new Date().toISOString()
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
      title={differing.length === 0 ? 'Found as planned' : `Found otherwise, ${differing.length}`}
      aside={
        <Button look="quiet" className="!min-h-6" onClick={() => setAll(!isAll)}>
          {isAll ? 'Only what differs' : `Show all ${lines.length}`}
        </Button>
      }
    >
      {shown.length === 0 ? (
        <p className="text-[13px] py-1">{lines.length} things were compared; all are as recorded.</p>
      ) : (
        <>
          <div className="flex flex-wrap gap-2 items-center py-2">
            <Button onClick={() => choose(new Set(chosen.size > 0 ? [] : takeable.map(({ key }) => key)))}>
              {chosen.size > 0 ? 'Choose none' : `Choose all ${takeable.length} that can be taken over`}
            </Button>
            <Button look="primary" disabled={!picked.some(({ takeOver: commands }) => commands.length > 0)} onClick={() => void accept()}>
              Take over {picked.filter(({ takeOver: commands }) => commands.length > 0).length || ''}
            </Button>
            <Button disabled={picked.length === 0} onClick={() => void keep()}>
              Keep as findings
            </Button>
          </div>
          <table className="ledger w-full text-[13px]">
            <thead>
              <tr>
                <th scope="col" className="w-7">
                  <span className="sr-only">choose</span>
                </th>
                <th scope="col">about</th>
                <th scope="col">planned</th>
                <th scope="col">found</th>
              </tr>
            </thead>
            <tbody>
              {shown.map((line) => (
                <ComparedRow key={line.key} line={line} isChosen={chosen.has(line.key)} toggle={toggle} />
              ))}
            </tbody>
          </table>
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
        {!line.isSame && line.takeOver.length === 0 && <span className="block text-faint">to be decided by hand</span>}
      </td>
    </tr>
  )
}

export const sentenceOf = (error: unknown): string => {
  if (error instanceof ProblemResponse || error instanceof Unreachable) return error.message
  throw error
}

function Collector({ work, take }: { work: FoundWork; take: (taken: Taken) => void }) {
  const { estate, estateId } = useEstate()
  const timeZone = timeZoneOf(estate)
  const [command, setCommand] = useState<string>()
  const [trouble, setTrouble] = useState<string>()
  const list = useQuery({
    queryKey: ['collections', estateId, work.of],
    queryFn: () => api.collections(estateId, work.of),
    // While somebody stands at the machine, what it sends should appear by itself.
    refetchInterval: command ? 3000 : false,
  })
  const start = async () => {
    setTrouble(undefined)
    try {
      setCommand((await api.startCollection(estateId, work.of)).command)
    } catch (error) {
      setTrouble(sentenceOf(error))
    }
  }
  const open = async (id: string, receivedAt: string) => {
    try {
      const { text } = await api.collection(estateId, id)
      take({ text, source: `collected ${formatInstant(receivedAt, timeZone)}` })
    } catch (error) {
      setTrouble(sentenceOf(error))
    }
  }
  return (
    <Part title="Let the machine tell">
      <p className="text-[13px] text-soft py-1">
        A shell script that only reads, shows what it would send, and asks before it does. Its code is good for half an hour and one text.
      </p>
      {command ? (
        <>
          <pre
            className="font-mono text-[12px] bg-sheet border border-rule rounded-md p-2 whitespace-pre-wrap break-all"
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
        <Button onClick={() => void start()}>Make a collector command</Button>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
      {list.isError && <Trouble>{list.error.message}</Trouble>}
      <ul className="text-[13px] mt-2" aria-label="Collected texts">
        {(list.data ?? []).map(({ id, receivedAt }) => (
          <li key={id} className="flex items-center gap-3 border-t border-line py-1">
            <span className="flex-1">{formatInstant(receivedAt, timeZone)}</span>
            <Button look="quiet" className="!min-h-6" onClick={() => void open(id, receivedAt)}>
              Compare
            </Button>
          </li>
        ))}
      </ul>
    </Part>
  )
}
