import { LookUpRequest, PingRequest, ReachabilityRequest, reachFields, schemaOfField } from '@insel/contract'
import { lookUp, ping, type Estate, type LookUp, type PingAnswer, type ReachAnswer } from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { Body, Controller, HttpCode, Param, Post } from '@nestjs/common'
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger'
import { InEstate } from '../access/access.js'
import { EstateCache } from '../cache/estate-cache.js'
import { HeavyWork } from '../heavy-work/heavy-work.js'
import { asProblem } from '../heavy-work/tasks.js'
import { readBody } from '../problems/read-body.js'
import { IdInPath } from '../problems/id-in-path.js'

const bodyOf = (...names: (keyof typeof reachFields)[]) =>
  ApiBody({
    schema: {
      type: 'object',
      required: names.filter((name) => name !== 'protocol' && name !== 'port'),
      additionalProperties: false,
      properties: Object.fromEntries(names.map((name) => [name, schemaOfField(reachFields[name])])),
    },
  })

@ApiTags('networks')
@Controller('api/v1/estates/:estateId/reachability')
export class ReachabilityController {
  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
    private readonly work: HeavyWork,
  ) {}

  @Post()
  @InEstate('reads')
  @HttpCode(200)
  @ApiOperation({
    summary: 'Whether one machine reaches another: the path in both directions; where it fails, the first place and how to fix it.',
  })
  @bodyOf('from', 'to', 'protocol', 'port')
  reach(@Param('estateId', IdInPath) estateId: string, @Body() body: unknown): Promise<ReachAnswer> {
    return this.work.do(estateId, 'reach', readBody(ReachabilityRequest, body))
  }

  @Post('ping')
  @InEstate('reads')
  @HttpCode(200)
  @ApiOperation({ summary: 'What a recorded machine would see when it pings a name or an address.' })
  @bodyOf('from', 'target')
  ping(@Param('estateId', IdInPath) estateId: string, @Body() body: unknown): Promise<PingAnswer> {
    const { from, target } = readBody(PingRequest, body)
    return this.#ask(estateId, (estate) => ping(estate, from, target))
  }

  @Post('look-up')
  @InEstate('reads')
  @HttpCode(200)
  @ApiOperation({ summary: 'What a recorded machine would get for a name from its name servers.' })
  @bodyOf('from', 'name')
  lookUp(@Param('estateId', IdInPath) estateId: string, @Body() body: unknown): Promise<LookUp> {
    const { from, name } = readBody(LookUpRequest, body)
    return this.#ask(estateId, (estate) => lookUp(estate, from, name))
  }

  async #ask<T>(estateId: string, question: (estate: Estate) => T): Promise<T> {
    const { estate } = await this.cache.now(this.em.fork(), estateId)
    try {
      return question(estate)
    } catch (error) {
      throw asProblem(error)
    }
  }
}
