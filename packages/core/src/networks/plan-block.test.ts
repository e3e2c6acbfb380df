import { execFileSync } from 'node:child_process'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { isWithin, overlaps, parsePrefix, usableCount } from './index.js'
import { freeBlocks, lengthFor, nextPlace, placeAround, planBlock, type SegmentWant } from './plan-block.js'

const want = (name: string, machines: number, more: Partial<SegmentWant> = {}): SegmentWant => ({
  name,
  role: 'guests',
  machines,
  growthPercent: 0,
  ...more,
})
const texts = (prefixes: readonly { text: string }[]) => prefixes.map(({ text }) => text)

describe('the length for a number of machines', () => {
  // 2^(32-p) - 2 usable, one of them the gateway’s.
  it.each([
    [253, 24],
    [254, 23],
    [13, 28],
    [14, 27],
    [1, 30],
    [509, 23],
  ])('%d machines need a /%d', (machines, bits) => expect(lengthFor(4, machines)).toBe(bits))
  // RFC 7421: a /64 is the length of a segment in IPv6.
  it('any number a /64 in IPv6', () => expect(lengthFor(6, 100_000)).toBe(64))
})

describe('a block planned', () => {
  const wants = [
    want('mgmt', 20, { role: 'management' }),
    want('office', 120, { growthPercent: 50 }),
    want('storage', 10, { role: 'storage' }),
    want('studio', 60),
    want('lab', 200, { role: 'lab' }),
  ]
  it('five segments in a /22: the largest first, each aligned, with gateway, pool, VLAN and room', () => {
    const { segments, free, problems } = planBlock('10.61.0.0/22', wants, [], [10])
    expect(problems).toEqual([])
    expect(
      segments.map(({ want: { name }, prefix, vlanId, gateway, pool, needed, room }) => [
        name,
        prefix.text,
        vlanId,
        gateway,
        pool?.first ?? null,
        needed,
        room,
      ]),
    ).toEqual([
      ['mgmt', '10.61.2.64/27', 20, '10.61.2.65', null, 20, 9],
      ['office', '10.61.0.0/24', 30, '10.61.0.1', '10.61.0.128', 180, 73],
      ['storage', '10.61.2.96/28', 40, null, null, 10, 4],
      ['studio', '10.61.2.0/26', 50, '10.61.2.1', '10.61.2.32', 60, 1],
      ['lab', '10.61.1.0/24', 60, '10.61.1.1', '10.61.1.128', 200, 53],
    ])
    expect(texts(free)).toEqual(['10.61.2.112/28', '10.61.2.128/25', '10.61.3.0/24'])
  })
  it('leaves what is there where it is, and says what finds no place', () => {
    const { segments, problems } = planBlock('10.61.0.0/24', [want('a', 100), want('b', 100)], ['10.61.0.0/26'])
    expect(segments.map(({ prefix }) => prefix.text)).toEqual(['10.61.0.128/25'])
    expect(problems).toEqual([
      { name: 'b', sentence: 'b needs a /25 for 100 machines, and 10.61.0.0/24 has none free. Use a larger block, or fewer machines.' },
    ])
    expect(
      planBlock(
        '10.61.0.0/24',
        [want('a', 5, { prefix: '10.61.1.0/28' }), want('b', 5, { prefix: '10.61.0.0/28' })],
        ['10.61.0.0/26'],
      ).problems.map(({ sentence }) => sentence),
    ).toEqual(['10.61.1.0/28 is not in 10.61.0.0/24.', '10.61.0.0/28 is taken by 10.61.0.0/26.'])
  })
  it('nests, aligns, does not overlap, holds what is asked; and whatever fits together is placed', () =>
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 900 }), { minLength: 1, maxLength: 12 }), (sizes) => {
        const { block, segments, free, problems } = planBlock(
          '10.61.0.0/20',
          sizes.map((machines, index) => want(`s${index}`, machines)),
        )
        const total = sizes.reduce((sum, machines) => sum + 2 ** (32 - lengthFor(4, machines)), 0)
        expect(problems.length === 0).toBe(total <= 4096)
        for (const { prefix, needed } of segments) {
          expect(isWithin(prefix, block)).toBe(true)
          expect(prefix.first % (prefix.last - prefix.first + 1n)).toBe(0n)
          expect(Number(usableCount(prefix))).toBeGreaterThan(needed)
        }
        const all = [...segments.map(({ prefix }) => prefix), ...free]
        all.forEach((one, index) => all.slice(index + 1).forEach((other) => expect(overlaps(one, other)).toBe(false)))
        // Nothing is lost: what is placed and what is free make the block.
        expect(all.reduce((sum, { first, last }) => sum + (last - first + 1n), 0n)).toBe(4096n)
        expect(new Set(segments.map(({ vlanId }) => vlanId)).size).toBe(segments.length)
      }),
    ))
  it('what is free agrees with Python’s ipaddress: address_exclude, 300 random cases', () => {
    const cases = fc.sample(
      fc.array(fc.tuple(fc.nat(255), fc.integer({ min: 24, max: 30 })), { minLength: 1, maxLength: 4 }).map((list) =>
        list.map(([at, bits]) => {
          const size = 2 ** (32 - bits)
          return `10.61.7.${Math.floor(at / size) * size}/${bits}`
        }),
      ),
      300,
    )
    const program = [
      'import ipaddress, json, sys',
      'def free(taken):',
      "    left = [ipaddress.ip_network('10.61.0.0/20')]",
      '    for t in map(ipaddress.ip_network, taken):',
      '        after = []',
      '        for n in left:',
      '            if t.supernet_of(n): continue',
      '            after += n.address_exclude(t) if t.subnet_of(n) else [n]',
      '        left = after',
      '    return [str(n) for n in sorted(ipaddress.collapse_addresses(left))]',
      'print(json.dumps([free(c) for c in json.load(sys.stdin)]))',
    ].join('\n')
    const theirs = JSON.parse(execFileSync('python3', ['-c', program], { input: JSON.stringify(cases), encoding: 'utf8' })) as string[][]
    expect(cases.map((taken) => texts(freeBlocks(parsePrefix('10.61.0.0/20'), taken.map(parsePrefix))))).toEqual(theirs)
  })
})

describe('moving a prefix in its block', () => {
  const block = parsePrefix('10.61.0.0/24')
  const taken = [parsePrefix('10.61.0.64/26')]
  it('goes to the next free place, past what is taken', () => {
    expect(nextPlace(block, taken, parsePrefix('10.61.0.0/27'), 'up')?.text).toBe('10.61.0.32/27')
    expect(nextPlace(block, taken, parsePrefix('10.61.0.32/27'), 'up')?.text).toBe('10.61.0.128/27')
    expect(nextPlace(block, taken, parsePrefix('10.61.0.128/27'), 'down')?.text).toBe('10.61.0.32/27')
    expect(nextPlace(block, taken, parsePrefix('10.61.0.0/27'), 'down')).toBeUndefined()
    expect(nextPlace(block, taken, parsePrefix('10.61.0.192/26'), 'up')).toBeUndefined()
  })
  it('is dropped on an aligned free place, or nowhere', () => {
    expect(placeAround(block, taken, '10.61.0.201', 27)?.text).toBe('10.61.0.192/27')
    expect(placeAround(block, taken, '10.61.0.70', 27)).toBeUndefined()
    expect(placeAround(block, taken, '10.62.0.1', 27)).toBeUndefined()
  })
})
