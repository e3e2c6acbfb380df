import {
  circuitLoads,
  CONTINUOUS_SHARE,
  ELECTRICAL_CAUTION,
  formatMiB,
  formatNumber,
  HANDLING_CAUTION,
  heat,
  kinds,
  levelOf,
  lacksFor,
  materialsOf,
  moduleView,
  nestingOf,
  processorLevels,
  surveyHost,
  tickMaterial,
  type Command,
  type Host,
  type ModuleView,
} from '@insel/core'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { useToday } from '../../lib/today'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../lib/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { Ledger } from '../../ui/ledger'
import { Mark } from '../findings/mark'
import { Part, Trouble } from '../../ui/page'
import { Tick } from '../../ui/tick'
import { inputValue } from '../records/field-text'
import { HostFrame } from './host-frame'
import { SurveyLines, VerdictWord } from './survey-view'

/** A host's hardware in full, beside whether it will do for its platform and what the build still needs. */
export function HardwarePage() {
  const { to } = usePaths()
  return (
    <HostFrame actions={(host) => <ButtonLink to={to(`records/host/${host.id}`)}>Change</ButtonLink>}>
      {(host) => (
        <div className="grid lg:grid-cols-[minmax(0,1fr)_420px] gap-x-10">
          <div>
            <Processor host={host} />
            <Modules host={host} />
            <Boards host={host} />
            <Power host={host} />
          </div>
          <div>
            <Verdict host={host} />
            <Materials host={host} />
            <Nesting host={host} />
          </div>
        </div>
      )}
    </HostFrame>
  )
}

