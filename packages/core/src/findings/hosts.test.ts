import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { idOf, smallEstate, testContext, TODAY } from '../testing/small-estate.js'
import { Findings, fixOf } from './index.js'

const hostId = idOf('gannet')
const [array, sheet] = ['a1', 'a2'].map((end) => `01890000-0000-7000-8000-0000000001${end}`) as [string, string]
const host = (changes: object): Command => ({ type: 'host.update', id: hostId, changes })
const listOf = (...commands: Command[]) => Findings.of(applyAll(smallEstate(), commands, testContext(81)).estate, TODAY).list()
const said = (...commands: Command[]) => listOf(...commands).map(({ severity, sentence }) => `${severity}: ${sentence}`)
const drive = (position: number, labelBytes: number): Command => ({
  type: 'drive.add',
  record: { hostId, position, labelBytes, use: 'member', arrayId: array },
})

describe('what is said of hosts', () => {
  it.each([
    [
      'a trial that ends soon',
      [host({ trialEndsOn: '2027-02-01' })],
      'warning: The trial or licence of gannet ends in 14 days, on 2027-02-01.',
    ],
    [
      'a trial that has ended',
      [host({ trialEndsOn: '2027-01-17' })],
      'error: The trial or licence of gannet ended yesterday, on 2027-01-17.',
    ],
    ['a trial that ends today', [host({ trialEndsOn: TODAY })], `warning: The trial or licence of gannet ends today, on ${TODAY}.`],
    [
      'a warranty that has ended, which stops nothing',
      [host({ warrantyEndsOn: '2027-01-17' })],
      'warning: The warranty of gannet ended yesterday, on 2027-01-17.',
    ],
    [
      'no fingerprint',
      [host({ fingerprint: null })],
      'notice: No certificate fingerprint is recorded for gannet: its certificate cannot be verified.',
    ],
    [
      'a platform out of support',
      [{ type: 'platform.update', id: idOf('marram'), changes: { supportedUntil: '2026-12-31' } }],
      'error: Support of Marram 2, which tern runs, ended 18 days ago, on 2026-12-31.',
    ],
    ['an unsupported processor', [host({ cpuFlags: 'sse2' })], /^error: gannet: Brackwater 5 needs x86-64-v2; this processor lacks CMOV/],
    [
      'mixed memory',
      [8192, 16384, 16384].map((sizeMiB, index): Command => ({ type: 'module.add', record: { hostId, slot: index + 1, sizeMiB } })),
      'notice: gannet: Mixed sizes (8 GiB, 16 GiB): interleaving may be lost.',
    ],
    [
      'one uplink for management',
      [{ type: 'port.add', record: { hostId, name: 'eno1', role: 'management', cable: 'present' } }],
      'notice: Management of gannet has only one uplink, eno1.',
    ],
    [
      'a port without its cable',
      [{ type: 'port.add', record: { hostId, name: 'eno1', role: 'storage', cable: 'missing' } }],
      'warning: eno1 of gannet is planned for storage and has no cable.',
    ],
    [
      'Wi-Fi that should carry guests',
      [{ type: 'port.add', record: { hostId, name: 'wl0', role: 'guests', medium: 'wireless' } }],
      'error: wl0 of gannet is Wi-Fi and is planned for guests: a Wi-Fi station cannot send frames for other addresses (IEEE 802.11).',
    ],
    [
      'one MAC on two ports',
      [hostId, idOf('tern')].map((on): Command => ({
        type: 'port.add',
        record: { hostId: on, name: 'eno9', mac: '02:aa:00:00:00:01', cable: 'present' },
      })),
      'error: eno9 of tern has the MAC 02:aa:00:00:00:01 of eno9 of gannet.',
    ],
    [
      'a guest with the MAC of a port',
      [{ type: 'port.add', record: { hostId, name: 'eno9', mac: '02:1a:4b:00:00:01' } }],
      'error: Adapter 1 of playout-1 has the MAC 02:1a:4b:00:00:01 of port eno9 of gannet.',
    ],
    [
      'a circuit over its continuous load',
      [
        host({ circuit: 'A1', drawWatts: 900, circuitVolts: 230, circuitAmps: 6 }),
        { type: 'host.update', id: idOf('fulmar'), changes: { circuit: 'A1', drawWatts: 300 } },
      ],
      'warning: Circuit A1 at studio carries 1200 W, 87 % of its 1380 W: gannet, fulmar.',
    ],
    [
      'an array too small',
      [{ type: 'array.add', record: { id: array, hostId, name: 'bulk', level: '5' } }, drive(1, 1e12)],
      'error: bulk of gannet cannot be built: Level 5 needs at least 3 members; there is 1.',
    ],
    [
      'an array cut too far',
      [
        { type: 'array.add', record: { id: array, hostId, name: 'bulk', level: '1' } },
        drive(1, 1e12),
        drive(2, 1e12),
        { type: 'store.update', id: idOf('nvme1'), changes: { arrayId: array } },
      ],
      'error: The stores in bulk of gannet take 68.7 GiB more than its 931.3 GiB.',
    ],
    [
      'a level that deserves a second look',
      [{ type: 'array.add', record: { id: array, hostId, name: 'bulk', level: '5' } }, ...[1, 2, 3].map((bay) => drive(bay, 8e12))],
      /^notice: bulk of gannet, level 5: Members are over 2 TB/,
    ],
    [
      'a build step that failed',
      [
        { type: 'sheet.add', record: { id: sheet, hostId, startedAt: '2027-01-10T08:00:00Z' } },
        {
          type: 'step.add',
          record: {
            sheetId: sheet,
            step: 'first-checks',
            state: 'failed',
            note: 'gateway silent',
            personId: idOf('ola'),
            at: '2027-01-10T09:00:00Z',
          },
        },
      ],
      'warning: The step first checks of building gannet failed: gateway silent',
    ],
  ] as [string, Command[], string | RegExp][])('%s', (_, commands, sentence) => {
    const list = said(...commands)
    expect(list.some((one) => (typeof sentence === 'string' ? one === sentence : sentence.test(one)))).toBe(true)
  })

  it('something found otherwise stays until it is settled', () => {
    const seen = { about: 'usable memory', planned: '32 GiB', found: '16 GiB', source: 'collector', seenAt: '2027-01-17T08:00:00Z' }
    const estate = applyAll(smallEstate(), [{ type: 'deviation.add', record: { hostId, ...seen } }], testContext(82)).estate
    const [finding] = Findings.of(estate, TODAY).list()
    expect(finding?.sentence).toBe('gannet: usable memory is 16 GiB, planned is 32 GiB.')
    const settled = applyAll(estate, (finding && fixOf(estate, finding)) ?? [], testContext(83)).estate
    expect(Findings.of(settled, TODAY).list()).toEqual([])
  })

  it('a reminder comes due with time, without any change', () => {
    const estate = applyAll(smallEstate(), [host({ trialEndsOn: '2027-06-01' })], testContext(84)).estate
    const january = Findings.of(estate, TODAY)
    expect(january.list()).toEqual([])
    expect(january.on(TODAY, estate)).toBe(january)
    expect(
      january
        .on('2027-05-20', estate)
        .list()
        .map(({ ruleId }) => ruleId),
    ).toEqual(['host.licence-ends', 'template.not-patched'])
  })

  it('a longer reminder is a policy', () =>
    expect(
      said(host({ trialEndsOn: '2027-06-01' }), { type: 'policy.update', id: idOf('policy'), changes: { reminderDays: 200 } }),
    ).toHaveLength(1))
})
