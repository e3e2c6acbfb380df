import type { RevisionEvent } from '@insel/contract'
import { RevisionStream } from './revision-stream'

/** From a page: which estate it shows from now on, if any. */
export interface Following {
  readonly estateId: string | undefined
}

/** Shared by all pages of this browser: it holds the one connection to the server's events and passes them on. */
const followed = new Map<MessagePort, string>()
const stream = new RevisionStream((event: RevisionEvent) => {
  for (const [port, estateId] of followed) if (estateId === event.estateId) port.postMessage(event)
})

addEventListener('connect', (event) => {
  const [port] = (event as MessageEvent).ports
  if (!port) return
  port.onmessage = ({ data }: MessageEvent<Following>) => {
    // Taken out first: the page that was shown last counts as the newest.
    followed.delete(port)
    if (data.estateId !== undefined) {
      followed.set(port, data.estateId)
      const last = stream.last(data.estateId)
      if (last) port.postMessage(last)
    }
    stream.want(new Set(followed.values()))
  }
})
