import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import highsLoader from 'highs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import type { Estate, Guest, Host, Migration } from '../estate/index.js'
import { idOf, smallEstate, testContext } from '../testing/index.js'
import { processorMs } from '../testing/processor-time.js'
import { runs } from '../testing/tier.js'
import {
  calibration,
  fairShares,
  learnedShare,
  leastTarget,
  liveCopy,
  moveTime,
  ownCopies,
  ownShares,
  progressView,
  shareOf,
  readProgress,
  readProgressText,
  sayDoubt,
  type Flow,
} from './index.js'

// The package's types describe it as an ES module; it is a CommonJS one whose export is the loader itself.
const highs = await (highsLoader as unknown as typeof highsLoader.default)()

const networks = fc
  .record({
    capacities: fc.array(fc.integer({ min: 1, max: 1000 }), { minLength: 1, maxLength: 6 }),
    flows: fc.array(
      fc.record({ through: fc.array(fc.nat(5), { minLength: 1, maxLength: 4 }), most: fc.option(fc.integer({ min: 1, max: 500 })) }),
      {
        minLength: 1,
        maxLength: 8,
      },
    ),
  })
  .map(({ capacities, flows }) => ({
    capacities: new Map(capacities.map((value, index) => [`r${index}`, value])),
    flows: flows.map(({ through, most }, index): Flow => ({
      id: `f${index}`,
      through: [...new Set(through.map((one) => `r${one % capacities.length}`))],
      most: most ?? Infinity,
    })),
  }))

describe('transfers that share links', () => {
  it('get what an independent filling in small steps gives them', () =>
    fc.assert(
      fc.property(networks, ({ capacities, flows }) => {
        // Written another way: all rise together in equal steps, each until something it passes is full.
        const [rates, frozen] = [new Map(flows.map(({ id }) => [id, 0])), new Set<string>()]
        const step = 0.05
        for (let turn = 0; frozen.size < flows.length && turn < 25_000; turn++)
          for (const { id, through, most } of flows) {
            if (frozen.has(id)) continue
            const isFull = (name: string) =>
              flows.filter((flow) => flow.through.includes(name)).reduce((sum, flow) => sum + (rates.get(flow.id) ?? 0), 0) + step >
              (capacities.get(name) ?? 0) + 1e-9
            if ((rates.get(id) ?? 0) + step > most || through.some(isFull)) frozen.add(id)
            else rates.set(id, (rates.get(id) ?? 0) + step)
          }
        const shares = fairShares(flows, capacities)
        for (const { id } of flows) expect(Math.abs((shares.get(id) ?? 0) - (rates.get(id) ?? 0))).toBeLessThan(step * flows.length + 0.1)
      }),
      { numRuns: runs(15, 150) },
    ))

  it('have as their least share what a linear program says is the most that all can have (highs)', () =>
    fc.assert(
      fc.property(networks, ({ capacities, flows }) => {
        const lines = [
          ...[...capacities].map(([name, most]) => {
            const passing = flows.filter(({ through }) => through.includes(name))
            return passing.length > 0 ? ` ${passing.map(({ id }) => id).join(' + ')} <= ${most}` : undefined
          }),
          ...flows.map(({ id }) => ` ${id} - t >= 0`),
          ...flows.flatMap(({ id, most }) => (most === Infinity ? [] : [` ${id} <= ${most}`])),
        ].filter((line) => line !== undefined)
        const { Status, ObjectiveValue } = highs.solve(
          `Maximize\n t\nSubject To\n${lines.map((line, index) => ` c${index}:${line}`).join('\n')}\nEnd`,
        )
        expect(Status).toBe('Optimal')
        expect(Math.min(...fairShares(flows, capacities).values())).toBeCloseTo(ObjectiveValue, 4)
      }),
      { numRuns: runs(40, 400) },
    ))

  it('pass nothing, or what has no limit, without one', () => {
    expect(fairShares([], new Map())).toEqual(new Map())
    expect(fairShares([{ id: 'a', through: ['nowhere'], most: 7 }], new Map()).get('a')).toBe(7)
    expect(fairShares([{ id: 'a', through: [], most: Infinity }], new Map()).get('a')).toBe(Infinity)
  })
})

