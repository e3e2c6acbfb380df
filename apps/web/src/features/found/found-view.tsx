import { counted, formatNumber, redfishSystems, TEXT_MAX } from '@insel/core'
import { useState } from 'react'
import { useFoundReading } from '../../estate/checks'
import { Button } from '../../ui/button'
import { Trouble } from '../../ui/page'
import { Collector } from './collector'
import { Comparison } from './comparison'
import type { FoundWork, Taken } from './found-work'
import { Reading } from './reading'

const NOTHING: Taken = { text: '', source: 'pasted' }

/** Longer texts are not put into the field, characters. */
const SHOWN_MAX = 200_000

const longText = ({ tree, source, text }: Taken) =>
  tree
    ? `${source}: ${counted(Object.keys(tree.redfish).length, 'resource')} read`
    : `${source}: ${formatNumber(text.length / 1e6, 2)} MB read`

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
    <div className="beside">
      <div>
        <div
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => {
            event.preventDefault()
            const file = event.dataTransfer.files[0]
            if (file) void open(file)
          }}
        >
          <label htmlFor="found-text" className="text-dense text-soft">
            Paste or drop the output of lscpu, lsblk, ip, free, df, dmidecode, ethtool or lshw, several one after the other
          </label>
          <textarea
            id="found-text"
            rows={isLong ? 2 : reading && reading.sources.length > 0 ? 4 : 8}
            className="field font-mono text-small mt-1"
            spellCheck={false}
            placeholder={'lscpu --json\nlsblk --json --bytes -o +MODEL,SERIAL,TYPE,ROTA\nip -json address\nfree -b'}
            value={isLong ? longText(taken) : text}
            readOnly={isLong}
            onChange={(event) => take({ text: event.target.value, source: 'pasted' })}
          />
          <div className="flex flex-wrap gap-3 items-center text-dense mt-1">
            <label className="inline-flex gap-2 items-center">
              or a file:{' '}
              <input
                type="file"
                className="min-h-7 max-w-full"
                onChange={(event) => event.target.files?.[0] && void open(event.target.files[0])}
              />
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
          <label className="flex gap-2 items-center text-dense my-2">
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
