/** Baseline levels of x86-64, lowest first. */
export const processorLevels = ['x86-64-v1', 'x86-64-v2', 'x86-64-v3', 'x86-64-v4'] as const
export type ProcessorLevel = (typeof processorLevels)[number]

/** A feature of a level: its name in the standard, and the flags by which Linux shows it (any of them will do). */
interface Feature {
  readonly name: string
  readonly flags: readonly string[]
}
const feature = (name: string, ...flags: string[]): Feature => ({ name, flags: flags.length > 0 ? flags : [name.toLowerCase()] })

/**
 * What each level adds to the one below it.
 *
 * @see x86-64 psABI supplement, "Micro-Architecture Levels". OSFXSR, SCE and OSXSAVE are set by the running system, not by
 * the processor: Linux shows them as fxsr, syscall and xsave.
 */
const added: Readonly<Record<ProcessorLevel, readonly Feature[]>> = {
  'x86-64-v1': [
    feature('CMOV'),
    feature('CX8'),
    feature('FPU'),
    feature('FXSR'),
    feature('MMX'),
    feature('SCE', 'syscall'),
    feature('SSE'),
    feature('SSE2'),
  ],
  'x86-64-v2': [
    feature('CMPXCHG16B', 'cx16'),
    feature('LAHF-SAHF', 'lahf_lm'),
    feature('POPCNT'),
    feature('SSE3', 'pni', 'sse3'),
    feature('SSE4.1', 'sse4_1'),
    feature('SSE4.2', 'sse4_2'),
    feature('SSSE3'),
  ],
  'x86-64-v3': [
    feature('AVX'),
    feature('AVX2'),
    feature('BMI1'),
    feature('BMI2'),
    feature('F16C'),
    feature('FMA'),
    feature('LZCNT', 'abm', 'lzcnt'),
    feature('MOVBE'),
    feature('OSXSAVE', 'xsave', 'osxsave'),
  ],
  'x86-64-v4': [feature('AVX512F'), feature('AVX512BW'), feature('AVX512CD'), feature('AVX512DQ'), feature('AVX512VL')],
}

/** The level of a processor, and what keeps it from the next one. */
export interface LevelReading {
  /** The highest level whose features, and those of all below, are there; undefined when not even the first is. */
  readonly level: ProcessorLevel | undefined
  /** Features missing for the level above, by their names in the standard; empty at the highest. */
  readonly missing: readonly string[]
}

const wordsOf = (flags: string) => new Set(flags.split(/\s+/).filter(Boolean))
const missingOf = (level: ProcessorLevel, has: ReadonlySet<string>) =>
  added[level].filter(({ flags }) => !flags.some((flag) => has.has(flag))).map(({ name }) => name)

/**
 * The baseline level of a processor.
 *
 * @param flags feature flags as Linux names them, separated by blanks
 * @example levelOf('fpu cx8 cmov fxsr mmx syscall sse sse2').level // 'x86-64-v1'
 */
export function levelOf(flags: string): LevelReading {
  const has = wordsOf(flags)
  let level: ProcessorLevel | undefined
  for (const next of processorLevels) {
    const missing = missingOf(next, has)
    if (missing.length > 0) return { level, missing }
    level = next
  }
  return { level, missing: [] }
}

/** Features that a processor lacks for a level, counting the levels below it. */
export function lacksFor(level: ProcessorLevel, flags: string): readonly string[] {
  const has = wordsOf(flags)
  return processorLevels.slice(0, processorLevels.indexOf(level) + 1).flatMap((one) => missingOf(one, has))
}

/**
 * The highest level that every one of some processors has: what guests are given that move live between them.
 *
 * @returns undefined when one of them is not even at the first level
 */
export function commonLevel(levels: readonly (ProcessorLevel | undefined)[]): ProcessorLevel | undefined {
  const ranks = levels.map((level) => (level ? processorLevels.indexOf(level) : -1))
  return processorLevels[Math.min(...ranks)]
}
