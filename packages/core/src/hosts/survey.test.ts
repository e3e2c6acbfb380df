import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { type Host } from '../estate/index.js'
import { idOf, smallEstate, testContext, TODAY } from '../testing/small-estate.js'
import { circuitLoads, heat } from './power.js'
import { materialsOf, tickMaterial } from './materials.js'
import { moduleView } from './memory-modules.js'
import { proposeRoles, rolePlan } from './ports.js'
import { nestingOf, surveyHost } from './survey.js'

const V2 = 'fpu cx8 cmov fxsr mmx syscall sse sse2 cx16 lahf_lm popcnt pni sse4_1 sse4_2 ssse3'
const hostId = idOf('gannet')
const estateWith = (...commands: Command[]) => applyAll(smallEstate(), commands, testContext(51)).estate
const gannet = (estate: ReturnType<typeof smallEstate>) => estate.find('host', hostId) as Host
const change = (changes: Partial<Host>): Command => ({ type: 'host.update', id: hostId, changes })
const port = (name: string, more: object = {}): Command => ({ type: 'port.add', record: { hostId, name, cable: 'present', ...more } })

const complete: Command[] = [
  change({ cpuFlags: `${V2} svm`, firmware: 'UEFI', controllers: 'ahci' }),
  { type: 'drive.add', record: { hostId, position: 0, labelBytes: 240e9, use: 'install', controller: 'ahci' } },
  port('eno1', { driver: 'igb' }),
  {
    type: 'platform.update',
    id: idOf('brackwater'),
    changes: { requiredFlags: 'ept|svm', controllers: 'ahci nvme', portDrivers: 'igb ixgbe' },
  },
]

describe('will the machine do?', () => {
  it('supported, with the evidence in each line', () => {
    const survey = surveyHost(estateWith(...complete), gannet(estateWith(...complete)), TODAY)
    expect(survey.verdict).toBe('supported')
    expect(survey.lines.map(({ sentence }) => sentence)).toContain('The processor is x86-64-v2; Brackwater 5 needs x86-64-v2.')
  })

  it.each<[Command, string]>([
    [change({ cpuFlags: `${V2.replace('sse4_2 ', '')} svm` }), 'Brackwater 5 needs x86-64-v2; this processor lacks SSE4.2.'],
    [
      change({ cpuFlags: V2 }),
      'Brackwater 5 needs the flag ept or svm; this processor does not show it (virtualisation may be switched off in the firmware).',
    ],
    [change({ memoryMiB: 2048 }), 'Brackwater 5 needs 4 GiB of memory; 2 GiB is usable.'],
    [change({ controllers: 'megaraid_sas' }), 'Controller megaraid_sas is not supported by Brackwater 5, which knows ahci, nvme.'],
    [port('eno2', { driver: 'tg3' }), 'eno2 needs the driver tg3, which Brackwater 5 does not have; it knows igb, ixgbe.'],
    [
      { type: 'platform.update', id: idOf('brackwater'), changes: { supportedUntil: '2027-01-17' } },
      'Brackwater 5 has had no support since 2027-01-17.',
    ],
    [
      { type: 'platform.update', id: idOf('brackwater'), changes: { minDriveBytes: 500e9 } },
      'Brackwater 5 needs a drive of 500 GB; the largest is 240 GB.',
    ],
  ])('not supported: %#', (command, sentence) => {
    const estate = estateWith(...complete, command)
    const survey = surveyHost(estate, gannet(estate), TODAY)
    expect(survey.verdict).toBe('not supported')
    const against = survey.lines.filter(({ verdict }) => verdict === 'no').map((line) => line.sentence)
    expect(against).toEqual([sentence])
  })

  it('what is not recorded is a remark, never a yes', () => {
    const estate = smallEstate()
    const survey = surveyHost(estate, gannet(estate), TODAY)
    expect(survey.verdict).toBe('supported with remarks')
    expect(survey.lines.filter(({ verdict }) => verdict === 'remark').map(({ about }) => about)).toEqual([
      'processor',
      'drives',
      'ports',
      'firmware',
    ])
  })

  it('Wi-Fi is flagged, and Wi-Fi alone is refused', () => {
    const wifi = port('wlp3s0', { medium: 'wireless' })
    const both = estateWith(...complete, wifi)
    expect(surveyHost(both, gannet(both), TODAY)).toMatchObject({ verdict: 'supported with remarks' })
    const alone = estateWith(wifi)
    expect(surveyHost(alone, gannet(alone), TODAY).lines.find(({ verdict }) => verdict === 'no')?.sentence).toBe(
      'There is no wired port, and Wi-Fi cannot be used for management.',
    )
  })

  it('against another platform than its own: which hosts can take it?', () => {
    const estate = estateWith(...complete)
    const marram = estate.find('platform', idOf('marram'))
    if (!marram) throw new Error('no platform')
    const verdicts = estate.all('host').map((host) => surveyHost(estate, host, TODAY, { ...marram, minLevel: 'x86-64-v3' }).verdict)
    expect(verdicts).toEqual(['not supported', 'supported with remarks', 'supported with remarks'])
  })
})

