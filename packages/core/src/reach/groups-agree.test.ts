import { runs } from '../testing/tier.js'
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { anyNetworkEstate } from '../testing/any-network-estate.js'
import { askGroup, GroupTable, OUTSIDE, topologyOf } from './index.js'

it('groups agree with asking every machine by itself, on random estates', () =>
  fc.assert(
    fc.property(anyNetworkEstate, (estate) => {
      const table = new GroupTable(estate)
      const topology = topologyOf(estate)
      for (const from of [...estate.all('network').map(({ id }) => id), OUTSIDE])
        for (const to of estate.all('network')) {
          const targets = topology
            .interfacesOn(to.id)
            .flatMap((on) => (on.machine.isUp && on.machine.kind !== 'site gateway' ? on.addresses.map(({ ip }) => ip) : []))
          // A network with several segments asks from each; one segment is compared here.
          if (targets.length === 0 || (from !== OUTSIDE && topology.segmentsOf(from).length !== 1)) continue
          const found = table.reach(from === OUTSIDE ? { kind: OUTSIDE } : { kind: 'network', id: from }, { kind: 'network', id: to.id })
          const reaching = targets.filter((ip) => askGroup(estate, { from, to: ip }).reaches).length
          expect([from, to.name, found.reaching, found.pairs]).toEqual([from, to.name, reaching, targets.length])
        }
    }),
    { numRuns: runs(40, 300) },
  ))
