import { commandShape, commandTypes, kinds, verbOf, type Field, type Fields, type TextShape } from '@insel/core'

/** A stream of numbers from 0 to 1 that a seed decides: mulberry32, in the public domain. */
function randomFrom(seed: number): () => number {
  let state = seed
  return () => {
    state = (state + 0x6d2b79f5) | 0
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state)
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296
  }
}

/** One request. The body is written out, since some of these no object of JavaScript can hold. */
export interface HostileRequest {
  readonly path: string
  readonly body: string
}

/** Values that no field asks for, and some that pass for what it asks for. */
export const NASTY: readonly unknown[] = [
  null,
  true,
  '',
  ' ',
  0,
  -1,
  1.5,
  1e308,
  -1e308,
  2 ** 53,
  2 ** 63,
  [],
  [[]],
  {},
  { a: {} },
  'x'.repeat(5000),
  'a\nb',
  'a\u0000b',
  'a\u0007b',
  '\u202e\u2066abc',
  '\ud800',
  'é\u0301\u0301\u0301',
  '😀'.repeat(60),
  "'; drop table host; --",
  '<script>alert(1)</script>',
  '${7*7}',
  '%00',
  '../../etc/passwd',
  'toString',
  '__proto__',
  'constructor',
  '2026-02-30',
  '2026-02-30T25:61:61Z',
  '10.61.30.256',
  '10.61.30.0/33',
  '::/129',
  'fe80::1%eth0',
  '00:00:00:00:00:00',
  'ff:ff:ff:ff:ff:ff',
  '01890000-0000-7000-8000-ffffffffffff',
]
/** Texts of each shape that are right, at the edge of right, or right in form and wrong in what they say. */
const TEXTS: Readonly<Record<TextShape, readonly string[]>> = {
  line: ['a line', 'x', 'Büro 😀'],
  note: ['', 'two\nlines'],
  words: ['b a', 'sse4_2 avx2'],
  name: ['web-1', 'a', 'x'.repeat(63), 'playout-1', 'gannet', 'office'],
  label: ['web-1', 'vault'],
  ip: ['10.61.30.7', '10.61.30.0', '10.61.30.255', '10.61.30.1', '0.0.0.0', '169.254.1.1', 'fe80::1', 'fd00::5', '203.0.113.9'],
  ips: ['10.61.30.1 10.61.30.2', 'fd00::5'],
  vlans: ['10,20-30', 'all', '4094'],
  prefix: ['10.61.30.0/24', '0.0.0.0/0', '10.61.30.7/32', 'fd00::/64', '::/0', '10.61.30.0/31'],
  subnet: ['10.61.30.0/24', '10.61.30.7/32', 'fd00::/64', 'fe80::/64', '10.61.30.0/31', '128.0.0.0/1'],
  mac: ['02:1a:4b:30:00:2f', '02:1a:4b:00:00:01', '00:00:00:00:00:01'],
  macPrefix: ['02:1a:4b'],
  sha256: ['a'.repeat(64)],
  date: ['2027-03-09', '0000-01-01', '9999-12-31', '2024-02-29'],
  instant: ['2027-03-09T22:00:00Z', '2000-01-01T00:00:00+14:00', '0000-01-01T00:00:00Z', '9999-12-31T23:00:00-14:00'],
  moment: ['2027-03-09', '+275760-09-13T00:00:00Z'],
  timeZone: ['UTC', 'Europe/London'],
  id: ['01890000-0000-7000-8000-000000000001', '7'],
  orderKey: ['a0', 'zz', '-'],
  domain: ['skerry.example', 'a'],
}
const FIELD_NAMES = ['toString', '__proto__', 'constructor', 'id', 'type', 'estateId', 'colour', '', 'a.b', '$ref', 'record']

/**
 * Requests that know what the server expects and give something else: commands of every type with every field right, at its
 * edge, of the wrong type, missing or unknown, on records that are there, of another kind, or nowhere; and the other routes.
 *
 * @param ids ids of records that exist
 * @param seed decides them all
 */
