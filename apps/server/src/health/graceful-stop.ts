import { Injectable, type BeforeApplicationShutdown } from '@nestjs/common'
import { HttpAdapterHost } from '@nestjs/core'
import type { Server } from 'node:http'

const SWEEP_MS = 50

/**
 * Lets a stop end as soon as the last request is answered: a connection that a browser keeps open after its answer
 * would otherwise hold the server for the whole keep-alive time.
 */
@Injectable()
export class GracefulStop implements BeforeApplicationShutdown {
  constructor(private readonly host: HttpAdapterHost) {}

  beforeApplicationShutdown(): void {
    const server = this.host.httpAdapter.getHttpServer() as Server
    const sweep = setInterval(() => server.closeIdleConnections(), SWEEP_MS)
    server.once('close', () => clearInterval(sweep))
  }
}