describe('a live move', () => {
  it('takes what a simulation round by round says', () =>
    fc.assert(
      fc.property(
        fc.double({ min: 1e8, max: 1e12, noNaN: true }),
        fc.double({ min: 1e7, max: 1e10, noNaN: true }),
        fc.double({ min: 0, max: 0.95, noNaN: true }),
        (memoryBytes, bytesPerSecond, share) => {
          const answer = liveCopy({ memoryBytes, bytesPerSecond, dirtyPerSecond: share * bytesPerSecond, pauseSeconds: 0.5 })
          let [left, sent, rounds] = [memoryBytes, 0, 0]
          while (left / bytesPerSecond > 0.5 && rounds < 10_000) {
            sent += left
            left = (left / bytesPerSecond) * share * bytesPerSecond
            rounds++
          }
          sent += left
          expect(answer.converges).toBe(true)
          if (!answer.converges) return
          expect(answer.rounds).toBe(rounds)
          expect(answer.bytes / sent).toBeCloseTo(1, 6)
          expect(answer.pauseSeconds * bytesPerSecond - left).toBeCloseTo(0, -4)
        },
      ),
      { numRuns: runs(200, 2000) },
    ))

  it('never ends where memory is written as fast as it is sent, and says what would help', () => {
    const answer = liveCopy({ memoryBytes: 8e9, bytesPerSecond: 1e8, dirtyPerSecond: 1e8, pauseSeconds: 0.1 })
    expect(answer.converges ? '' : answer.sentence).toMatch(/never ends.*faster link.*switched off/)
  })
})

describe('the share of its limit that own transfers reach', () => {
  it('is all of it at first, with a range from Student’s t', () => {
    const first = learnedShare([])
    expect(shareOf(first, 0.5)).toBe(1)
    // NIST e-Handbook of statistical methods, 1.3.6.7.2: t of 0.90 with 4 degrees of freedom is 1.533, with 10 1.372.
    expect(Math.log(shareOf(first, 0.1)) / first.scale).toBeCloseTo(-1.533, 3)
    const six = learnedShare(Array<number>(6).fill(1))
    expect(Math.log(shareOf(six, 0.1)) / six.scale).toBeCloseTo(-1.372, 3)
  })

  it('goes to what was measured, its range narrows, and it is never more than all', () => {
    const many = learnedShare(Array<number>(200).fill(0.36))
    expect(shareOf(many, 0.5) / 0.36).toBeCloseTo(1, 1)
    expect(many.scale).toBeLessThan(learnedShare([]).scale)
    expect(learnedShare([0, -1, Infinity, Number.NaN]).count).toBe(0)
    expect([shareOf(learnedShare([5, 9, 7]), 0.5), shareOf(learnedShare([]), 0.99)]).toEqual([1, 1])
  })

  it('is honest: of shares drawn around an unknown one, nine in ten are above its tenth', () => {
    let [held, all, state] = [0, 0, 12_345]
    const random = () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647
    const gauss = () => Math.sqrt(-2 * Math.log(random())) * Math.cos(2 * Math.PI * random())
    for (let run = 0; run < runs(400, 4000); run++) {
      const [middle, spread] = [-0.3 + 0.4 * gauss(), 0.25 + 0.2 * random()]
      const draw = () => Math.min(1, Math.exp(middle + spread * gauss()))
      const learned = learnedShare(Array.from({ length: Math.floor(random() * 12) }, draw))
      all++
      if (draw() >= shareOf(learned, 0.1)) held++
    }
    expect(held / all).toBeGreaterThan(0.85)
    expect(held / all).toBeLessThan(0.95)
  })
})

