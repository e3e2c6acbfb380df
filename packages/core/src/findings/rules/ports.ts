import { recordTitle, type Estate, type Port } from '../../estate/index.js'
import { elderOf } from './elder.js'
import { defineRule } from '../rule.js'

/** A port that cannot carry what it is planned for: Wi-Fi, or no cable in it on a host in service. */
export const portCannotCarry = defineRule({
  id: 'port.cannot-carry',
  title: 'Port unfit for its use',
  appliesTo: 'port',
  again: { host: (estate, host) => estate.referring('port', 'hostId', host.id).map(({ id }) => id) },
  check(estate, port) {
    if (!port.role) return []
    const title = recordTitle(estate, 'port', port)
    if (port.medium === 'wireless')
      return [
        {
          severity: 'error',
          sentence: `${title} is Wi-Fi and is planned for ${port.role}: a Wi-Fi station cannot send frames for other addresses (IEEE 802.11).`,
          evidence: [{ label: 'medium', value: port.medium }],
          remedy: 'Use a wired port, or put the guests behind NAT or a router on the host.',
        },
      ]
    return port.cable === 'missing' && estate.find('host', port.hostId)?.state === 'in service'
      ? [
          {
            severity: 'warning',
            sentence: `${title} is planned for ${port.role} and has no cable.`,
            evidence: [{ label: 'cable', value: port.cable }],
            remedy: 'Plug it in, check the link light, and record the cable.',
          },
        ]
      : []
  },
})

/** One MAC on two ports. */
export const portDuplicateMac = defineRule({
  id: 'port.duplicate-mac',
  title: 'MAC used twice by ports',
  appliesTo: 'port',
  again: { port: (estate: Estate, port: Port) => (port.mac ? estate.byKey('port', { mac: port.mac }).map(({ id }) => id) : []) },
  check(estate, port) {
    const elder = port.mac ? elderOf(estate.byKey('port', { mac: port.mac }), port) : undefined
    return elder
      ? [
          {
            severity: 'error',
            sentence: `${recordTitle(estate, 'port', port)} has the MAC ${port.mac ?? ''} of ${recordTitle(estate, 'port', elder)}.`,
            evidence: [
              { label: 'MAC', value: port.mac ?? '' },
              { label: 'first', value: recordTitle(estate, 'port', elder) },
            ],
            remedy: 'Read both addresses on the machines and correct the wrong one.',
          },
        ]
      : []
  },
})
