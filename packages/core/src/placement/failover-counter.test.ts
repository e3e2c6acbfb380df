import fc from 'fast-check'
import { expect, it } from 'vitest'
import { apply, type Command } from '../commands/index.js'
import { CommandError, Estate } from '../estate/index.js'
import { generateRecords } from '../testing/generate-estate.js'
import { testContext } from '../testing/small-estate.js'
import { runs } from '../testing/tier.js'
import { countFailover, FailoverCounter, failoverOutcomes, guestsWithoutCopy } from './index.js'

/** Nothing is plugged in at first, and most hosts could fail: a guest that is plugged in or gets a larger disk loses its room. */
const records = generateRecords({ hosts: 6, guests: 40, adapters: 60 }, 5)
const start = Estate.fromRecords({ ...records, adapter: records.adapter.map((adapter) => ({ ...adapter, networkId: null })) })
const GiB = 2 ** 30

/** A change of what the packing rests on: which guest, and how. */
const changes = fc.array(
  fc.record({
    at: fc.nat({ max: 10_000 }),
    to: fc.nat({ max: 10_000 }),
    what: fc.constantFrom('plug', 'unplug', 'disk', 'disk', 'store', 'power', 'remove', 'resize', 'attach', 'host'),
  }),
  { minLength: 1, maxLength: 25 },
)

function commandOf(estate: Estate, { at, to, what }: { at: number; to: number; what: string }): Command | undefined {
  const pick = <T>(all: readonly T[], index: number): T | undefined => all[index % Math.max(1, all.length)]
  const [adapter, disk, guest] = [pick(estate.all('adapter'), at), pick(estate.all('disk'), at), pick(estate.all('guest'), at)]
  switch (what) {
    case 'plug':
      return adapter && { type: 'adapter.update', id: adapter.id, changes: { networkId: pick(estate.all('network'), to)?.id ?? null } }
    case 'unplug':
      return adapter && { type: 'adapter.remove', id: adapter.id, withReferring: true }
    case 'disk':
      return disk && { type: 'disk.update', id: disk.id, changes: { sizeBytes: (1 + (to % 9000)) * GiB, provisioning: 'thick' } }
    case 'store':
      return disk && { type: 'disk.update', id: disk.id, changes: { storeId: pick(estate.all('store'), to)?.id ?? null } }
    case 'power':
      return guest && { type: 'guest.power', guestId: guest.id, state: to % 2 === 0 ? 'stopped' : 'running' }
    case 'remove':
      return guest && { type: 'guest.remove', id: guest.id, withReferring: true }
    case 'resize':
      return guest && { type: 'guest.resize', guestId: guest.id, memoryMiB: 256 * (1 + (to % 200)) }
    case 'attach': {
      const attachment = pick(estate.all('attachment'), at)
      return attachment && { type: 'attachment.remove', id: attachment.id }
    }
    default: {
      const host = pick(estate.all('host'), at)
      return host && { type: 'host.update', id: host.id, changes: { memoryMiB: 262_144 + 1024 * (to % 100) } }
    }
  }
}

it('begins where most could fail', () => expect(new FailoverCounter(start).count().withRoom).toBeGreaterThan(2))

it('counts on one estate after the other what the packing finds on each by itself', () =>
  fc.assert(
    fc.property(changes, (all) => {
      let estate = start
      const counter = new FailoverCounter(estate)
      const seen: { readonly on: Estate; readonly count: ReturnType<FailoverCounter['count']> }[] = []
      for (const [index, change] of all.entries()) {
        const command = commandOf(estate, change)
        if (!command) continue
        try {
          const done = apply(estate, command, testContext(index + 1))
          estate = done.estate
          seen.push({ on: estate, count: counter.after(estate, done.difference) })
        } catch (error) {
          // What the estate refuses changes nothing.
          if (!(error instanceof CommandError)) throw error
        }
      }
      // Judged afterwards: what is worked out for a host meanwhile would hide what the counter forgot.
      for (const { on, count } of seen) {
        const outcomes = failoverOutcomes(on, 0)
        expect(count).toEqual(
          countFailover(
            outcomes.map(({ host, stranded }) => ({
              hasRoom: stranded.length === 0,
              hasData: guestsWithoutCopy(on, host).length === 0,
            })),
          ),
        )
      }
    }),
    { numRuns: runs(150, 1000) },
  ))
