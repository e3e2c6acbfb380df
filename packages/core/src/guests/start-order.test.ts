import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { Findings } from '../findings/index.js'
import { idOf, smallEstate, testContext, TODAY } from '../testing/small-estate.js'
import { startOrder } from './index.js'

const names = ['names', 'files', 'mail', 'web'] as const
const id = (name: string) => `01890000-0000-7000-8000-0000000000${(0xa0 + names.indexOf(name as (typeof names)[number])).toString(16)}`
const guests: Command[] = names.map((name) => ({
  type: 'guest.add',
  record: { id: id(name), name, hostId: idOf('gannet'), vcpu: 1, memoryMiB: 512 },
}))
const needs = (guest: string, other: string, waitSeconds = 60): Command => ({
  type: 'dependency.add',
  record: { guestId: id(guest), needsId: id(other), waitSeconds },
})
const made = (...commands: Command[]) => applyAll(smallEstate(), [...guests, ...commands], testContext()).estate
const orderOf = (estate: ReturnType<typeof made>) =>
  startOrder(
    estate,
    names.flatMap((name) => estate.find('guest', id(name)) ?? []),
  )

describe('the start order', () => {
  it('waits for what is needed, and for as long', () => {
    const { steps, circles } = orderOf(made(needs('mail', 'files', 120), needs('files', 'names', 30), needs('web', 'mail')))
    expect(steps.map(({ guest, atSeconds }) => [guest.name, atSeconds])).toEqual([
      ['names', 0],
      ['files', 30],
      ['mail', 150],
      ['web', 210],
    ])
    expect(circles).toEqual([])
  })

  it('nobody starts before what it needs, whatever the names', () => {
    const { steps } = orderOf(made(needs('files', 'web'), needs('names', 'files'), needs('names', 'mail')))
    const at = new Map(steps.map(({ guest }, index) => [guest.name, index]))
    for (const { guest, after } of steps) for (const wait of after) expect(at.get(wait.guest.name)).toBeLessThan(at.get(guest.name) ?? -1)
  })

  it('a guest that serves a store comes before those whose disks lie there', () => {
    const estate = made(
      {
        type: 'store.add',
        record: { id: idOf('array'), name: 'shared', kind: 'shared', site: 'studio', capacityBytes: 1e12, servedById: id('files') },
      },
      { type: 'disk.add', record: { guestId: id('web'), storeId: idOf('array'), sizeBytes: 1e9 } },
    )
    expect(
      orderOf(estate)
        .steps.find(({ guest }) => guest.name === 'web')
        ?.after.map(({ why }) => why),
    ).toEqual(['serves store shared'])
  })

  it('a name server comes before those it resolves for', () => {
    const estate = made(
      { type: 'adapter.add', record: { id: idOf('switch'), guestId: id('names'), networkId: idOf('office'), mac: '02:1a:4b:00:00:a0' } },
      { type: 'adapter.add', record: { guestId: id('web'), networkId: idOf('office'), mac: '02:1a:4b:00:00:a1' } },
      { type: 'address.assign', adapterId: idOf('switch'), ip: '10.61.30.200', kind: 'fixed' },
      { type: 'subnet.update', id: idOf('officeNet'), changes: { nameServers: '10.61.30.200' } },
    )
    expect(
      orderOf(estate)
        .steps.find(({ guest }) => guest.name === 'web')
        ?.after.map(({ why }) => why),
    ).toEqual(['resolves its names'])
  })

  it('guests of a nested host wait until the guest that is the host is up', () => {
    const estate = made(
      {
        type: 'host.add',
        record: {
          id: idOf('array'),
          name: 'petrel',
          kind: 'nested',
          outerGuestId: id('files'),
          platformId: idOf('marram'),
          coresPerSocket: 2,
          memoryMiB: 4096,
        },
      },
      { type: 'guest.update', id: id('web'), changes: { hostId: idOf('array') } },
    )
    const web = orderOf(estate).steps.find(({ guest }) => guest.name === 'web')
    expect(web?.after.map(({ guest, why }) => [guest.name, why])).toEqual([['files', 'is the host it runs on']])
    expect(web?.atSeconds).toBe(180)
  })

  it('stopping is the same order from behind: nobody goes before who waits for it', () => {
    const { steps } = orderOf(made(needs('mail', 'files'), needs('web', 'mail')))
    const stopped = [...steps].reverse().map(({ guest }) => guest.name)
    expect(stopped.indexOf('web')).toBeLessThan(stopped.indexOf('mail'))
    expect(stopped.indexOf('mail')).toBeLessThan(stopped.indexOf('files'))
  })

  it('circles are named, and a finding says so; who waits for one is stuck', () => {
    const estate = made(needs('files', 'mail'), needs('mail', 'files'), needs('web', 'mail'))
    const order = orderOf(estate)
    expect(order.circles.map((circle) => circle.map(({ name }) => name).sort())).toEqual([['files', 'mail']])
    expect([order.steps.map(({ guest }) => guest.name), order.stuck.map(({ name }) => name)]).toEqual([['names'], ['web']])
    const finding = Findings.of(estate, TODAY)
      .list()
      .find(({ ruleId }) => ruleId === 'guest.waits-in-circle')
    expect(finding?.sentence).toMatch(/waits for .* waits for .*none can be started first/)
  })

  it('what is needed and not among them is named', () => {
    const estate = made(needs('web', 'names'))
    const web = estate.find('guest', id('web'))
    expect(startOrder(estate, web ? [web] : []).steps[0]?.outside.map(({ guest }) => guest.name)).toEqual(['names'])
  })
})