describe('what tools say of their progress', () => {
  let folder: string
  beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'insel-transfer-'))))
  afterAll(() => rmSync(folder, { recursive: true, force: true }))
  const SIZE = 300_000_000

  it('dd, pv and rsync, as they say it on this machine', () => {
    const [from, to] = [join(folder, 'from'), join(folder, 'to')]
    mkdirSync(from)
    // coreutils, pv and rsync of Debian, run for real.
    const dd = spawnSync(
      'dd',
      ['if=/dev/zero', `of=${join(from, 'disk')}`, 'bs=1M', 'count=300', 'iflag=count_bytes', `count=${SIZE}`, 'status=progress'],
      { encoding: 'utf8', env: { ...process.env, LC_ALL: 'C' } },
    )
    const pv = spawnSync('sh', ['-c', `pv -f -i 0.1 -s ${SIZE} ${join(from, 'disk')} > /dev/null`], {
      encoding: 'utf8',
      env: { ...process.env, LC_ALL: 'C' },
    })
    const rsync = spawnSync('rsync', ['--info=progress2', '--no-inc-recursive', '-r', `${from}/`, to], {
      encoding: 'utf8',
      env: { ...process.env, LC_ALL: 'C' },
    })
    for (const [name, text] of [
      ['dd', dd.stderr],
      ['pv', pv.stderr],
      ['rsync', rsync.stdout],
    ] as const) {
      const { samples } = readProgressText(text, SIZE, 0)
      expect([name, samples.length > 0]).toEqual([name, true])
      expect([name, Math.abs((samples.at(-1)?.bytes ?? 0) - SIZE) / SIZE < 0.02]).toEqual([name, true])
    }
  }, 60_000)

  it.each([
    ['1073741824 bytes (1.1 GB, 1.0 GiB) copied, 3 s, 358 MB/s', { bytes: 1_073_741_824, seconds: 3 }],
    ['8388608 bytes (8,4 MB, 8,0 MiB) copied, 0,0027 s, 3,1 GB/s', { bytes: 8_388_608, seconds: 0.0027 }],
    ['    104,857,600  97%   98.07MB/s    0:00:01 (xfr#1, to-chk=0/1)', { bytes: 104_857_600, fraction: 0.97 }],
    ['1.17GiB 0:00:12 [ 102MiB/s] [====>     ] 39% ETA 0:00:18', { bytes: Math.round(1.17 * 2 ** 30), seconds: 12, fraction: 0.39 }],
    ['43 %', { fraction: 0.43 }],
    ['12,5%', { fraction: 0.125 }],
    ['4.2 GiB', { bytes: Math.round(4.2 * 2 ** 30) }],
  ])('%s', (line, said) => expect(readProgress(line)).toMatchObject(said))

  it.each(['12 files to go, 5 MB/s, 3 s', '40 files, 2 of them large, 8 s'])('what only begins like a line of dd is none: %s', (line) =>
    expect(readProgressText(line, 1e9, 100_000)).toMatchObject({ samples: [], unread: 1 }),
  )

  // GNU coreutils 9.1 of Debian 12, run on this machine under LC_ALL of each language (dd if=/dev/zero of=/dev/null bs=1M count=300).
  it.each([
    ['314572800 Bytes (315 MB, 300 MiB) kopiert, 0,0597966 s, 5,3 GB/s', 314_572_800, 0.0597966],
    ['314572800 octets (315 MB, 300 MiB) copiés, 0,0503342 s, 6,2 GB/s', 314_572_800, 0.0503342],
    ['314572800 bytes (315 MB, 300 MiB) copied, 0,0450338 s, 7,0 GB/s', 314_572_800, 0.0450338],
    ['314572800 bytes (315 MB, 300 MiB) gekopieerd, 0,0459542 s, 6,8 GB/s', 314_572_800, 0.0459542],
    ['31457280 字节 (31 MB, 30 MiB) 已复制，0.021393 s，1.5 GB/s', 31_457_280, 0.021393],
    ['31457280 바이트 (31 MB, 30 MiB) 복사함, 0.0228119 s, 1.4 GB/s', 31_457_280, 0.0228119],
    ['скопійовано 31457280 байтів (31 MB, 30 MiB), 0,0179561 s, 1,8 GB/s', 31_457_280, 0.0179561],
    ['31457280 bayt (31 MB, 30 MiB) kopyalandı, 0,0211765 s, 1,5 GB/s', 31_457_280, 0.0211765],
    // dd(1) of FreeBSD 13 and macOS, its last lines, and FreeBSD with status=progress; from memory.
    ['4194304 bytes transferred in 0.123456 secs (33974080 bytes/sec)', 4_194_304, 0.123456],
    ['1048576000 bytes (1049 MB, 1000 MiB) transferred 2.001s, 524 MB/s', 1_048_576_000, 2.001],
    // dd(1) of OpenBSD 7; from memory.
    ['33554432 bytes transferred in 0.049 secs (684784224 bytes/sec)', 33_554_432, 0.049],
  ])('dd in other languages and of other systems: %s', (line, bytes, seconds) =>
    expect(readProgress(line)).toEqual({ bytes, seconds, fraction: undefined }),
  )

  // rsync 3.2 and pv 1.6.20 of Debian 12, run on this machine: rsync -rh, -r and -rhh with --info=progress2 under C and de_DE; pv -n, -nb, -nt.
  it.each<[string, string, number, readonly number[]]>([
    ['rsync -h', '        377.49M  75%  871.60MB/s    0:00:00 (xfr#3, to-chk=1/5)', 503e6, [377.49e6]],
    ['rsync, German', '    503.316.480 100%  689,61MB/s    0:00:00 (xfr#4, to-chk=0/5)', 503_316_480, [503_316_480]],
    ['rsync -h, German', '        503,32M 100%    1,06GB/s    0:00:00 (xfr#4, to-chk=0/5)', 503e6, [503.32e6]],
    ['rsync -h, a share', '          1.07G  33%   98.07MB/s    0:00:21', 3.2e9, [1.07e9]],
    ['rsync at its first block', '         32,768   0%    0.00kB/s    0:00:00', 5e9, [32_768]],
    ['pv -n', '25\n50\n75\n100', 1e9, [25e7, 5e8, 75e7, 1e9]],
    ['pv -n, its only line', '43', 1e9, [43e7]],
    ['pv -nb', '31457280\n62914560\n94371840', 125e6, [31_457_280, 62_914_560, 94_371_840]],
    ['pv -nt', '0.1855 25\n0.2811 50\n0.3763 75', 1e9, [25e7, 5e8, 75e7]],
    ['pv, German', '60,0MiB 0:00:00 [ 214MiB/s] [====>       ] 50% ETA 0:00:00', 125e6, [60 * 2 ** 20]],
    ['pv of a day', '4.20TiB 1:00:01:00 [51.0MiB/s] [====>       ] 50% ETA 1:00:00:10', 9e12, [Math.round(4.2 * 2 ** 40)]],
  ])('%s', (_, text, total, bytes) => expect(readProgressText(text, total, 0).samples.map((sample) => sample.bytes)).toEqual(bytes))

  it('a clock of days, hours, minutes and seconds is what it says', () =>
    expect(readProgress('4.20TiB 1:00:01:00 [51.0MiB/s]')?.seconds).toBe(86_460))

  it('files counted one by one are added up; where the first are missing, it is said', () => {
    // rsync -r --progress of Debian 12, three files of 125,829,120 bytes, run on this machine.
    const lines = [
      'sending incremental file list',
      'x1',
      '         32,768   0%  244.27kB/s    0:08:34  ',
      '    125,829,120 100%  466.93MB/s    0:00:00 (xfr#1, to-chk=2/4)',
      'x2',
      '         32,768   0%  124.51kB/s    0:16:50  ',
      '    125,829,120 100%  312.50MB/s    0:00:00 (xfr#2, to-chk=1/4)',
      'x3',
      '     62,914,560  50%   83.12kB/s    0:25:13  ',
    ]
    const total = 3 * 125_829_120
    expect(readProgressText(lines.join('\n'), total, 0).samples.map(({ bytes }) => bytes)).toEqual([
      32_768, 125_829_120, 125_861_888, 251_658_240, 314_572_800,
    ])
    expect(readProgressText(lines.slice(3, 4).join('\n'), total, 0).samples).toEqual([{ at: 0, bytes: 125_829_120 }])
    expect(readProgressText(lines.slice(5).join('\n'), total, 0)).toMatchObject({
      samples: [],
      refusal: expect.stringMatching(/begin with file 2: what came before is not in them/) as string,
    })
    // All of it, counted together, is none of that.
    expect(readProgressText('1,000 10% 1.00kB/s 0:00:09\n9,000 90% 1.00kB/s 0:00:01', 10_000, 0).samples.map(({ bytes }) => bytes)).toEqual(
      [1000, 9000],
    )
  })

  it('a number that may be two is asked about, unless another line or the whole says which', () => {
    const doubt = readProgressText('4,200 GB', 8e12, 0)
    expect(doubt).toMatchObject({ samples: [], unread: 0, doubt: { answers: [{ bytes: 4200e9 }, { bytes: 4.2e9 }] } })
    expect(doubt.doubt && sayDoubt(doubt.doubt)).toBe('“4,200 GB” may be 4200 GB or 4.2 GB; say which, and the lines are read.')
    expect(readProgressText('4,200 GB', 8e12, 0, 'point').samples).toEqual([{ at: 0, bytes: 4200e9 }])
    expect(readProgressText('4,200 GB', 8e12, 0, 'comma').samples).toEqual([{ at: 0, bytes: 4.2e9 }])
    // 4,200 GB are more than there is to move.
    expect(readProgressText('4,200 GB', 64e9, 0).samples).toEqual([{ at: 0, bytes: 4.2e9 }])
    // Another line has a point before its decimals, so that a comma sets thousands apart.
    expect(readProgressText('980.5 GB\n4,200 GB', 8e12, 0).samples.map(({ bytes }) => bytes)).toEqual([980.5e9, 4200e9])
    // An address is asked by a program: what may be two is not taken.
    expect(readProgress('4,200 GB')).toBeUndefined()
  })

  it('what is no progress is none, and nothing takes long', () => {
    for (const line of [
      '',
      'sending incremental file list',
      '101',
      '% 5',
      'x'.repeat(100_000),
      `${'1'.repeat(50_000)} bytes`,
      ' '.repeat(100_000) + '%',
    ])
      expect(readProgress(line)).toBeUndefined()
    expect(readProgressText('10%\r20%\r250%\n30%', 1000, 5000)).toEqual({
      samples: [
        { at: 3000, bytes: 100 },
        { at: 4000, bytes: 200 },
        { at: 5000, bytes: 300 },
      ],
      unread: 1,
    })
    // Three days of a log with a time before each line; a tool's own seconds count back from now.
    expect(
      readProgressText('2027-03-09T22:00:00Z 12%\n[2027-03-09 23:00] 13.5 %\n2027-03-10T01:30:00+0100, 4.2 GiB', 1e9, 0).samples,
    ).toEqual([
      { at: Date.UTC(2027, 2, 9, 22), bytes: 120_000_000 },
      { at: Date.UTC(2027, 2, 9, 23), bytes: 135_000_000 },
      { at: Date.UTC(2027, 2, 10, 0, 30), bytes: Math.round(4.2 * 2 ** 30) },
    ])
    expect(
      readProgressText('1000 bytes copied, 3 s, 1 kB/s\r9000 bytes copied, 8 s, 1 kB/s', 1e6, 100_000).samples.map(({ at }) => at),
    ).toEqual([95_000, 100_000])
    writeFileSync(join(folder, 'used'), '')
  })
})