function Verdict({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const today = useToday()
  const platforms = estate.all('platform')
  const [platformId, setPlatform] = useState(host.platformId)
  const platform = estate.find('platform', platformId)
  const survey = useMemo(() => surveyHost(estate, host, today, platform), [estate, host, today, platform])
  return (
    <Part
      title="Will it do?"
      aside={
        <Link className="text-accent text-[13px] hover:underline" to={to('hosts/releases')}>
          All hosts
        </Link>
      }
    >
      <div className="flex items-center gap-3 py-2">
        <select
          className="field !w-44"
          aria-label="Platform to hold it against"
          value={platformId}
          onChange={(event) => setPlatform(event.target.value)}
        >
          {platforms.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
        <b role="status">
          <VerdictWord survey={survey} />
        </b>
      </div>
      <SurveyLines survey={survey} />
    </Part>
  )
}

function Processor({ host }: { host: Host }) {
  const { record, trouble } = useRecord()
  const [flags, setFlags] = useState<string>()
  const reading = levelOf(host.cpuFlags ?? '')
  const typed = flags === undefined ? undefined : inputValue(kinds.host.fields.cpuFlags, flagsIn(flags))
  const sentence = typed && 'sentence' in typed ? typed.sentence : undefined
  const save = async () => {
    if (!typed || !('value' in typed)) return
    if (await record([{ type: 'host.update', id: host.id, changes: { cpuFlags: typed.value as string | null } }])) setFlags(undefined)
  }
  return (
    <Part
      title="Processor"
      aside={
        <Button look="quiet" className="!min-h-6" onClick={() => setFlags(flags === undefined ? (host.cpuFlags ?? '') : undefined)}>
          {flags === undefined ? 'Paste flags' : 'Close'}
        </Button>
      }
    >
      <dl className="grid grid-cols-[176px_1fr] gap-y-1 text-[13px] py-1">
        <dt className="text-faint">Processor</dt>
        <dd>{host.processorModel ?? 'not recorded'}</dd>
        <dt className="text-faint">Sockets × cores × threads</dt>
        <dd>
          {host.sockets} × {host.coresPerSocket} × {host.threadsPerCore}, {host.sockets * host.coresPerSocket} cores,{' '}
          {host.sockets * host.coresPerSocket * host.threadsPerCore} logical CPUs
        </dd>
        <dt className="text-faint">Clock</dt>
        <dd>{host.clockMHz ? `${formatNumber(host.clockMHz / 1000, 2)} GHz` : 'not recorded'}</dd>
        <dt className="text-faint">Baseline level</dt>
        <dd>
          {host.cpuFlags ? (
            <>
              <b>{reading.level ?? 'below x86-64-v1'}</b>
              {reading.missing.length > 0 && (
                <span className="text-soft">
                  , lacks {reading.missing.join(', ')} for {nextLevel(reading.level)}
                </span>
              )}
            </>
          ) : (
            'not known: the flags are not recorded'
          )}
        </dd>
      </dl>
      {flags !== undefined && (
        <div className="mt-2">
          <label htmlFor="flags" className="text-[13px]">
            Flags, as <span className="font-mono">lscpu</span> or <span className="font-mono">/proc/cpuinfo</span> show them
          </label>
          <textarea
            id="flags"
            rows={5}
            className="field font-mono text-[12px]"
            spellCheck={false}
            value={flags}
            aria-invalid={sentence !== undefined}
            onChange={(event) => setFlags(event.target.value)}
          />
          <p className={`text-[13px] my-1 ${sentence ? 'text-error' : 'text-soft'}`}>
            {sentence ?? levelSentence(typed && 'value' in typed ? String(typed.value ?? '') : '')}
          </p>
          <Button look="primary" disabled={!typed || !('value' in typed)} onClick={() => void save()}>
            Record flags
          </Button>
        </div>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}

/** The flags in what was pasted: the line that is named so, or all of it. */
const flagsIn = (text: string): string => /^[ \t]*flags[ \t]*:(.*)$/im.exec(text)?.[1] ?? text

const nextLevel = (level: ReturnType<typeof levelOf>['level']) => processorLevels[level ? processorLevels.indexOf(level) + 1 : 0] ?? ''

function levelSentence(flags: string): string {
  const { level } = levelOf(flags)
  if (flags === '') return 'No flags yet.'
  return level ? `Reads as ${level}.` : `Below x86-64-v1: ${lacksFor('x86-64-v1', flags).join(', ')} missing. Is this the whole line?`
}

function Modules({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const view = moduleView(estate, host)
  const most = Math.max(1, ...view.slots.map(({ module }) => module?.sizeMiB ?? 0))
  const firstFree = view.slots.find(({ module }) => !module)?.slot ?? view.slots.length + 1
  return (
    <Part
      title="Memory"
      aside={
        <ButtonLink look="quiet" className="!min-h-6" to={to(`records/module/new?hostId=${host.id}&slot=${firstFree}`)}>
          Add a module
        </ButtonLink>
      }
    >
      <p className="text-[13px] py-1">
        <b>{formatMiB(host.memoryMiB)} usable</b>
        {view.fittedMiB > 0 && `, ${formatMiB(view.fittedMiB)} fitted`}
        {view.plannedMiB > 0 && `, ${formatMiB(view.plannedMiB)} more planned`}
        {view.isSlotCountKnown ? `, ${view.free} of ${view.slots.length} slots free` : ', number of slots not recorded'}
      </p>
      {view.slots.length > 0 && (
        <ul className="flex flex-wrap gap-1.5 items-end py-1" aria-label="Memory slots">
          {view.slots.map(({ slot, module }) => (
            <li key={slot}>
              <Link
                to={module ? to(`records/module/${module.id}`) : to(`records/module/new?hostId=${host.id}&slot=${slot}`)}
                aria-label={`Slot ${slot}: ${module ? `${formatMiB(module.sizeMiB)}, ${module.state}` : 'free'}`}
                className={`flex flex-col justify-end w-[46px] border text-[11px] leading-tight text-center hover:border-accent ${module ? (module.state === 'planned' ? 'border-dashed border-fill' : 'border-fill') : 'border-dashed border-rule text-faint'}`}
                style={{ height: 74 }}
              >
                <span className="px-0.5">{module ? formatMiB(module.sizeMiB).replace(' ', '\u2009') : 'free'}</span>
                <span
                  aria-hidden
                  className={module?.state === 'planned' ? 'hatch' : 'bg-fill/70'}
                  style={{ height: module ? 10 + (28 * module.sizeMiB) / most : 0 }}
                />
                <span className="bg-sheet border-t border-rule font-mono">{slot}</span>
              </Link>
            </li>
          ))}
        </ul>
      )}
      {view.plannedMiB > 0 && (
        <p className="text-[13px] py-1 flex gap-3 items-center">
          With what is planned about {formatMiB(host.memoryMiB + view.plannedMiB)} usable.
          <Button
            className="!min-h-7"
            onClick={() => void record(fitModules(host, view), `${formatMiB(view.plannedMiB)} fitted in ${host.name}`)}
          >
            It is in: record it
          </Button>
        </p>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
      {view.remarks.map((remark) => (
        <p key={remark} className="flex gap-2 text-[13px] py-0.5">
          <span className="pt-0.5">
            <Mark of="remark" />
          </span>
          {remark}
        </p>
      ))}
    </Part>
  )
}

/** Planned modules are in the machine, and what is usable grows by them. */
const fitModules = (host: Host, view: ModuleView): readonly Command[] => [
  ...view.slots.flatMap(({ module }): Command[] =>
    module?.state === 'planned' ? [{ type: 'module.update', id: module.id, changes: { state: 'fitted' } }] : [],
  ),
  { type: 'host.update', id: host.id, changes: { memoryMiB: host.memoryMiB + view.plannedMiB } },
]

function Boards({ host }: { host: Host }) {
  return (
    <Part title="Firmware and controllers">
      <dl className="grid grid-cols-[176px_1fr] gap-y-1 text-[13px] py-1">
        <dt className="text-faint">Firmware mode</dt>
        <dd>{host.firmware ?? 'not recorded'}</dd>
        <dt className="text-faint">Secure boot</dt>
        <dd>{host.secureBoot ?? 'not recorded'}</dd>
        <dt className="text-faint">Storage controllers</dt>
        <dd className="font-mono">{host.controllers ?? 'not recorded'}</dd>
      </dl>
    </Part>
  )
}

function Power({ host }: { host: Host }) {
  const { estate } = useEstate()
  if (host.kind === 'nested') return null
  const load = circuitLoads(estate).find(({ circuit, site }) => circuit === host.circuit && site === host.site)
  return (
    <Part title="Power and heat">
      <dl className="grid grid-cols-[176px_1fr] gap-y-1 text-[13px] py-1">
        <dt className="text-faint">Draw</dt>
        <dd>{host.drawWatts ? `${host.drawWatts} W, ${formatNumber(heat(host.drawWatts), 0)} BTU/h of heat` : 'not recorded'}</dd>
        <dt className="text-faint">Circuit</dt>
        <dd>
          {!load
            ? 'not recorded'
            : load.share === undefined
              ? `${load.circuit}, rating not recorded`
              : `${load.circuit}: ${formatNumber(load.watts, 0)} of ${formatNumber(load.ratedWatts ?? 0, 0)} W, ${formatNumber(load.share * 100, 0)} %${load.share > CONTINUOUS_SHARE ? ', over the usual 80 %' : ''}, with ${load.hosts.map(({ name }) => name).join(', ')}`}
        </dd>
      </dl>
      <p className="text-[12px] text-soft border-l-2 border-warning pl-2 my-1">
        {ELECTRICAL_CAUTION} {HANDLING_CAUTION}
      </p>
    </Part>
  )
}

function Materials({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  const lines = materialsOf(estate, host)
  if (lines.length === 0) return null
  const missing = lines.filter(({ isAtHand }) => !isAtHand).length
  return (
    <Part
      title="Materials for the build"
      aside={<span className="text-[13px] text-soft">{missing === 0 ? 'all at hand' : `${missing} to get`}</span>}
    >
      <ul>
        {lines.map((line) => (
          <li key={line.key} className="flex gap-2 py-1 border-t border-line first:border-0 text-[13px]">
            <Tick
              id={`material-${line.key}`}
              isTicked={line.isAtHand}
              isDisabled={line.there >= line.count}
              onTick={(isTicked) =>
                record(
                  [{ type: 'host.update', id: host.id, changes: { atHand: tickMaterial(host, line.key, isTicked) || null } }],
                  `${line.what}: ${isTicked ? 'at hand' : 'to get'}`,
                )
              }
            />
            <label htmlFor={`material-${line.key}`} className="flex-1">
              <b className="font-medium">
                {line.count} × {line.what}
              </b>
              {line.there > 0 && line.there < line.count && `, ${line.there} there`}
              <span className="block text-faint">{line.because}</span>
              {line.problem && <span className="block text-error">{line.problem}</span>}
            </label>
          </li>
        ))}
      </ul>
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}

function Nesting({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const layers = nestingOf(estate, host)
  if (layers.length === 0) return null
  return (
    <Part title="Counted on the outer hosts">
      <Ledger headings={['on host', 'as guest', 'vCPU', 'memory']}>
        {layers.map(({ outer, guestName, vcpu, memoryMiB }) => (
          <tr key={outer.id}>
            <td>
              <Link className="name-link" to={to(`hosts/${outer.id}`)}>
                {outer.name}
              </Link>
            </td>
            <td>{guestName}</td>
            <td className="font-mono">{vcpu}</td>
            <td className="font-mono">{formatMiB(memoryMiB)}</td>
          </tr>
        ))}
      </Ledger>
    </Part>
  )
}
