import {
  dayAfter,
  drivesIn,
  formatField,
  formatLabelBytes,
  kinds,
  platformOf,
  type Field,
  type Host,
  type StepTool as Tool,
} from '@insel/core'
import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useToday } from '../../estate/today'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Trouble } from '../../ui/page'
import { Tick } from '../../ui/tick'
import { inputText, inputValue } from '../records/field-text'
import { ImageChoice } from '../sheets/image-choice'
import { ManagementCheck } from './management-check'

/** What a step of the build sheet needs besides being ticked. */
export function StepTool({ host, tool, allow }: { host: Host; tool: Tool; allow: (isAllowed: boolean) => void }) {
  const { to } = usePaths()
  switch (tool) {
    case 'materials':
      return (
        <Link className="text-accent text-dense name-link" to={to(`hosts/${host.id}/hardware`)}>
          Tick off the materials
        </Link>
      )
    case 'image':
      return <ImageOfHost host={host} />
    case 'stick':
      return <Stick host={host} />
    case 'wipe':
      return <Wipe host={host} allow={allow} />
    case 'management':
      return <ManagementCheck host={host} />
    case 'fingerprint':
      return <HostValue host={host} name="fingerprint" field={kinds.host.fields.fingerprint} />
    case 'trial':
      return <TrialEnd host={host} />
    default:
      // The tools of a guest’s sheet.
      return null
  }
}

function ImageOfHost({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  return (
    <>
      <ImageChoice
        chosen={estate.find('image', host.imageId)}
        images={estate.all('image')}
        strange={({ platformId }) => (platformId && platformId !== host.platformId ? 'of another platform' : undefined)}
        newImage={`?platformId=${host.platformId}`}
        choose={(imageId) => void record([{ type: 'host.update', id: host.id, changes: { imageId } }])}
      />
      {trouble && <Trouble>{trouble}</Trouble>}
    </>
  )
}

function Stick({ host }: { host: Host }) {
  const { record, trouble } = useRecord()
  return (
    <div className="my-1">
      <HostValue host={host} name="stickBytes" field={kinds.host.fields.stickBytes} />
      <label className="inline-flex items-center gap-2 text-dense min-h-7">
        <Tick
          isTicked={host.stickMayBeErased === 'yes'}
          onTick={(isTicked) => record([{ type: 'host.update', id: host.id, changes: { stickMayBeErased: isTicked ? 'yes' : null } }])}
        />
        I checked the stick’s content; it may be erased
      </label>
      {trouble && <Trouble>{trouble}</Trouble>}
    </div>
  )
}

/** The serial of each disk that will be wiped, typed by hand: nobody wipes by a click. */
function Wipe({ host, allow }: { host: Host; allow: (isAllowed: boolean) => void }) {
  const { estate } = useEstate()
  const targets = drivesIn(estate, host).filter(({ use, serial }) => use === 'install' && serial)
  const [typed, setTyped] = useState<Readonly<Record<string, string>>>({})
  const isSame = (id: string, serial: string | null) => (typed[id] ?? '').trim().toLowerCase() === (serial ?? '').toLowerCase()
  const isAllowed = targets.length > 0 && targets.every(({ id, serial }) => isSame(id, serial))
  useEffect(() => allow(isAllowed), [allow, isAllowed])
  if (targets.length === 0)
    return (
      <p className="text-dense text-error">
        Record the install disk and its serial first; until then this step can only be skipped or failed.
      </p>
    )
  return (
    <div className="my-1 text-dense">
      {targets.map((drive) => (
        <label key={drive.id} className="flex gap-2 items-center my-1">
          <span className="w-56">
            Serial on the screen, bay {drive.position}, {formatLabelBytes(drive.labelBytes)}
          </span>
          <input
            className="field font-mono !w-48 !min-h-7"
            autoComplete="off"
            spellCheck={false}
            value={typed[drive.id] ?? ''}
            aria-invalid={(typed[drive.id] ?? '') !== '' && !isSame(drive.id, drive.serial)}
            onChange={(event) => setTyped({ ...typed, [drive.id]: event.target.value })}
          />
          {(typed[drive.id] ?? '') !== '' &&
            (isSame(drive.id, drive.serial) ? 'the same' : <span className="text-error">not the planned one: stop</span>)}
        </label>
      ))}
    </div>
  )
}

function TrialEnd({ host }: { host: Host }) {
  const { estate } = useEstate()
  const today = useToday()
  const { trialDays } = platformOf(estate, host)
  return (
    <HostValue
      host={host}
      name="trialEndsOn"
      field={kinds.host.fields.trialEndsOn}
      proposed={trialDays ? dayAfter(today, trialDays) : undefined}
    />
  )
}

/** One value of the host, noted at the step where it becomes known. */
function HostValue({
  host,
  name,
  field,
  proposed,
}: {
  host: Host
  name: 'fingerprint' | 'stickBytes' | 'trialEndsOn'
  field: Field
  proposed?: string | undefined
}) {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  const [text, setText] = useState(() => inputText(field, host[name]) || (proposed ?? ''))
  const reading = inputValue(field, text)
  const sentence = 'sentence' in reading ? reading.sentence : undefined
  const isNoted = 'value' in reading && reading.value !== null && reading.value === host[name]
  // What a colleague notes meanwhile is said, and followed where nobody has typed.
  const recordedText = inputText(field, host[name])
  const [seen, setSeen] = useState(recordedText)
  if (recordedText !== seen) {
    setSeen(recordedText)
    if (text === seen || text === (proposed ?? '')) setText(recordedText)
  }
  return (
    <div className="my-1 text-dense">
      <div className="flex flex-wrap gap-2 items-center">
        <label htmlFor={`note-${name}`} className="w-40">
          {field.label}
        </label>
        <input
          id={`note-${name}`}
          className="field font-mono !min-h-7 max-w-full"
          // A fingerprint is compared by eye, so all of it is to be seen.
          style={{ width: `max(18rem, ${text.length + 4}ch)` }}
          value={text}
          aria-invalid={sentence !== undefined}
          onChange={(event) => setText(event.target.value)}
        />
        <Button
          className="!min-h-7"
          disabled={isNoted || text === '' || sentence !== undefined}
          onClick={() => 'value' in reading && void record([{ type: 'host.update', id: host.id, changes: { [name]: reading.value } }])}
        >
          {isNoted ? 'Noted' : 'Record it'}
        </Button>
      </div>
      {sentence && text !== '' && <p className="text-error">{sentence}</p>}
      {recordedText !== '' && !isNoted && !sentence && (
        <p role="alert">
          Recorded is <span className="font-mono">{formatField(estate, field, host[name])}</span>; saving replaces it.
        </p>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </div>
  )
}