describe('memory by slot', () => {
  const module = (slot: number, sizeMiB: number, more: object = {}): Command => ({
    type: 'module.add',
    record: { hostId, slot, sizeMiB, ...more },
  })
  const view = (...commands: Command[]) => moduleView(estateWith(...commands), gannet(estateWith(...commands)))

  it('counts fitted, planned and free', () => {
    const { slots, fittedMiB, plannedMiB, free, remarks } = view(
      change({ memorySlots: 8 }),
      module(1, 16384),
      module(2, 16384),
      module(3, 8192, { state: 'planned' }),
    )
    expect([slots.length, fittedMiB, plannedMiB, free]).toEqual([8, 32768, 8192, 5])
    expect(remarks).toEqual(['Mixed sizes (8 GiB, 16 GiB): interleaving may be lost.'])
  })
  it('a slot that does not exist is refused', () =>
    expect(() => estateWith(change({ memorySlots: 2 }), module(3, 8192))).toThrow('The host has 2 slots; there is no slot 3.'))
  it('says when fitted and usable do not go together', () => {
    expect(view(module(1, 16384)).remarks[0]).toMatch(/more than the 16 GiB fitted/)
    expect(view(module(1, 65536)).remarks[0]).toMatch(/Only 32 GiB of 64 GiB fitted/)
    expect(view(module(1, 16384, { speedMTs: 2400 }), module(2, 16384, { speedMTs: 3200 })).remarks).toEqual([
      'Mixed speeds (2400, 3200 MT/s): all run at the slowest, 2400 MT/s.',
    ])
  })
})

describe('ports and what they carry', () => {
  it('a role with one uplink, a missing cable and Wi-Fi are named', () => {
    const estate = estateWith(
      port('eno1', { role: 'management' }),
      port('eno2', { role: 'storage', cable: 'missing' }),
      port('wl0', { role: 'guests', medium: 'wireless' }),
    )
    const remarks = rolePlan(estate, gannet(estate)).flatMap((role) => role.remarks)
    expect(remarks).toEqual([
      'One uplink for management: one pulled cable cuts the host off. Plan a second port, both active.',
      'One uplink for storage: a fault stops every guest on shared stores. Plan a second port.',
      'eno2 has no cable.',
      'wl0 is Wi-Fi and cannot be used for guests; use a wired port.',
    ])
  })
  // Common practice, no source: two ports each for management and storage, one each for the rest, is seven.
  it('seven ports get the roles of a full build, the slow ones management', () => {
    const names = ['a', 'b', 'c', 'd', 'e', 'f', 'g']
    const estate = estateWith(...names.map((name, index) => port(name, { speedMbps: index < 2 ? 1000 : 10_000 })))
    const roles = proposeRoles(estate, gannet(estate))
    const count = (role: string) => [...roles.values()].filter((one) => one === role).length
    expect(['management', 'storage', 'guests', 'live migration', 'fault tolerance'].map(count)).toEqual([2, 2, 1, 1, 1])
    const slow = estate.all('port').filter(({ speedMbps }) => speedMbps === 1000)
    expect(slow.map(({ id }) => roles.get(id))).toEqual(['management', 'management'])
  })
})