describe('what is drawn of a transfer', () => {
  const many = Array.from({ length: 100_000 }, (_, index) => ({ at: index * 1000, bytes: index * 1_000_000 + (index % 7) * 1000 }))

  it('is at most 300 readings evenly over its time, the first and the last among them, in under 200 ms', () => {
    let view = progressView(150_000_000_000, many.slice(0, 3))
    const took = processorMs(() => (view = progressView(150_000_000_000, many)))
    const { points, estimates, progress } = view
    expect(points.length).toBeLessThanOrEqual(300)
    expect([points[0], points.at(-1)]).toEqual([many[0], many.at(-1)])
    const gaps = points.slice(1).map(({ at }, index) => at - (points[index]?.at ?? 0))
    // Two stretches at most, of 100,000 s parted in 300.
    expect(Math.max(...gaps)).toBeLessThan(2 * 334_000)
    expect(progress.left?.middle).toBeCloseTo(50_000, -3)
    expect(estimates.at(-1)).toMatchObject({ isSettled: true })
    // Twice the budget of the bench, which says how long it takes on an idle machine.
    expect(took).toBeLessThan(1000)
  })

  it('of few readings is all of them', () => expect(progressView(1000, many.slice(0, 3)).points).toEqual(many.slice(0, 3)))
})