export function* hostileRequests(estateId: string, ids: readonly string[], seed: number): Generator<HostileRequest> {
  const random = randomFrom(seed)
  const one = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T
  const chance = (part: number) => random() < part

  const right = (field: Field): unknown => {
    switch (field.type) {
      case 'text':
        return one(TEXTS[field.shape])
      case 'integer':
        return one([field.min, field.min + 1, Math.min(field.max, field.min + 4096), field.max])
      case 'real':
        return one([field.min, field.max, (field.min + field.max) / 2])
      case 'bool':
        return chance(0.5)
      case 'choice':
        return one(field.options)
      case 'ref':
        return one(ids)
      case 'refMap':
        return { [one(ids)]: one(ids) }
      case 'textMap':
        return { [one(ids)]: one(TEXTS[field.shape]) }
      case 'refs':
        return [one(ids), one(ids)]
      case 'commands':
        return [{ type: 'guest.remove', id: one(ids) }]
      case 'tags':
        return ['a', 'b']
    }
  }
  // Half of the commands are right in every field, so that the code after the validation is reached.
  const values = (fields: Fields, fill: number) => {
    const wrong = chance(0.5) ? 0 : 0.3
    const value = (field: Field) => (chance(wrong) ? one(NASTY) : right(field))
    const made: Record<string, unknown> = {}
    for (const [name, field] of Object.entries(fields)) {
      const isNeeded = !field.optional && !('default' in field)
      if (chance(isNeeded ? 1 - wrong / 6 : fill))
        Object.defineProperty(made, name, { value: value(field), enumerable: true, configurable: true })
    }
    if (chance(wrong / 4)) Object.defineProperty(made, one(FIELD_NAMES), { value: one(NASTY), enumerable: true, configurable: true })
    return made
  }
  const command = (): unknown => {
    const type = one(commandTypes)
    const shape = commandShape(type)
    if (!shape || chance(0.02)) return one([...NASTY, { type: one(['toString', 'guest.fly', '', 'guest', 7, null, {}]) }])
    if ('verb' in shape) return { type, ...values(verbOf(shape.verb)?.fields ?? {}, 0.4) }
    const { fields } = kinds[shape.kind]
    if (shape.action === 'add') return { type, record: chance(0.03) ? one(NASTY) : values(fields, 0.2) }
    if (shape.action === 'update') return { type, id: chance(0.9) ? one(ids) : one(NASTY), changes: values(fields, 0.1) }
    // What is removed is gone for what follows: seldom, so that there stays something to attack.
    return { type, id: chance(0.01) ? one(ids) : one(NASTY), ...(chance(0.5) ? { withReferring: one([true, false, 'yes']) } : {}) }
  }
  const at = `/api/v1/estates/${estateId}`
  const machine = () => one(['playout-1', 'gannet', 'outside', one(ids), one(NASTY)])
  const routes: readonly (() => readonly [path: string, body: unknown])[] = [
    () => [
      `${at}/reachability`,
      {
        from: machine(),
        to: machine(),
        ...(chance(0.5) ? { protocol: one(['tcp', 'udp', 'icmp', one(NASTY)]), port: one([22, 0, 70000, one(NASTY)]) } : {}),
      },
    ],
    () => [`${at}/reachability/ping`, { from: machine(), target: one(['10.61.30.7', 'playout-1', one(NASTY)]) }],
    () => [`${at}/reachability/look-up`, { from: machine(), name: one(['playout-1', one(NASTY)]) }],
    () => [
      `${at}/imports`,
      {
        kind: one(['names', 'guests', one(NASTY)]),
        text: one(['10.61.30.9 web-2', 'name,vcpu,memory\na,1,8', '$TTL 1\nh 11!1 A 1', one(NASTY)]),
      },
    ],
    () => [
      `${at}/observations`,
      {
        samples: one([
          [{ subjectId: one(ids), at: one(['2026-01-01T00:00:00Z', one(NASTY)]), cpuPercent: one([5, one(NASTY)]) }],
          one(NASTY),
        ]),
      },
    ],
    () => [`${at}/collections`, one([{ hostId: one(ids) }, { guestId: one(ids), hostId: one(ids) }, { hostId: one(NASTY) }, one(NASTY)])],
    () => [`${at}/observers`, { guestId: one([one(ids), one(NASTY)]) }],
    () => [
      `${at}/redfish`,
      { url: one(['file:///etc/passwd', 'http://', 'x y', one(NASTY.filter((nasty) => typeof nasty !== 'string'))]), user: one(NASTY) },
    ],
    () => [`${at}/changes/${String(one([0, -1, 1e9, 'x', '%00', 2 ** 31]))}/revert`, one(NASTY)],
    () => ['/api/v1/estates', { name: one(NASTY), [one(FIELD_NAMES)]: one(NASTY) }],
  ]
  for (;;) {
    if (chance(0.25)) {
      const [path, body] = one(routes)()
      yield { path, body: JSON.stringify(body) }
      continue
    }
    const commands = Array.from({ length: chance(0.85) ? 1 : 1 + Math.floor(random() * 6) }, command)
    const body = {
      commands: chance(0.99) ? commands : one(NASTY),
      ...(chance(0.1) ? { expectedRevision: one([1, 2 ** 31, one(NASTY)]) } : {}),
      ...(chance(0.1) ? { dryRun: one([true, false, one(NASTY)]) } : {}),
    }
    const text = JSON.stringify(body)
    yield { path: `${at}/commands`, body: chance(0.01) ? text.slice(0, Math.floor(random() * text.length)) : text }
  }
}
