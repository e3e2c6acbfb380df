import { createServer, type Server } from 'node:http'
import type { AddressInfo, Socket } from 'node:net'
import type { Readable } from 'node:stream'
import { createGzip } from 'node:zlib'

/** How a server of bad manners may behave. */
export const manners = [
  'endless',
  'dripping',
  'dripping headers',
  'bomb',
  'redirect',
  'too short',
  'reset',
  'silent',
  'brackets',
  'odd packing',
  'no HTTP',
  'closed at once',
] as const
export type Manner = (typeof manners)[number]

/** A server on loopback that answers everything with one of them. */
export interface BadServer {
  readonly url: string
  /** Paths that were asked for. */
  readonly asked: readonly string[]
  close(): void
}

const LINE = Buffer.alloc(65_536, 0x78)

/** Writes for as long as somebody reads. */
function pour(into: { write(chunk: Buffer): boolean; once(event: 'drain', next: () => void): unknown; readonly destroyed: boolean }): void {
  while (!into.destroyed && into.write(LINE));
  if (!into.destroyed) into.once('drain', () => pour(into))
}

export async function startBadServer(manner: Manner): Promise<BadServer> {
  const asked: string[] = []
  const timers: NodeJS.Timeout[] = []
  const drip = (work: () => void) => timers.push(setInterval(work, 50))
  const server: Server = createServer((request, response) => {
    asked.push(request.url ?? '')
    response.on('error', () => undefined)
    const raw = response.socket as Socket
    switch (manner) {
      case 'endless':
        return pour(response)
      case 'dripping':
        response.writeHead(200, { 'content-type': 'application/json' })
        return void drip(() => response.write(' '))
      case 'dripping headers':
        raw.write('HTTP/1.1 200 OK\r\n')
        return void drip(() => raw.write('x: y\r\n'))
      case 'bomb': {
        response.writeHead(200, { 'content-encoding': 'gzip' })
        const gzip = createGzip()
        ;(gzip as Readable).pipe(response)
        response.on('close', () => gzip.destroy())
        return pour(gzip)
      }
      case 'redirect':
        response.writeHead(302, { location: '/elsewhere' })
        return void response.end()
      case 'too short':
        response.writeHead(200, { 'content-length': 1000 })
        return void response.write('{', () => raw.destroy())
      case 'reset':
        response.writeHead(200)
        return void response.write('{', () => raw.resetAndDestroy())
      case 'silent':
        return undefined
      case 'brackets':
        return void response.end('{"a":'.repeat(15_000))
      case 'odd packing':
        response.writeHead(200, { 'content-encoding': 'unheard-of' })
        return void response.end('{}')
      case 'no HTTP':
        return void raw.end('SSH-2.0-something\r\n')
      case 'closed at once':
        return void raw.destroy()
    }
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    asked,
    close() {
      timers.forEach(clearInterval)
      server.close()
      server.closeAllConnections()
    },
  }
}
