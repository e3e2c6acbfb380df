import { checkManagement, readShownNetwork, type Host } from '@insel/core'
import { useMemo, useState } from 'react'
import { useEstate } from '../../estate'
import { readStored, store } from '../../lib/storage'
import { Mark } from '../findings/mark'

const EXAMPLE = 'Address 169.254.33.7\nNetmask 255.255.0.0\nGateway 0.0.0.0\nDNS 127.0.0.1\nHostname localhost'

/** What an installer's screen shows, typed or pasted, compared with the record: every sign of a fallback named, with what to do. */
export function ManagementCheck({ host }: { host: Host }) {
  const { estate, estateId } = useEstate()
  const place = `shown-network.${estateId}.${host.id}`
  const [text, setText] = useState(() => readStored<string>(place) ?? '')
  const { shown, unread } = useMemo(() => readShownNetwork(text), [text])
  const signs = useMemo(() => (text.trim() === '' ? [] : checkManagement(estate, host, shown)), [estate, host, shown, text])
  return (
    <div className="text-dense py-1">
      <label htmlFor="shown-network" className="text-soft">
        Type or paste port, MAC, address, mask, gateway, name server, host name and VLAN, one on a line
      </label>
      <textarea
        id="shown-network"
        rows={6}
        className="field font-mono text-small mt-1"
        spellCheck={false}
        placeholder={EXAMPLE}
        value={text}
        onChange={(event) => {
          setText(event.target.value)
          store(place, event.target.value || undefined)
        }}
      />
      {unread.map(({ line, text: words, sentence }) => (
        <p key={line} className="text-error mt-1">
          Line {line}, “{words}”: {sentence}
        </p>
      ))}
      <div role="status">
        {text.trim() !== '' && signs.length === 0 && unread.length === 0 && (
          <p className="flex gap-2 mt-2">
            <span className="pt-0.5">
              <Mark of="fits" />
            </span>
            Matches the plan.
          </p>
        )}
        <ul className="mt-1">
          {signs.map(({ severity, sentence, remedy }) => (
            <li key={sentence} className="flex gap-2 py-1.5 border-t border-line first:border-0">
              <span className="pt-0.5">
                <Mark of={severity} />
              </span>
              <span>
                {sentence}
                <span className="block text-soft">{remedy}</span>
              </span>
            </li>
          ))}
        </ul>
      </div>
    </div>
  )
}
