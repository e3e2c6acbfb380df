import { checkManagement, readShownNetwork, type Host } from '@insel/core'
import { useMemo, useState } from 'react'
import { useEstate } from '../../estate'
import { readStored, store } from '../../lib/storage'
import { Mark } from '../../ui/mark'

const EXAMPLE = 'Address 169.254.33.7\nNetmask 255.255.0.0\nGateway 0.0.0.0\nDNS 127.0.0.1\nHostname localhost'

/** What an installer's screen shows, typed or pasted, compared with the record: every sign of a fallback named, with what to do. */
export function ManagementCheck({ host }: { host: Host }) {
  const { estate, estateId } = useEstate()
  const place = `shown-network.${estateId}.${host.id}`
  const [text, setText] = useState(() => readStored<string>(place) ?? '')
  const { shown, unread, isUnknown } = useMemo(() => readShownNetwork(text), [text])
  // What could not be read is no sign of anything missing.
  const signs = useMemo(
    () => (text.trim() === '' || isUnknown ? [] : checkManagement(estate, host, shown, unread.length > 0)),
    [estate, host, shown, text, isUnknown, unread],
  )
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
      {isUnknown && (
        <p className="text-warning mt-1">
          None of this is known here, so nothing is compared. English, German, French and Spanish screens are read; set the installer to one
          of them, or type lines such as those of the example.
        </p>
      )}
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
