import { EntityManager } from '@mikro-orm/postgresql'
import { Controller, Get } from '@nestjs/common'
import { ApiOperation, ApiTags } from '@nestjs/swagger'

@ApiTags('health')
@Controller()
export class HealthController {
  constructor(private readonly em: EntityManager) {}

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