describe('materials', () => {
  const image = '01890000-0000-7000-8000-0000000000c1'
  const estate = estateWith(
    { type: 'image.add', record: { id: image, name: 'brackwater-5.iso', sizeBytes: 1.2e9 } },
    change({ imageId: image, stickBytes: 1e9, powerSupplies: 2, atHand: 'rails' }),
    port('eno1', { role: 'management' }),
    port('eno2', { role: 'management', cable: 'missing' }),
    port('ens1', { role: 'storage', medium: 'fibre', cable: 'missing' }),
    port('eno3'),
  )
  const lines = materialsOf(estate, gannet(estate))
  it('counts cables by kind, with what is there', () => {
    expect(lines.map(({ key, count, there, isAtHand }) => [key, count, there, isAtHand])).toEqual([
      ['cable-copper', 2, 1, false],
      ['cable-fibre', 1, 0, false],
      ['cable-power', 2, 0, false],
      ['cable-display', 1, 0, false],
      ['install-stick', 1, 0, false],
      ['rails', 1, 0, true],
      ['second-person', 1, 0, false],
      ['drives', 1, 0, false],
    ])
  })
  // Common practice, no source: a platform image of 0.4 to 1.5 GB fits an 8 GB stick.
  it('asks for a stick that holds the image, and sees one that does not', () => {
    const stick = lines.find(({ key }) => key === 'install-stick')
    expect(stick?.what).toBe('Install stick of at least 8 GB')
    expect(stick?.problem).toMatch(/holds 1 GB, less than the image/)
  })
  it('an adapter, where there are too few wired ports for management', () => {
    const one = estateWith(port('eno1'), port('wl0', { medium: 'wireless' }))
    expect(materialsOf(one, gannet(one)).find(({ key }) => key === 'network-adapter')?.what).toBe('Network adapter with a wired port')
    expect(lines.map(({ key }) => key)).not.toContain('network-adapter')
  })
  it('ticks are kept as words', () => {
    expect(tickMaterial(gannet(estate), 'cable-power', true)).toBe('cable-power rails')
    expect(tickMaterial(gannet(estate), 'rails', false)).toBe('')
  })
})

describe('power and heat', () => {
  // Unit definition: 1 W is 3.412 BTU/h.
  it('heat', () => expect(heat(500)).toBeCloseTo(1706.07, 1))
  it('hosts on one circuit add up; what is not recorded is named', () => {
    const estate = estateWith(
      change({ circuit: 'A1', drawWatts: 400, circuitVolts: 230, circuitAmps: 10 }),
      { type: 'host.update', id: idOf('fulmar'), changes: { circuit: 'A1', drawWatts: 300 } },
      { type: 'host.update', id: idOf('tern'), changes: { circuit: 'A1' } },
    )
    const loads = circuitLoads(estate)
    expect(loads.map(({ site, watts, ratedWatts, unknown }) => [site, watts, ratedWatts, unknown.length])).toEqual([
      ['studio', 700, 2300, 0],
      ['mast', 0, undefined, 1],
    ])
    expect(loads[0]?.share).toBeCloseTo(0.304, 3)
  })
})

describe('nested hosts', () => {
  const inner = '01890000-0000-7000-8000-0000000000d1'
  it('layers are named from the nearest to the metal, to any depth', () => {
    const guest = '01890000-0000-7000-8000-0000000000d2'
    const deepest = '01890000-0000-7000-8000-0000000000d3'
    const nested = (id: string, name: string, outerGuestId: string): Command => ({
      type: 'host.add',
      record: { id, name, kind: 'nested', outerGuestId, platformId: idOf('marram'), coresPerSocket: 2, memoryMiB: 2048 },
    })
    const estate = estateWith(
      nested(inner, 'petrel', idOf('playout')),
      { type: 'guest.add', record: { id: guest, name: 'inner-guest', hostId: inner, vcpu: 2, memoryMiB: 1024 } },
      nested(deepest, 'storm', guest),
    )
    expect(
      nestingOf(estate, estate.find('host', deepest) as Host).map(({ outer, guestName, memoryMiB }) => [outer.name, guestName, memoryMiB]),
    ).toEqual([
      ['petrel', 'inner-guest', 1024],
      ['gannet', 'playout-1', 8192],
    ])
    expect(() => applyAll(estate, [{ type: 'guest.update', id: idOf('playout'), changes: { hostId: deepest } }], testContext(3))).toThrow(
      /inside itself/,
    )
  })
})
