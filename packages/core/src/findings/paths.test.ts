import { describe, expect, it } from 'vitest'
import { kindNames, type Kind, type RecordOf } from '../estate/index.js'
import { idOf, smallEstate } from '../testing/small-estate.js'
import { rules } from './index.js'
import { againAlong, bothAgain } from './paths.js'

const estate = smallEstate()
const again = <K extends Kind>(subject: Kind, path: string, kind: K, id: string): readonly string[] => {
  const look = againAlong(subject, [path])[kind] as
    ((of: typeof estate, record: RecordOf<K>, changed: undefined) => readonly string[]) | undefined
  const record = estate.find(kind, id)
  if (!look || !record) throw new Error(`nothing looks at ${kind}`)
  return look(estate, record, undefined)
}

describe('what a rule reads, walked back', () => {
  it.each([
    ['guest', '> hostId', 'host', idOf('gannet'), [idOf('playout'), idOf('template')]],
    ['guest', '> hostId > platformId', 'platform', idOf('marram'), []],
    ['guest', '> hostId > platformId', 'platform', idOf('brackwater'), [idOf('playout'), idOf('template'), idOf('news')]],
    ['guest', '< disk.guestId', 'disk', idOf('newsDisk'), [idOf('news')]],
    ['address', '> subnetId < pool.subnetId', 'pool', idOf('pool'), []],
    ['guest', '< adapter.guestId < address.adapterId > subnetId', 'subnet', idOf('studioNet'), [idOf('playout')]],
  ] as const)('of %s, %s: a changed %s', (subject, path, kind, id, expected) =>
    expect(again(subject, path, kind, id).toSorted()).toEqual([...expected].toSorted()),
  )

  it('a record that is gone is still who it was', () => {
    const look = againAlong('guest', ['< disk.guestId']).disk
    expect(look?.(smallEstate(), { ...estate.all('disk')[0], guestId: 'gone' } as RecordOf<'disk'>, undefined)).toEqual(['gone'])
  })

  it.each([
    ['guest', '> memoryMiB'],
    ['guest', '< disk.storeId'],
    ['guest', 'hostId'],
    ['guest', '> hostId > guestId'],
  ] as const)('of %s, %s follows nothing, and is said', (subject, path) =>
    expect(() => againAlong(subject, [path])).toThrow(`${subject}: “${path}” follows nothing`),
  )

  it('two ways of one kind are both gone, and everything is everything', () => {
    const ways = bothAgain(againAlong('guest', ['> hostId', '> apartFromId']), { host: () => ['x'], guest: () => 'all' })
    const [host] = estate.all('host')
    const [guest] = estate.all('guest')
    expect(host && ways.host?.(estate, host, undefined)).toEqual([...again('guest', '> hostId', 'host', host?.id ?? ''), 'x'])
    expect(guest && ways.guest?.(estate, guest, undefined)).toBe('all')
  })

  it('no rule looks at what there is not', () =>
    expect(rules.flatMap((rule) => Object.keys(rule.again)).filter((kind) => !kindNames.includes(kind as Kind))).toEqual([]))
})
