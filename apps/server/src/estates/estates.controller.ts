import {
  queries,
  CreateEstateRequest,
  ESTATE_TYPE,
  schemaOfEstateFile,
  type DifferenceResponse,
  type EstateRemoved,
  type EstateSummary,
  type RecordsResponse,
} from '@insel/contract'
import { Body, Controller, Delete, Get, Param, Post, Query, Res } from '@nestjs/common'
import { ApiBody, ApiConsumes, ApiOperation, ApiTags } from '@nestjs/swagger'
import type { Response } from 'express'
import { randomUUID } from 'node:crypto'
import { InEstate, OfServer } from '../access/access.js'
import { malformed } from '../problems/problem.js'
import { readBody } from '../problems/read-body.js'
import { EstatesService, recordsOf } from './estates.service.js'
import { QueryOf, type RawQuery, readQuery } from '../problems/query.js'
import { IdInPath } from '../problems/id-in-path.js'

/** Another program may write out the same records differently: what this one wrote is told apart. */
const STARTED = randomUUID().slice(0, 8)

@ApiTags('estates')
@Controller('api/v1/estates')
export class EstatesController {
  constructor(private readonly estates: EstatesService) {}

  @Get()
  @OfServer('reads')
  @ApiOperation({ summary: 'The estates on this server.' })
  list(): Promise<EstateSummary[]> {
    return this.estates.list()
  }

  @Post()
  @OfServer('administers')
  @ApiOperation({ summary: 'A new, empty estate. `recordedAs` names its first person.' })
  @ApiBody({
    schema: {
      type: 'object',
      required: ['name'],
      additionalProperties: false,
      properties: { name: { type: 'string' }, domain: { type: 'string' }, timeZone: { type: 'string' }, recordedAs: { type: 'string' } },
    },
  })
  create(@Body() body: unknown): Promise<EstateSummary & { personId: string }> {
    return this.estates.create(readBody(CreateEstateRequest, body))
  }

  @Post('import')
  @OfServer('administers')
  @ApiOperation({ summary: 'New estate from a file of a whole one. Its records keep their ids.' })
  @ApiConsumes(ESTATE_TYPE)
  @QueryOf(queries.importEstate)
  import(@Body() body: unknown, @Query() query: RawQuery): Promise<EstateSummary & { personId: string }> {
    if (!Buffer.isBuffer(body)) throw malformed(`Send the file as ${ESTATE_TYPE}.`)
    return this.estates.import(body, readQuery(queries.importEstate, query).name ?? undefined)
  }

  @Delete(':estateId')
  @InEstate('administers')
  @ApiOperation({ summary: 'Removes an estate with its log and observations, for good. `name` has to be its name.' })
  @QueryOf(queries.removeEstate)
  remove(@Param('estateId', IdInPath) estateId: string, @Query() query: RawQuery): Promise<EstateRemoved> {
    return this.estates.remove(estateId, readQuery(queries.removeEstate, query).name)
  }

  @Get('schema')
  @OfServer('reads')
  @ApiOperation({ summary: 'The JSON Schema of a whole estate as a file.' })
  schema(): object {
    return schemaOfEstateFile()
  }

  @Get(':estateId/records')
  @InEstate('reads')
  @ApiOperation({
    summary:
      'All records; with `since`, what changed since that revision. `epoch` says which history it is of: all records after a restore.',
  })
  @QueryOf(queries.records)
  async records(
    @Param('estateId', IdInPath) estateId: string,
    @Query() query: RawQuery,
    @Res({ passthrough: true }) response: Response,
  ): Promise<RecordsResponse | DifferenceResponse | undefined> {
    const { since, epoch } = readQuery(queries.records, query)
    if (since !== null) return this.estates.since(estateId, since, epoch ?? undefined)
    const now = await this.estates.now(estateId)
    response.setHeader('ETag', `W/"${STARTED}-${now.epoch}-${now.revision}"`)
    // Who has them already is told so, without megabytes being written out and packed for it.
    return response.req.fresh ? undefined : recordsOf(now)
  }
}
