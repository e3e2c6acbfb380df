import { counted, readSeen } from '@insel/core'
import { useMemo, useState } from 'react'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { useRecord } from '../../estate/use-record'
import { Effect } from '../proposals/effect'
import { Button } from '../../ui/button'
import { Part, Trouble } from '../../ui/page'
import { restOf } from '../../ui/use-line'
import { now } from '../../lib/time'

/** Takes what was seen in use on the wire: lines of `ip neigh`, `arp` or a DHCP server’s leases. */
export function SeenPanel() {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  const [text, setText] = useState('')
  const read = useMemo(() => (text.trim() === '' ? undefined : readSeen(estate, text, now(), newId)), [estate, text])
  const apply = async () => {
    if (read && (await record(read.commands, `${counted(read.commands.length, 'address', 'addresses')} seen`)))
      setText((now) => restOf(now, text))
  }
  return (
    <Part title="Seen in use">
      <details>
        <summary className="text-accent min-h-7">Paste the lines</summary>
        <label className="block">
          <span className="text-soft text-dense">Lines of ip neigh, arp or a DHCP server’s leases</span>
          <textarea
            className="field font-mono text-small min-h-24"
            value={text}
            spellCheck={false}
            onChange={(event) => setText(event.target.value)}
          />
        </label>
        {read && (
          <div aria-live="polite" className="text-dense">
            <p className="my-1">
              {read.commands.length} read, {read.rejected.length} not taken.
            </p>
            <ul>
              {read.rejected.slice(0, 8).map(({ line, reason }) => (
                <li key={line} className="text-soft">
                  Line {line}: {reason}
                </li>
              ))}
            </ul>
            {read.commands.length > 0 && (
              <div className="mt-3">
                <Effect commands={read.commands} />
              </div>
            )}
            <Button className="mt-1" disabled={read.commands.length === 0} onClick={() => void apply()}>
              Record {read.commands.length}
            </Button>
          </div>
        )}
        {trouble && <Trouble>{trouble}</Trouble>}
      </details>
    </Part>
  )
}
