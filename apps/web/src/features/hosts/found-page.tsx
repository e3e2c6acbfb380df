import { compareFound, redfishSystems, takeOver, type Host } from '@insel/core'
import { useMemo, useState } from 'react'
import { sentenceOf } from '../../lib/api'
import { machinesApi } from '../../lib/machines-api'
import { useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { Part, Trouble } from '../../ui/page'
import { FoundView } from '../found/found-view'
import { type FoundWork, type Taken } from '../found/found-work'
import { HostFrame } from './host-frame'

/** Planned beside found: pasted, dropped, collected, or read from a management controller. */
export function FoundPage() {
  return <HostFrame>{(host) => <Found key={host.id} host={host} />}</HostFrame>
}

function Found({ host }: { host: Host }) {
  const work = useMemo(
    (): FoundWork => ({
      of: { hostId: host.id },
      name: host.name,
      compare: (estate, found) => compareFound(estate, host, found),
      takeOver: (estate, lines, all) => takeOver(estate, host, lines, all),
      more: (take) => <Controller host={host} take={take} />,
    }),
    [host],
  )
  return <FoundView work={work} />
}

function Controller({ host, take }: { host: Host; take: (taken: Taken) => void }) {
  const { estateId } = useEstate()
  const [isReading, setReading] = useState(false)
  const [trouble, setTrouble] = useState<string>()
  const read = async (form: FormData) => {
    const value = (name: string) => {
      const text = form.get(name)
      return typeof text === 'string' ? text.trim() : ''
    }
    setTrouble(undefined)
    setReading(true)
    try {
      const given = Object.fromEntries(
        ['url', 'user', 'password', 'fingerprint'].flatMap((name) => (value(name) ? [[name, value(name)]] : [])),
      )
      const tree = await machinesApi.redfish(estateId, given)
      const systems = redfishSystems(tree)
      const system = systems.find(({ name }) => name.toLowerCase().split('.')[0] === host.name.toLowerCase()) ?? systems[0]
      if (!system) setTrouble('The controller names no system.')
      else take({ text: JSON.stringify(tree), source: `controller ${value('url').replace(/^\w+:\/\//, '')}`, tree, system: system.path })
    } catch (error) {
      setTrouble(sentenceOf(error))
    } finally {
      setReading(false)
    }
  }
  return (
    <Part title="Ask its management controller">
      <form
        className="facts [--label:110px] gap-y-1.5 text-dense items-center py-1"
        onSubmit={(event) => {
          event.preventDefault()
          void read(new FormData(event.currentTarget))
        }}
      >
        <label htmlFor="controller-url">Address</label>
        <input id="controller-url" name="url" className="field font-mono" placeholder="https://10.61.10.207" autoComplete="off" required />
        <label htmlFor="controller-user">User</label>
        <input id="controller-user" name="user" className="field font-mono" autoComplete="off" />
        <label htmlFor="controller-password">Password</label>
        <input id="controller-password" name="password" type="password" className="field font-mono" autoComplete="new-password" />
        <label htmlFor="controller-fingerprint">Fingerprint</label>
        <input
          id="controller-fingerprint"
          name="fingerprint"
          className="field font-mono"
          placeholder="SHA-256, for a self-signed certificate"
          autoComplete="off"
        />
        <span />
        <Button type="submit" disabled={isReading} className="justify-self-start">
          {isReading ? 'Reading…' : 'Read controller'}
        </Button>
      </form>
      <p className="text-small text-faint">Read by Redfish (DMTF DSP0266), GET only. User and password are used once and kept nowhere.</p>
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}
