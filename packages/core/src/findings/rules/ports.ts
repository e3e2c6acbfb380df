import { migrationNames, recordTitle, type Estate, type Port } from '../../estate/index.js'
import { movePort, ownCopies, sayRate, type OwnCopy } from '../../transfers/index.js'
import { counted, formatMbps } from '../../units/index.js'
import { elderOf } from './elder.js'
import { defineRule } from '../rule.js'

/** A port that cannot carry what it is planned for: Wi-Fi, or no cable in it on a host in service. */
export const portCannotCarry = defineRule({
  id: 'port.cannot-carry',
  title: 'Port unfit for its use',
  appliesTo: 'port',
  reads: ['> hostId'],
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

/** What own moves over a port carried that is more than its bits a second, whatever they are packed in: the fastest first. */
function tooFast(estate: Estate, port: Port): readonly OwnCopy[] {
  const host = estate.find('host', port.hostId)
  if (movePort(estate, host)?.id !== port.id) return []
  return ownCopies(estate)
    .filter(({ path, bytesPerSecond }) => [path.from?.id, path.to?.id].includes(port.hostId) && bytesPerSecond * 8 > port.speedMbps * 1e6)
    .sort((a, b) => b.bytesPerSecond - a.bytesPerSecond)
}

/** Own moves went faster than the port that they had to pass: one of the two is recorded wrong, and every estimate rests on both. */
export const portFasterThanRecorded = defineRule({
  id: 'port.faster-than-recorded',
  title: 'Moves faster than the port',
  appliesTo: 'port',
  reads: ['> hostId', '> hostId < port.hostId', '> hostId < migration.fromHostId', '> hostId < migration.toHostId'],
  check(estate, port) {
    const [fastest, ...others] = tooFast(estate, port)
    if (!fastest) return []
    const { guest } = migrationNames(estate, fastest.move)
    const more = others.length > 0 ? `, and ${counted(others.length, 'other move')} did so, too` : ''
    return [
      {
        severity: 'notice',
        sentence: `The move of ${guest} carried ${sayRate(fastest.bytesPerSecond)} over ${recordTitle(estate, 'port', port)}, which is recorded with ${formatMbps(port.speedMbps)} (${sayRate((port.speedMbps * 1e6) / 8)} at the most)${more}.`,
        evidence: [
          { label: 'recorded', value: formatMbps(port.speedMbps) },
          { label: 'fastest move', value: sayRate(fastest.bytesPerSecond) },
        ],
        remedy:
          'Read the speed of the port and correct it; if it is right, correct what that move is said to have copied, or in what time.',
      },
    ]
  },
})
