import { formatNumber, kinds, levelOf, lacksFor, processorLevels, type Host } from '@insel/core'
import { useState } from 'react'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Part, Trouble } from '../../ui/page'
import { inputValue } from '../records/field-text'

export function Processor({ host }: { host: Host }) {
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
        <Button look="quiet" className="!min-h-7" onClick={() => setFlags(flags === undefined ? (host.cpuFlags ?? '') : undefined)}>
          {flags === undefined ? 'Paste flags' : 'Close'}
        </Button>
      }
    >
      <dl className="facts [--label:176px] gap-y-1 text-dense py-1">
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
          <label htmlFor="flags" className="text-dense">
            Flags, as <span className="font-mono">lscpu</span> or <span className="font-mono">/proc/cpuinfo</span> show them
          </label>
          <textarea
            id="flags"
            rows={5}
            className="field font-mono text-small"
            spellCheck={false}
            value={flags}
            aria-invalid={sentence !== undefined}
            onChange={(event) => setFlags(event.target.value)}
          />
          <p className={`text-dense my-1 ${sentence ? 'text-error' : 'text-soft'}`}>
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
