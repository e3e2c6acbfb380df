import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { commonLevel, lacksFor, levelOf, processorLevels } from './processor-level.js'

const V1 = 'fpu cx8 cmov fxsr mmx syscall sse sse2'
const V2 = `${V1} cx16 lahf_lm popcnt pni sse4_1 sse4_2 ssse3`
const V3 = `${V2} avx avx2 bmi1 bmi2 f16c fma abm movbe xsave`
const V4 = `${V3} avx512f avx512bw avx512cd avx512dq avx512vl`

// x86-64 psABI supplement, table "Micro-Architecture Levels".
describe('baseline levels', () => {
  it.each([
    [V1, 'x86-64-v1'],
    [V2, 'x86-64-v2'],
    [V3, 'x86-64-v3'],
    [V4, 'x86-64-v4'],
  ])('a processor with exactly a level’s features is at that level', (flags, level) => expect(levelOf(flags).level).toBe(level))

  it('names what is missing for the next level, as the standard names it', () => {
    expect(levelOf(V2.replace('sse4_2', '').replace('popcnt', ''))).toEqual({ level: 'x86-64-v1', missing: ['POPCNT', 'SSE4.2'] })
    expect(lacksFor('x86-64-v3', V2)).toEqual(['AVX', 'AVX2', 'BMI1', 'BMI2', 'F16C', 'FMA', 'LZCNT', 'MOVBE', 'OSXSAVE'])
    expect(levelOf('').level).toBeUndefined()
  })

  it('more flags never lower the level', () =>
    fc.assert(
      fc.property(fc.subarray(V4.split(' ')), fc.subarray(V4.split(' ')), (some, more) => {
        const rank = (flags: readonly string[]) => {
          const { level } = levelOf(flags.join(' '))
          return level ? processorLevels.indexOf(level) : -1
        }
        expect(rank([...some, ...more])).toBeGreaterThanOrEqual(rank(some))
      }),
    ))

  it('the common level of some processors is the lowest', () => {
    expect(commonLevel(['x86-64-v3', 'x86-64-v2', 'x86-64-v4'])).toBe('x86-64-v2')
    expect(commonLevel(['x86-64-v3', undefined])).toBeUndefined()
  })

  // glibc's dynamic loader works the levels out by itself: `ld.so --help` prints those this machine supports.
  it('is what glibc says of this very machine', () => {
    const help = execFileSync('/lib64/ld-linux-x86-64.so.2', ['--help'], { encoding: 'utf8' })
    const supported = processorLevels.filter((level) => new RegExp(`${level} \\(supported`).test(help))
    const flags = /^flags\s*:\s*(.*)$/m.exec(readFileSync('/proc/cpuinfo', 'utf8'))?.[1] ?? ''
    expect(flags).not.toBe('')
    expect(levelOf(flags).level).toBe(supported.at(-1) ?? 'x86-64-v1')
  })
})
