/**
 * What a piece of work takes of the processor, which a busy machine does not change much, as a clock on the wall would.
 *
 * @returns milliseconds, of this process and all its threads
 * @example processorMs(() => readXml(text)) // 12.4
 */
export function processorMs(work: () => unknown): number {
  const before = process.cpuUsage()
  work()
  const { user, system } = process.cpuUsage(before)
  return (user + system) / 1000
}
