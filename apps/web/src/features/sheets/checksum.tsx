import { formatBytes, formatDuration, kinds, type Image } from '@insel/core'
import { proxy } from 'comlink'
import { useRef, useState } from 'react'
import { inWorker } from '../../lib/in-worker'
import { WorkFailed } from '../../lib/work-failed'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Trouble } from '../../ui/page'
import { inputValue } from '../records/field-text'
import type { Checksums } from './checksum.worker'

/** The checksum of an image: pasted, or worked out from the file in this browser; nothing is sent anywhere. */
export function Checksum({ image }: { image: Image }) {
  const { record, trouble } = useRecord()
  const [text, setText] = useState('')
  const [state, setState] = useState<{ file: File; done: number; secondsLeft?: number; digest?: string }>()
  const [failure, setFailure] = useState<string>()
  const isWanted = useRef(true)
  const reading = inputValue(kinds.image.fields.sha256, text)
  const note = (sha256: string, sizeBytes?: number) =>
    record([{ type: 'image.update', id: image.id, changes: { sha256, ...(sizeBytes ? { sizeBytes } : {}) } }], `Checksum of ${image.name}`)

  const hash = async (file: File) => {
    isWanted.current = true
    const since = performance.now()
    setState({ file, done: 0 })
    const told = proxy((done: number) => {
      setState({ file, done, secondsLeft: ((performance.now() - since) / 1000 / done) * (file.size - done) })
      return Promise.resolve(isWanted.current)
    })
    setFailure(undefined)
    try {
      const digest = await inWorker<Checksums, Awaited<ReturnType<Checksums['sha256']>>>(
        () => new Worker(new URL('./checksum.worker.ts', import.meta.url), { type: 'module' }),
        (checksums) => checksums.sha256(file, told),
        `${file.name} could not be read to its end. Choose it again; it must not change meanwhile.`,
      )
      setState(digest ? { file, done: file.size, digest } : undefined)
    } catch (error) {
      if (!(error instanceof WorkFailed)) throw error
      setState(undefined)
      setFailure(error.message)
    }
  }
  return (
    <div
      className="text-dense border border-dashed border-rule rounded-md p-3 my-1"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault()
        const file = event.dataTransfer.files[0]
        if (file) void hash(file)
      }}
    >
      {image.sha256 && (
        <p className="mb-2">
          Recorded: <span className="font-mono break-all">{image.sha256}</span>
        </p>
      )}
      <div className="flex flex-wrap gap-2 items-center">
        <input
          className="field font-mono !w-80 max-w-full"
          aria-label={`SHA-256 of ${image.name}`}
          placeholder="paste a SHA-256"
          value={text}
          aria-invalid={text !== '' && 'sentence' in reading}
          onChange={(event) => setText(event.target.value)}
        />
        <Button disabled={text === '' || !('value' in reading)} onClick={() => 'value' in reading && void note(String(reading.value))}>
          Record it
        </Button>
        <label className="inline-flex items-center gap-2">
          or drop the file here, or choose it:
          <input
            type="file"
            className="max-w-52 min-h-7"
            onChange={(event) => {
              const file = event.target.files?.[0]
              if (file) void hash(file)
            }}
          />
        </label>
      </div>
      {text !== '' && 'sentence' in reading && <p className="text-error mt-1">{reading.sentence}</p>}
      {state && !state.digest && (
        <p className="mt-2 flex gap-3 items-center" role="status">
          <progress max={state.file.size} value={state.done} className="accent-[var(--accent)]" aria-label={`Hashing ${state.file.name}`} />
          {formatBytes(state.done)} of {formatBytes(state.file.size)}
          {state.secondsLeft !== undefined && `, ${formatDuration(state.secondsLeft)} left`}
          <Button className="!min-h-7" onClick={() => (isWanted.current = false)}>
            Cancel
          </Button>
        </p>
      )}
      {state?.digest && (
        <div className="mt-2" role="status">
          <p>
            {state.file.name}, {formatBytes(state.file.size)}: <span className="font-mono break-all">{state.digest}</span>
          </p>
          {image.sha256 && image.sha256 !== state.digest ? (
            <p className="text-error font-medium">
              This is not the recorded checksum: the file is damaged, or a different one. Do not install from it.
            </p>
          ) : image.sha256 ? (
            <p>It matches the recorded checksum.</p>
          ) : (
            <Button className="mt-1" onClick={() => state.digest && void note(state.digest, state.file.size)}>
              Record it for {image.name}
            </Button>
          )}
        </div>
      )}
      {(failure ?? trouble) && <Trouble>{failure ?? trouble}</Trouble>}
    </div>
  )
}
