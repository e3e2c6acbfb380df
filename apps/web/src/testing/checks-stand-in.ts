import { makeChecks, type Checks } from '../checks/make-checks'

/**
 * The checks without their worker: what it would answer, answered here, a turn later.
 *
 * @example vi.mock('../../checks/checks-remote', async () => (await import('../../testing/checks-stand-in')).checksHere())
 */
export function checksHere() {
  const own = makeChecks()
  const later = new Proxy(own, {
    get(target, name: keyof Checks) {
      const method = target[name] as (...asked: readonly unknown[]) => unknown
      return (...asked: readonly unknown[]) => Promise.resolve().then(() => method(...asked))
    },
  })
  return {
    checks: () => later,
    tellChecks: {
      load: (...told: Parameters<Checks['load']>) => own.load(...told),
      advance: (...told: Parameters<Checks['advance']>) => own.advance(...told),
    },
  }
}
