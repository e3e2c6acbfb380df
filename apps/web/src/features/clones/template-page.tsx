import {
  cleaning,
  identityParts,
  kinds,
  newerVersionOf,
  sheetOf,
  templateOf,
  templateSheet,
  type Command,
  type Guest,
  type StepTool,
  type Template,
} from '@insel/core'
import { useState, type SyntheticEvent } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { useToday } from '../../estate/today'
import { useGo } from '../../lib/use-go'
import { useRecord } from '../../estate/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { Part, Trouble } from '../../ui/page'
import { GuestFrame } from '../frames/guest-frame'
import { SheetView } from '../sheets/sheet-view'

/** A template: its version, how it was prepared, the sheet that renews it, and the version after it. */
export function TemplatePage() {
  const { to } = usePaths()
  return (
    <GuestFrame
      actions={(guest) => (
        <>
          <ButtonLink look="primary" to={to(`guests/${guest.id}/clone`)}>
            Make copies
          </ButtonLink>
          <Button className="print:hidden" onClick={() => window.print()}>
            Print
          </Button>
        </>
      )}
    >
      {(guest) => <TemplateSheet key={guest.id} guest={guest} />}
    </GuestFrame>
  )
}

/** The parts that a template is freed of. */
const partsOf = (system: Parameters<typeof identityParts>[0]) => [...identityParts(system), ...cleaning]

type Changes = Partial<Omit<Template, 'id' | 'guestId'>>

/** What is recorded of a template's version, whether there is a record of it yet or not. */
const versionCommands = (version: Template | undefined, guest: Guest, changes: Changes): readonly Command[] => [
  version
    ? { type: 'template.update', id: version.id, changes }
    : { type: 'template.add', record: { id: newId(), guestId: guest.id, version: '1', ...changes } },
]

