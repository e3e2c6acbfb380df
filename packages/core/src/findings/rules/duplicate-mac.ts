import { platformOf, recordTitle } from '../../estate/index.js'
import { generateMac } from '../../networks/index.js'
import { elderOf } from './elder.js'
import { defineRule } from '../rule.js'

/** One MAC on two machines: switches send each one's frames now here, now there. */
export const duplicateMac = defineRule({
  id: 'adapter.duplicate-mac',
  title: 'MAC used twice',
  appliesTo: 'adapter',
  again: {
    adapter: (estate, adapter) => estate.byKey('adapter', { mac: adapter.mac }).map((other) => other.id),
    host: (estate, host) => (host.managementMac ? estate.byKey('adapter', { mac: host.managementMac }).map((adapter) => adapter.id) : []),
    port: (estate, port) => (port.mac ? estate.byKey('adapter', { mac: port.mac }).map((adapter) => adapter.id) : []),
  },
  check(estate, adapter) {
    const { mac } = adapter
    if (mac === null) return []
    const elder = elderOf(estate.byKey('adapter', { mac }), adapter)
    const host = elder ? undefined : estate.byKey('host', { managementMac: mac })[0]
    const port = elder || host ? undefined : estate.byKey('port', { mac })[0]
    const other = elder
      ? recordTitle(estate, 'adapter', elder)
      : host
        ? `the management port of ${host.name}`
        : port && `port ${recordTitle(estate, 'port', port)}`
    if (!other) return []
    return [
      {
        severity: 'error',
        sentence: `Adapter ${adapter.position} of ${estate.find('guest', adapter.guestId)?.name ?? ''} has the MAC ${mac} of ${other}.`,
        evidence: [
          { label: 'MAC', value: mac },
          { label: 'first', value: other },
          { label: 'second', value: recordTitle(estate, 'adapter', adapter) },
        ],
        remedy: 'Give the adapter a new MAC, then restart the guest or plug the adapter in again.',
      },
    ]
  },
  fix(estate, adapter) {
    const host = estate.find('host', estate.find('guest', adapter.guestId)?.hostId)
    const prefix = host ? platformOf(estate, host).macPrefix : adapter.mac?.slice(0, 8)
    if (prefix === undefined) return undefined
    const isTaken = (mac: string) =>
      estate.byKey('adapter', { mac }).length > 0 ||
      estate.byKey('host', { managementMac: mac }).length > 0 ||
      estate.byKey('port', { mac }).length > 0
    return [{ type: 'adapter.update', id: adapter.id, changes: { mac: generateMac(prefix, adapter.id, isTaken) } }]
  },
})
