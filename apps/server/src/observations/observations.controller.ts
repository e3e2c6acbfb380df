import {
  queries,
  KEY_HEADER,
  ObservationsRequest,
  ObserverRequest,
  type DailyResponse,
  type ObservationsTaken,
  type ObserverStarted,
  type ObserverState,
  type SummariesResponse,
} from '@insel/contract'
import { summaryDays, type Sample } from '@insel/core'
import { Body, Controller, Delete, Get, Header, HttpCode, Param, Post, Query, Req } from '@nestjs/common'
import { ApiBody, ApiConsumes, ApiOperation, ApiTags } from '@nestjs/swagger'
import type { Request } from 'express'
import { InEstate } from '../access/access.js'
import { malformed } from '../problems/problem.js'
import { readBody } from '../problems/read-body.js'
import { Names } from '../requests/names.js'
import { ApiSecret, Secret } from '../requests/secrets.js'
import { ObservationsService } from './observations.service.js'
import { observerScript } from './observer-lines.js'
import { ObserversService } from './observers.service.js'
import { QueryOf, type RawQuery, readQuery } from '../problems/query.js'
import { IdInPath } from '../problems/id-in-path.js'

/** Observations of guests and stores: in by list or from the guests themselves, out summed up or as they came. */
@ApiTags('observations')
@Controller('api/v1/estates/:estateId')
export class ObservationsController {
  constructor(
    private readonly observations: ObservationsService,
    private readonly observers: ObserversService,
    private readonly names: Names,
  ) {}

  @Post('observations')
  @InEstate('observes')
  @HttpCode(200)
  @ApiOperation({ summary: 'Takes in observations; invalid ones are listed and left out.' })
  @ApiBody({
    schema: {
      type: 'object',
      required: ['samples'],
      properties: {
        samples: {
          type: 'array',
          items: {
            type: 'object',
            required: ['subjectId', 'at'],
            properties: {
              subjectId: { type: 'string', format: 'uuid' },
              at: { type: 'string', format: 'date-time' },
              cpuPercent: { type: 'number', nullable: true },
              memoryMiB: { type: 'number', nullable: true },
              diskBytes: { type: 'number', nullable: true },
            },
          },
        },
      },
    },
  })
  take(@Param('estateId', IdInPath) estateId: string, @Body() body: unknown): Promise<ObservationsTaken> {
    const { samples } = readBody(ObservationsRequest, body)
    const bad = samples.findIndex((sample) => !isSample(sample))
    if (bad >= 0)
      throw malformed(
        `samples.${bad} is not an observation: it needs subjectId, at, and numbers or nothing in cpuPercent, memoryMiB, diskBytes.`,
        [{ path: `samples.${bad}`, code: 'invalid', message: 'This is not an observation.' }],
      )
    return this.observations.take(estateId, samples)
  }

  @Get('observations/summaries')
  @InEstate('reads')
  @ApiOperation({ summary: 'Percentiles and growth of every guest and store over 7, 30 or 90 days before its last observation.' })
  @QueryOf(queries.summaries)
  summaries(@Param('estateId', IdInPath) estateId: string, @Query() query: RawQuery): Promise<SummariesResponse> {
    const { days } = readQuery(queries.summaries, query)
    return this.observations.summaries(estateId, summaryDays.find((one) => String(one) === days) ?? 30)
  }

  @Get('observations/samples')
  @InEstate('reads')
  @ApiOperation({ summary: 'Observations of one guest or store as they came, over some days before the last.' })
  @QueryOf(queries.samples)
  samples(@Param('estateId', IdInPath) estateId: string, @Query() query: RawQuery): Promise<readonly Sample[]> {
    const { subjectId, days } = readQuery(queries.samples, query)
    return this.observations.samples(estateId, subjectId, days)
  }

  @Get('observations/daily')
  @InEstate('reads')
  @ApiOperation({ summary: 'Bytes in use by day: of one store and its guests, or of everything.' })
  @QueryOf(queries.daily)
  daily(@Param('estateId', IdInPath) estateId: string, @Query() query: RawQuery): Promise<DailyResponse> {
    const { storeId, days } = readQuery(queries.daily, query)
    return storeId === null ? this.observations.dailyOfAll(estateId, days) : this.observations.dailyOfStore(estateId, storeId, days)
  }

  @Post('observers')
  @InEstate('administers')
  @ApiOperation({ summary: 'A key with which one guest sends observations on its own; an older one is revoked.' })
  @ApiBody({ schema: { type: 'object', required: ['guestId'], properties: { guestId: { type: 'string', format: 'uuid' } } } })
  async observe(@Param('estateId', IdInPath) estateId: string, @Body() body: unknown, @Req() request: Request): Promise<ObserverStarted> {
    const { guestId } = readBody(ObserverRequest, body)
    const key = await this.observers.start(estateId, guestId)
    return {
      command: `(umask 077; curl -fsS -H '${KEY_HEADER}: ${key}' '${this.names.baseOf(request)}/api/v1/estates/${estateId}/observe.sh' > insel-observe && chmod 700 insel-observe) && ./insel-observe --schedule`,
    }
  }

  @Get('observers/:guestId')
  @InEstate('reads')
  @ApiOperation({ summary: 'Whether a guest sends observations on its own, and when it last did.' })
  async observer(
    @Param('estateId', IdInPath) estateId: string,
    @Param('guestId', IdInPath) guestId: string,
  ): Promise<{ readonly observer: ObserverState | null }> {
    return { observer: await this.observers.state(estateId, guestId) }
  }

  @Delete('observers/:guestId')
  @InEstate('administers')
  @HttpCode(200)
  @ApiOperation({ summary: 'Revokes a guest’s key.' })
  async stop(
    @Param('estateId', IdInPath) estateId: string,
    @Param('guestId', IdInPath) guestId: string,
  ): Promise<{ readonly observer: null }> {
    await this.observers.stop(estateId, guestId)
    return { observer: null }
  }

  @Get('observe.sh')
  @InEstate('observes')
  @Header('Content-Type', 'text/x-shellscript; charset=utf-8')
  @Header('Cache-Control', 'no-store')
  @ApiOperation({ summary: 'The observer: a shell script that measures three numbers and sends them when told to.' })
  @ApiSecret('key')
  async script(@Param('estateId', IdInPath) estateId: string, @Req() request: Request, @Secret('key') key: string): Promise<string> {
    const guest = await this.observers.guestOf(estateId, key)
    const sendTo = `${this.names.baseOf(request)}/api/v1/estates/${estateId}/observations/received`
    return observerScript({ sendTo, key, guestName: guest.name })
  }

  @Post('observations/received')
  @InEstate('observes')
  @HttpCode(200)
  @Header('Content-Type', 'text/plain; charset=utf-8')
  @ApiConsumes('text/plain')
  @ApiOperation({ summary: 'Takes in what an observer measured.' })
  @ApiSecret('key')
  async receive(@Param('estateId', IdInPath) estateId: string, @Body() body: unknown, @Secret('key') key: string): Promise<string> {
    if (typeof body !== 'string') throw malformed('Send the observer’s lines as text/plain.')
    await this.observers.receive(estateId, key, body)
    return 'insel: received.\n'
  }
}

function isSample(sample: unknown): boolean {
  if (typeof sample !== 'object' || sample === null) return false
  const { subjectId, at, ...values } = sample as Record<string, unknown>
  return (
    typeof subjectId === 'string' &&
    typeof at === 'string' &&
    Object.entries(values).every(
      ([name, value]) => ['cpuPercent', 'memoryMiB', 'diskBytes'].includes(name) && (value === null || typeof value === 'number'),
    )
  )
}