describe('own estimates held against what came', () => {
  const ended = (index: number, copySeconds: number): Command => ({
    type: 'migration.add',
    record: {
      guestId: idOf('news'),
      toHostId: idOf('fulmar'),
      startedAt: `2027-01-0${index + 1}T08:00:00.000Z`,
      endedAt: `2027-01-0${index + 1}T10:00:00.000Z`,
      estimateSeconds: 100,
      estimateLateSeconds: 200,
      copySeconds,
    },
  })
  it('say of the last ones how many ended below the middle and below nine in ten', () => {
    const lived = applyAll(smallEstate(), [ended(0, 90), ended(1, 150), ended(2, 250), ended(3, 99)], testContext(3)).estate
    expect(calibration(lived)).toEqual({ count: 4, belowMiddle: 2, belowLate: 3 })
    expect(calibration(lived, 2)).toEqual({ count: 2, belowMiddle: 1, belowLate: 1 })
  })
})

describe('how long a move takes', () => {
  const estate = smallEstate()
  const get = (of: Estate, kind: 'guest' | 'host', name: string) => {
    const found = of.find(kind, idOf(name))
    if (!found) throw new Error(name)
    return found
  }
  const of = (on: Estate, method: Parameters<typeof moveTime>[1]['method']) =>
    moveTime(on, {
      guest: get(on, 'guest', 'playout') as Guest,
      to: get(on, 'host', 'fulmar') as Host,
      method,
      stores: { [idOf('playoutDisk')]: idOf('nvme2') },
    })
  const done = (...commands: Command[]) => applyAll(estate, commands, testContext(40)).estate

  it('is bytes over the slowest of link, drives and method, with where each is from', () => {
    const cold = of(estate, 'cold copy')
    expect(cold.limits[0]?.label).toBe('link of gannet')
    // IEEE 802.3 and the RFCs: 118.66 MB/s of TCP payload on 1 Gbit/s at MTU 1500.
    expect((cold.limits[0]?.bytesPerSecond ?? 0) / 1e6).toBeCloseTo(118.66, 2)
    expect(cold.copySeconds.p50).toBeCloseTo(cold.bytes.value / (cold.limits[0]?.bytesPerSecond ?? 1), 3)
    expect(cold.copySeconds.p90).toBeGreaterThan(cold.copySeconds.p50)
    expect(of(estate, 'disk-to-disk over the network').bytes.value).toBeGreaterThanOrEqual(cold.bytes.value)
    expect(of(estate, 'live').bytes.inputs[0]?.label).toBe('memory')
  })

  it('is what own moves took: 12 GiB in 544 s at 16.5 MB/s, and a file server of three days', () => {
    // Observed: 12 GiB disk, 544 s in all, 16.5 MB/s mean, so 8,976 MB moved (facts of the trade).
    const move = (index: number): Command => ({
      type: 'migration.add',
      record: {
        guestId: idOf('news'),
        toHostId: idOf('fulmar'),
        method: 'agent conversion',
        startedAt: `2027-01-0${index + 1}T08:00:00.000Z`,
        endedAt: `2027-01-0${index + 1}T08:09:04.000Z`,
        movedBytes: 8_976_000_000,
      },
    })
    const lived = done(...[0, 1, 2, 3, 4, 5, 6].map(move))
    expect(ownCopies(lived).map(({ bytesPerSecond }) => Math.round(bytesPerSecond / 1e5) / 10)).toEqual(Array<number>(7).fill(16.5))
    // Of the 60 MB/s that the method does at the most.
    expect(ownShares(lived, 'agent conversion').map((share) => share.toFixed(3))).toEqual(Array<string>(7).fill('0.275'))
    const [before, after] = [of(estate, 'agent conversion'), of(lived, 'agent conversion')]
    expect([before.share.count, after.share.count]).toEqual([0, 7])
    expect(after.copySeconds.p50).toBeGreaterThan(before.copySeconds.p50)
    // A little over three days at the 30 MB/s of files one by one is some 8 TB.
    expect((8e12 / 30e6 / 86_400).toFixed(1)).toBe('3.1')
  })

  /** Moves of news to fulmar that carried so much a second. */
  const carried = (mbPerSecond: number, count: number, method: Migration['method'] = 'cold copy') =>
    Array.from({ length: count }, (_, index): Command => ({
      type: 'migration.add',
      record: {
        guestId: idOf('news'),
        fromHostId: idOf('gannet'),
        toHostId: idOf('tern'),
        method,
        startedAt: `2027-01-0${index + 1}T08:00:00.000Z`,
        copySeconds: 100,
        movedBytes: mbPerSecond * 1e8,
      },
    }))
  const port = (host: string, name: string, speedMbps: number): Command => ({
    type: 'port.add',
    record: { hostId: idOf(host), name, speedMbps, cable: 'present' },
  })

  it('goes by the usual link of an end whose ports are not recorded, however fast the other is; what own moves reached there counts', () => {
    const known = port('gannet', 'ens1', 10_000)
    const [first] = of(done(known), 'cold copy').limits
    expect([first?.label, first?.bytesPerSecond.toFixed(0)]).toEqual(['link of fulmar', '118660598'])
    expect(of(done(known, port('fulmar', 'ens1', 10_000)), 'cold copy').limits[0]?.label).toBe('nvme-1, read')
    const reached = carried(300, 7).map((move) => ({
      ...move,
      record: { ...(move as { record: object }).record, toHostId: idOf('fulmar') },
    }))
    expect(of(done(known, ...(reached as Command[])), 'cold copy').limits[0]?.bytesPerSecond).toBe(300e6)
  })

  it('is never less than the slowest link takes, whatever own moves reached elsewhere', () => {
    const slow = [port('gannet', 'eth0', 1000), port('tern', 'eth0', 1000), port('fulmar', 'eth0', 100)]
    const lived = done(...slow, ...carried(110, 7))
    const { copySeconds, bytes, share } = of(lived, 'cold copy')
    // IEEE 802.3, RFC 791 and 9293: 1,460 of 1,538 bytes of each frame at MTU 1500 are a TCP stream's, so 11.87 MB/s of 100 Mbit/s.
    const least = bytes.value / ((100e6 / 8) * (1460 / 1538))
    expect(copySeconds.p50).toBeGreaterThanOrEqual(least)
    expect(copySeconds.p90).toBeGreaterThan(copySeconds.p50)
    // What is learned is the share: 110 of 118.66 MB/s, seven against a prior of four.
    expect(Math.log(shareOf(share, 0.5))).toBeCloseTo((7 / 11) * Math.log(110 / 118.66), 4)
    // Whatever the moves before were.
    for (const rate of [1, 50, 118, 500, 5000])
      for (const quantile of ['p50', 'p90'] as const)
        expect(of(done(...slow, ...carried(rate, 9)), 'cold copy').copySeconds[quantile]).toBeGreaterThanOrEqual(least)
  })

  it('goes past what is only usual, once own moves did: one in four of them, the usual counted as four', () => {
    const image = (commands: readonly Command[]) =>
      of(done(port('gannet', 'eth0', 10_000), port('fulmar', 'eth0', 10_000), ...commands), 'disk-to-disk over the network')
    const fast = carried(300, 8, 'disk-to-disk over the network')
    expect(image([]).limits[0]).toMatchObject({ label: 'method', bytesPerSecond: 90e6 })
    expect(image(fast.slice(0, 1)).limits[0]).toMatchObject({ label: 'method', bytesPerSecond: 90e6 })
    expect(image(fast).limits[0]).toMatchObject({
      label: 'method',
      bytesPerSecond: 300e6,
      from: expect.stringMatching(/^as own moves reached/) as string,
    })
    expect(image(fast).copySeconds.p50).toBeGreaterThanOrEqual(image(fast).bytes.value / 300e6)
  })

  it('counts what went to a medium and back twice, as it is estimated', () => {
    const lived = done(...carried(40, 5, 'image and restore'))
    expect(ownShares(lived, 'image and restore').map((share) => share.toFixed(3))).toEqual(Array<string>(5).fill('1.000'))
  })

  it('copies the chosen volumes file by file, and everything block by block', () => {
    const volume = (name: string, usedBytes: number, isTaken: boolean): Command => ({
      type: 'volume.add',
      record: { diskId: idOf('playoutDisk'), name, sizeBytes: 60 * 2 ** 30, usedBytes, isTaken },
    })
    const parted = done(volume('/', 20e9, true), volume('/srv', 30e9, true), volume('/old', 9e9, false))
    expect(of(parted, 'agent conversion').bytes.value).toBe(50e9)
    expect(of(parted, 'disk-to-disk over the network').bytes.value).toBe(200 * 2 ** 30)
  })

  it('of two at once over one link each gets half of it', () => {
    const begin = {
      type: 'migration.begin',
      guestId: idOf('news'),
      toHostId: idOf('gannet'),
      stores: { [idOf('newsDisk')]: idOf('nvme1') },
    } as const
    const id = '01890000-0000-7000-8000-0000000000aa'
    const open = { ...testContext(50), personId: idOf('ola'), openChecks: () => [] }
    const stop: Command = { type: 'guest.power', guestId: idOf('news'), state: 'stopped' }
    const busy = applyAll(estate, [{ ...begin, id }, stop, { type: 'migration.copy', migrationId: id }], open).estate
    const [alone, shared] = [of(estate, 'cold copy'), of(busy, 'cold copy')]
    expect(shared.limits[0]).toMatchObject({ label: 'shared' })
    expect((shared.limits[0]?.bytesPerSecond ?? 0) * 2).toBeCloseTo(alone.limits[0]?.bytesPerSecond ?? 0, 0)
  })

  it('to a medium and back is twice the way; of a machine that runs on, what changed comes once more', () => {
    const image = of(estate, 'image and restore')
    expect(image.copySeconds.p50).toBeCloseTo((2 * image.bytes.value) / 80e6, 3)
    const agent = of(estate, 'agent conversion')
    expect(agent.finalPassBytes).toBe(Math.round((agent.bytes.value * 0.03 * agent.copySeconds.p50) / 86_400))
    expect(agent.downSeconds.p50).toBeLessThan(of(estate, 'cold copy').downSeconds.p50 + agent.copySeconds.p50)
  })

  it('a target has to be as large as the source in bytes: 33 GiB into 34 GB does not go', () => {
    expect(leastTarget(33 * 2 ** 30, 34e9)).toMatch(/35433480192 bytes.*at least as large, and 1 GiB more is advised|34000000000 bytes/)
    expect(leastTarget(33 * 2 ** 30, 34 * 2 ** 30)).toBeUndefined()
  })
})
