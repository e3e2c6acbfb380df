import { EntityManager } from '@mikro-orm/postgresql'
import type { ServerInfo } from '@insel/contract'
import { Controller, Get, Inject } from '@nestjs/common'
import { ApiOperation, ApiTags } from '@nestjs/swagger'

/** What is told of how the server is reached. */
export const EXPOSURE = Symbol('EXPOSURE')

@ApiTags('health')
@Controller()
export class HealthController {
  constructor(
    private readonly em: EntityManager,
    @Inject(EXPOSURE) private readonly exposure: ServerInfo,
  ) {}

  @Get('api/v1/server')
  @ApiOperation({ summary: 'What everybody should know of this server: whether it listens beyond its machine, without accounts.' })
  server(): ServerInfo {
    return this.exposure
  }

  @Get('healthz')
  @ApiOperation({ summary: 'The server runs.' })
  alive(): { status: 'ok' } {
    return { status: 'ok' }
  }

  @Get('readyz')
  @ApiOperation({ summary: 'The server runs and the database answers; 503 otherwise.' })
  async ready(): Promise<{ status: 'ok' }> {
    await this.em.fork().execute('select 1')
    return { status: 'ok' }
  }
}
