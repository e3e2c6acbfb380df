import { EntityManager } from '@mikro-orm/postgresql'
import type { ServerInfo } from '@insel/contract'
import { Controller, Get, Inject } from '@nestjs/common'
import { ApiOperation, ApiTags } from '@nestjs/swagger'
import { OfServer } from '../access/access.js'
import { ProblemError } from '../problems/problem.js'
import { DatabaseRoom } from '../database/database-room.js'

/** How long the database may take to say that it is there. */
const READY_WITHIN_MS = 2000
/** Whether the demo is waited for, where there is no estate yet. */
export const AWAITS_DEMO = Symbol('AWAITS_DEMO')
/** What a health answer says about how the server is reached. */
export const EXPOSURE = Symbol('EXPOSURE')

@ApiTags('health')
@Controller()
export class HealthController {
  constructor(
    private readonly em: EntityManager,
    @Inject(EXPOSURE) private readonly exposure: ServerInfo,
    @Inject(AWAITS_DEMO) private readonly awaitsDemo: boolean,
    private readonly room: DatabaseRoom,
  ) {}

  @Get('api/v1/server')
  @OfServer('reads')
  @ApiOperation({ summary: 'What everybody should know of this server: whether it listens beyond its machine, without accounts.' })
  server(): ServerInfo {
    return this.exposure
  }

  @Get('healthz')
  @OfServer('reads')
  @ApiOperation({ summary: 'The server runs.' })
  alive(): { status: 'ok' } {
    return { status: 'ok' }
  }

  @Get('readyz')
  @OfServer('reads')
  @ApiOperation({
    summary: 'The server runs, the database answers, and what was to be loaded is there; 503 otherwise, which says what is missing.',
  })
  async ready(): Promise<{ status: 'ok' }> {
    const [heads] = await this.#ask<{ loading: boolean; whole: boolean }>(
      `select coalesce(bool_or(demo = 'being loaded'), false) as loading, coalesce(bool_or(demo is distinct from 'being loaded'), false) as whole from estate_head`,
    )
    const { trouble } = this.room
    if (trouble !== undefined) throw new ProblemError(503, 'database-full', 'The disk of the database is full', trouble)
    if (this.awaitsDemo && !heads?.whole)
      throw new ProblemError(
        503,
        'loading',
        'The demo estate is not there yet',
        `The demo estate is ${heads?.loading ? 'being loaded' : 'about to be loaded'}. Ask again in a moment.`,
      )
    return { status: 'ok' }
  }

  /** Who asks whether the server is ready waits for no database that is stopped. */
  async #ask<T>(sql: string): Promise<T[]> {
    let timer: NodeJS.Timeout | undefined
    const late = new Promise<never>((_, reject) => {
      timer = setTimeout(
        () =>
          reject(
            new ProblemError(
              503,
              'database-unavailable',
              'The database does not answer',
              `The database did not answer within ${READY_WITHIN_MS / 1000} s.`,
            ),
          ),
        READY_WITHIN_MS,
      )
    })
    try {
      return await Promise.race([this.em.fork().execute<T[]>(sql), late])
    } finally {
      clearTimeout(timer)
    }
  }
}