function TemplateSheet({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const sheet = sheetOf(estate, 'guestId', guest.id, 'renewal')
  return (
    <div className="beside">
      <SheetView
        sheet={sheet}
        built={templateSheet(estate, guest, sheet)}
        work={{
          of: 'guestId',
          id: guest.id,
          name: guest.name,
          title: 'Template sheet',
          kind: 'renewal',
          words: { done: 'Renewed', doing: 'Renewing', start: 'Start the renewal', work: 'Renewal', again: 'Start a new renewal' },
          tool: (tool) => <TemplateTool guest={guest} tool={tool} />,
        }}
      />
      <div>
        <VersionFacts guest={guest} />
        <NextVersion guest={guest} />
      </div>
    </div>
  )
}

function VersionFacts({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const day = useToday()
  const { record, trouble } = useRecord()
  const [reason, setReason] = useState('')
  const version = templateOf(estate, guest.id)
  const older = estate.find('guest', version?.supersedesId)
  const newer = newerVersionOf(estate, guest.id)
  const copies = estate.referring('guest', 'clonedFromId', guest.id).filter(({ kind }) => kind === 'machine')
  return (
    <Part
      title={version ? `Version ${version.version}` : 'No version recorded'}
      aside={
        <Link
          className="link target"
          to={to(version ? `records/template/${version.id}` : `records/template/new?guestId=${guest.id}&version=1`)}
        >
          {version ? 'Change' : 'Record a version'}
        </Link>
      }
    >
      <dl className="facts [--label:150px] gap-y-1 text-dense py-1">
        <dt className="text-faint">Last patched</dt>
        <dd>{version?.patchedOn ?? 'not recorded'}</dd>
        <dt className="text-faint">Installed</dt>
        <dd className="break-words">{version?.installed ?? 'not recorded'}</dd>
        {partsOf(estate.find('system', guest.systemId)).map(({ field, label }) => (
          <PartFact key={field} label={`Free of ${label}`} value={version?.[field] ?? 'unknown'} />
        ))}
        <dt className="text-faint">Supersedes</dt>
        <dd>
          {older ? (
            <Link className="link" to={to(`guests/${older.id}/template`)}>
              {older.name}
            </Link>
          ) : (
            (version?.supersedesName ?? 'nothing')
          )}
        </dd>
        {newer && (
          <>
            <dt className="text-faint">Superseded by</dt>
            <dd>
              <Link className="link" to={to(`guests/${newer.id}/template`)}>
                {newer.name}
              </Link>
            </dd>
          </>
        )}
        <dt className="text-faint">Copies</dt>
        <dd>{copies.length === 0 ? 'none' : copies.map(({ name }) => name).join(', ')}</dd>
      </dl>
      {trouble && <Trouble>{trouble}</Trouble>}
      {version && version.withdrawnOn === null ? (
        <form
          className="flex flex-wrap gap-2 mt-2 items-end"
          onSubmit={(event) => {
            event.preventDefault()
            void record([{ type: 'template.update', id: version.id, changes: { withdrawnOn: day, withdrawnFor: reason.trim() || null } }])
          }}
        >
          <label className="text-dense">
            <span className="block text-soft">Why it is withdrawn</span>
            <input className="field !w-56" maxLength={200} value={reason} onChange={(event) => setReason(event.target.value)} />
          </label>
          <Button type="submit" look="danger" disabled={reason.trim() === ''}>
            Withdraw version
          </Button>
        </form>
      ) : (
        version && (
          <p className="text-warning text-dense mt-2">
            Withdrawn since {version.withdrawnOn}
            {version.withdrawnFor && `: ${version.withdrawnFor}`}.{' '}
            <Button
              look="quiet"
              className="!min-h-7"
              onClick={() => void record([{ type: 'template.update', id: version.id, changes: { withdrawnOn: null, withdrawnFor: null } }])}
            >
              Offer it again
            </Button>
          </p>
        )
      )}
    </Part>
  )
}

const PartFact = ({ label, value }: { label: string; value: Template['nameRemoved'] }) => (
  <>
    <dt className="text-faint">{label}</dt>
    <dd className={value === 'no' ? 'text-error' : value === 'unknown' ? 'text-warning' : ''}>{value}</dd>
  </>
)

/** The next version: a copy that is worked on while this one is still copied. */
function NextVersion({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const { record, trouble } = useRecord()
  const day = useToday()
  const [version, setVersion] = useState('')
  const [id] = useState(newId)
  if (guest.kind !== 'template' || newerVersionOf(estate, guest.id)) return null
  const wanted = version.trim() || day.slice(0, 7)
  const name = `${guest.name.replace(/-\d{4}-\d{2}(-\d{2})?$/, '')}-${wanted.replaceAll(/[^A-Za-z0-9-]+/g, '-')}`
  const renew = async (event: SyntheticEvent) => {
    event.preventDefault()
    if (await record([{ type: 'template.renew', guestId: guest.id, id, name, version: wanted }])) await go(to(`guests/${id}/template`))
  }
  return (
    <Part title="Next version">
      <form className="flex flex-wrap gap-2 items-end" onSubmit={(event) => void renew(event)}>
        <label className="text-dense">
          <span className="block text-soft">Version</span>
          <input
            className="field !w-36"
            maxLength={60}
            placeholder={day.slice(0, 7)}
            value={version}
            onChange={(event) => setVersion(event.target.value)}
          />
        </label>
        <Button type="submit">
          Begin <span className="font-mono">{name}</span>
        </Button>
      </form>
      <p className="text-faint text-dense mt-1">A copy of this template that is renewed by its own sheet and supersedes it.</p>
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}

/** What a step of the template sheet needs besides being ticked. */
function TemplateTool({ guest, tool }: { guest: Guest; tool: StepTool }) {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  const day = useToday()
  const version = templateOf(estate, guest.id)
  const press = (label: string, commands: readonly Command[]) => (
    <Button className="!min-h-7 my-1" onClick={() => void record(commands)}>
      {label}
    </Button>
  )
  const body = () => {
    switch (tool) {
      case 'state':
        return guest.state === 'running'
          ? null
          : press('Record it as running', [{ type: 'guest.power', guestId: guest.id, state: 'running' }])
      case 'template stop':
        return guest.state === 'running'
          ? press('Record it as stopped', [{ type: 'guest.power', guestId: guest.id, state: 'stopped' }])
          : null
      case 'template patched':
        return version?.patchedOn === day ? null : press('Record it as patched today', versionCommands(version, guest, { patchedOn: day }))
      case 'template installed':
        return <Installed key={version?.installed ?? ''} guest={guest} version={version} record={record} />
      case 'template parts':
        return (
          <div className="my-1">
            {press(
              'All of it was removed',
              versionCommands(
                version,
                guest,
                Object.fromEntries(partsOf(estate.find('system', guest.systemId)).map(({ field }) => [field, 'yes'])),
              ),
            )}
            <div className="flex flex-wrap gap-x-4 gap-y-1">
              {partsOf(estate.find('system', guest.systemId)).map(({ field, label }) => (
                <label key={field} className="text-dense flex gap-1.5 items-center">
                  {label}
                  <select
                    className="field !w-28 !min-h-7"
                    value={version?.[field] ?? 'unknown'}
                    onChange={(event) => void record(versionCommands(version, guest, { [field]: event.target.value }))}
                  >
                    {kinds.template.fields[field].options.map((option) => (
                      <option key={option}>{option}</option>
                    ))}
                  </select>
                </label>
              ))}
            </div>
          </div>
        )
      case 'eject':
        return guest.mediumId || guest.bootFirst !== 'disk'
          ? press('Record it as ejected, disk first', [
              { type: 'guest.update', id: guest.id, changes: { mediumId: null, bootFirst: 'disk' } },
            ])
          : null
      case 'template mark':
        return (
          <>
            {guest.kind !== 'template' &&
              press('Record it as a template', [{ type: 'guest.update', id: guest.id, changes: { kind: 'template' } }])}
            {!version && press('Record version 1', versionCommands(version, guest, {}))}
          </>
        )
      default:
        return null
    }
  }
  return (
    <>
      {body()}
      {trouble && <Trouble>{trouble}</Trouble>}
    </>
  )
}

function Installed({
  guest,
  version,
  record,
}: {
  guest: Guest
  version: Template | undefined
  record: (commands: readonly Command[]) => Promise<boolean>
}) {
  const [text, setText] = useState(version?.installed ?? '')
  return (
    <form
      className="flex flex-wrap gap-2 my-1"
      onSubmit={(event) => {
        event.preventDefault()
        void record(versionCommands(version, guest, { installed: text.trim() || null }))
      }}
    >
      <input
        className="field !w-72"
        aria-label="What is installed"
        maxLength={400}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <Button type="submit" className="!min-h-7" disabled={text === (version?.installed ?? '')}>
        Record
      </Button>
    </form>
  )
}
