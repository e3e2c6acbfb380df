import type { RevisionEvent } from '@insel/contract'
import { RevisionStream } from './revision-stream'
import type { Following } from './revisions.worker'

/**
 * Hears which revision an estate is at, at first and after each change. A browser opens few connections to one server, so all its pages
 * share one; where a browser has no shared workers, each page has its own.
 *
 * @returns stops hearing
 */
export function follow(estateId: string, told: (event: RevisionEvent) => void): () => void {
  if (typeof SharedWorker === 'undefined') {
    const stream = new RevisionStream(told)
    stream.want(new Set([estateId]))
    return () => stream.want(new Set())
  }
  const { port } = new SharedWorker(new URL('./revisions.worker.ts', import.meta.url), { type: 'module' })
  const say = (following: Following) => port.postMessage(following)
  port.onmessage = ({ data }: MessageEvent<RevisionEvent>) => told(data)
  // A page that is closed says nothing any more, and one that comes back from the browser's memory goes on.
  const leave = () => say({ estateId: undefined })
  const come = () => say({ estateId })
  window.addEventListener('pagehide', leave)
  window.addEventListener('pageshow', come)
  come()
  return () => {
    window.removeEventListener('pagehide', leave)
    window.removeEventListener('pageshow', come)
    leave()
    port.close()
  }
}
