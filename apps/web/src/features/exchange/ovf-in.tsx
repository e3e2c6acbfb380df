import { counted, formatBytes, type ManifestCheck, type OvfReading, readOvf, XML_MAX } from '@insel/core'
import { proxy } from 'comlink'
import { useMemo, useRef, useState } from 'react'
import { inWorker } from '../../lib/in-worker'
import { WorkFailed } from '../../lib/work-failed'
import { Button } from '../../ui/button'
import { Part, Trouble } from '../../ui/page'
import type { Packages } from './ovf-package.worker'
import { SystemDraft } from './system-draft'
import { Choice } from '../../ui/choice'
import { FileChoice } from '../../ui/file-choice'

interface Opened {
  readonly name: string
  readonly text: string
  /** As it is read in the descriptor's own default. */
  readonly reading: OvfReading
  readonly manifest?: readonly ManifestCheck[] | undefined
}

/** Machines of a descriptor or package, in. */
export function OvfIn() {
  const [opened, setOpened] = useState<Opened>()
  const [trouble, setTrouble] = useState<string>()
  const [done, setDone] = useState<{ bytes: number; of: number }>()
  const isWanted = useRef(true)
  const show = (name: string, text: string, manifest?: readonly ManifestCheck[]) => {
    const reading = readOvf(text)
    if ('sentence' in reading) setTrouble(`${name}, line ${reading.line}: ${reading.sentence}`)
    else setOpened({ name, text, reading, manifest })
  }
  const open = async (file: File) => {
    setTrouble(undefined)
    setOpened(undefined)
    if (!/\.ova$/i.test(file.name)) {
      if (file.size > XML_MAX)
        return setTrouble(`${file.name} has ${formatBytes(file.size)}; a descriptor has at most ${formatBytes(XML_MAX)}.`)
      return show(file.name, await file.text())
    }
    isWanted.current = true
    setDone({ bytes: 0, of: file.size })
    const told = proxy((bytes: number) => {
      setDone({ bytes, of: file.size })
      return Promise.resolve(isWanted.current)
    })
    try {
      const answer = await inWorker<Packages, Awaited<ReturnType<Packages['read']>>>(
        () => new Worker(new URL('./ovf-package.worker.ts', import.meta.url), { type: 'module' }),
        (packages) => packages.read(file, told),
        `${file.name} could not be read. Choose it again; if that fails too, unpack it and choose its .ovf.`,
      )
      if (answer && 'sentence' in answer) setTrouble(`${file.name}: ${answer.sentence}`)
      else if (answer) show(file.name, answer.descriptor, answer.manifest ?? [])
    } catch (error) {
      if (!(error instanceof WorkFailed)) throw error
      setTrouble(error.message)
    } finally {
      setDone(undefined)
    }
    return undefined
  }
  return (
    <Part title="Import a descriptor">
      <p className="text-soft text-dense py-1">
        An OVF descriptor, or an OVA package: it is read in this browser, its disks are hashed and not kept.
      </p>
      <FileChoice label="Choose a descriptor or package" accept=".ovf,.ova,.xml" take={open} />
      {done && (
        <p className="text-dense flex gap-3 items-center" role="status">
          {formatBytes(done.bytes)} of {formatBytes(done.of)} read
          <Button className="!min-h-7" onClick={() => (isWanted.current = false)}>
            Stop
          </Button>
        </p>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
      {opened && <Imported key={`${opened.name} ${opened.reading.systems.length}`} opened={opened} />}
    </Part>
  )
}

function Imported({ opened }: { opened: Opened }) {
  const [at, setAt] = useState(0)
  const [configuration, setConfiguration] = useState<string>()
  const reading = useMemo(() => {
    const again = configuration === undefined ? opened.reading : readOvf(opened.text, configuration)
    // What could be read in one configuration may hold nothing in another.
    return 'sentence' in again ? { ...opened.reading, systems: [], trouble: again.sentence } : { ...again, trouble: undefined }
  }, [opened, configuration])
  const { systems, unused, version, configurations } = reading
  const system = systems[at]
  const chosen = configurations.find(({ id }) => id === (configuration ?? reading.configuration))
  return (
    <div className="mt-2">
      <p className="text-dense" role="status">
        {opened.name}: OVF {version}, {counted(systems.length, 'system')}.
      </p>
      {opened.manifest && (
        <ul className="text-dense" aria-label="Manifest">
          {opened.manifest.length === 0 && (
            <li className="text-warning">The package has no manifest, so it cannot be checked for completeness.</li>
          )}
          {opened.manifest.map(({ file, verdict }) => (
            <li key={file} className={verdict === 'as the manifest says' ? 'text-soft' : 'text-error'}>
              <span className="font-mono">{file}</span> {verdict}
            </li>
          ))}
        </ul>
      )}
      {configurations.length > 0 && (
        <label className="flex flex-wrap items-center gap-2 text-dense my-1">
          Configuration
          <Choice
            className="!w-56"
            value={chosen?.id ?? ''}
            choose={setConfiguration}
            options={configurations.map(({ id, label, isDefault }) => [id, isDefault ? `${label} (default)` : label])}
          />
          <span className="text-soft">{chosen?.description}</span>
        </label>
      )}
      {reading.trouble && <Trouble>{reading.trouble}</Trouble>}
      {systems.length > 1 && (
        <label className="inline-flex items-center gap-2 text-dense my-1">
          Which
          <select className="field !w-56" value={at} onChange={(event) => setAt(Number(event.target.value))}>
            {systems.map(({ name }, index) => (
              <option key={index} value={index}>
                {name}
              </option>
            ))}
          </select>
        </label>
      )}
      {unused.length > 0 && (
        <details className="text-dense my-1">
          <summary className="cursor-pointer text-warning min-h-7">{counted(unused.length, 'element')} could not be used</summary>
          <ul className="max-h-48 overflow-auto">
            {unused.map(({ path, sentence }) => (
              <li key={path}>
                {sentence} <span className="font-mono text-tiny text-faint break-all">{path}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
      {system && <SystemDraft key={`${at} ${chosen?.id ?? ''}`} system={system} />}
    </div>
  )
}
