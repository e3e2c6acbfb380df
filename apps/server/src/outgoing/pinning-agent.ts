import { Agent } from 'node:https'
import type { Duplex } from 'node:stream'
import { connect, type ConnectionOptions } from 'node:tls'

/** Another certificate was shown than the one expected. */
export class OtherCertificateError extends Error {}

/** Hands out a connection only after the certificate at its other end was compared. */
export class PinningAgent extends Agent {
  readonly #fingerprint: string

  /** @param fingerprint SHA-256 of the certificate, in hexadecimal with colons or without */
  constructor(fingerprint: string) {
    // A resumed session shows no certificate.
    super({ keepAlive: true, maxSockets: 1, maxCachedSessions: 0 })
    this.#fingerprint = fingerprint.replaceAll(/[:\s]/g, '').toLowerCase()
  }

  override createConnection(options: ConnectionOptions, done: (error: Error | null, stream: Duplex) => void): undefined {
    const socket = connect({ ...options, rejectUnauthorized: false })
    const failed = (error: Error) => done(error, socket)
    socket.once('error', failed)
    socket.once('secureConnect', () => {
      socket.off('error', failed)
      const { fingerprint256 } = socket.getPeerCertificate() as { fingerprint256?: string }
      if (fingerprint256?.replaceAll(':', '').toLowerCase() === this.#fingerprint) done(null, socket)
      else {
        socket.destroy()
        done(new OtherCertificateError('another certificate was shown'), socket)
      }
    })
    return undefined
  }
}
