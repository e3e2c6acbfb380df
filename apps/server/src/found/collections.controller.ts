import {
  CODE_HEADER,
  machineFields,
  MachineRequest,
  propertiesOf,
  type CollectionStarted,
  type CollectionSummary,
  type CollectionText,
} from '@insel/contract'
import { Body, Controller, Get, Header, HttpCode, Param, Post, Query, Req } from '@nestjs/common'
import { ApiBody, ApiConsumes, ApiOperation, ApiTags } from '@nestjs/swagger'
import type { Request } from 'express'
import { InEstate } from '../access/access.js'
import { malformed } from '../problems/problem.js'
import { QueryOf, readQuery, type RawQuery } from '../problems/query.js'
import { readBody } from '../problems/read-body.js'
import { Names } from '../requests/names.js'
import { ApiSecret, Secret } from '../requests/secrets.js'
import { collectorScript } from './collector-script.js'
import { CollectionsService } from './collections.service.js'
import { IdInPath } from '../problems/id-in-path.js'

@ApiTags('collections')
@Controller('api/v1/estates/:estateId')
export class CollectionsController {
  constructor(
    private readonly collections: CollectionsService,
    private readonly names: Names,
  ) {}

  @Post('collections')
  @InEstate('observes')
  @ApiOperation({ summary: 'A one-time code for the collector of one host or guest; expires in 30 minutes.' })
  @ApiBody({
    schema: {
      type: 'object',
      additionalProperties: false,
      properties: propertiesOf(machineFields),
    },
  })
  async start(@Param('estateId', IdInPath) estateId: string, @Body() body: unknown, @Req() request: Request): Promise<CollectionStarted> {
    const { id, kind } = machineIn(readBody(MachineRequest, body))
    const started = await this.collections.start(estateId, id, kind)
    const url = `${this.names.baseOf(request)}/api/v1/estates/${estateId}/collect.sh`
    return { ...started, command: `curl -fsS -H '${CODE_HEADER}: ${started.code}' '${url}' | sh` }
  }

  @Get('collect.sh')
  @InEstate('observes')
  @Header('Content-Type', 'text/x-shellscript; charset=utf-8')
  @Header('Cache-Control', 'no-store')
  @ApiOperation({ summary: 'The collector: a shell script that reads only, shows what it will send, and asks before it does.' })
  @ApiSecret('code')
  async script(@Param('estateId', IdInPath) estateId: string, @Req() request: Request, @Secret('code') code: string): Promise<string> {
    const name = await this.collections.machineNameFor(estateId, code)
    const sendTo = `${this.names.baseOf(request)}/api/v1/estates/${estateId}/collections/received`
    return collectorScript({ sendTo, code, machineName: name })
  }

  @Post('collections/received')
  @InEstate('observes')
  @HttpCode(200)
  @Header('Content-Type', 'text/plain; charset=utf-8')
  @ApiConsumes('text/plain')
  @ApiOperation({ summary: 'Takes in what a collector read; its code expires.' })
  @ApiSecret('code')
  async receive(@Param('estateId', IdInPath) estateId: string, @Body() body: unknown, @Secret('code') code: string): Promise<string> {
    if (typeof body !== 'string') throw malformed('Send the collector’s text as text/plain.')
    await this.collections.receive(estateId, code, body)
    return 'insel: received. Look at the machine’s page “Found” in Insel.\n'
  }

  @Get('collections')
  @InEstate('reads')
  @ApiOperation({ summary: 'What was collected of a host or guest, newest first.' })
  @QueryOf(machineFields)
  list(@Param('estateId', IdInPath) estateId: string, @Query() query: RawQuery): Promise<CollectionSummary[]> {
    return this.collections.list(estateId, machineIn(readQuery(machineFields, query)).id)
  }

  @Get('collections/:id')
  @InEstate('reads')
  @ApiOperation({ summary: 'The text of one collection.' })
  text(@Param('estateId', IdInPath) estateId: string, @Param('id', IdInPath) id: string): Promise<CollectionText> {
    return this.collections.text(estateId, id)
  }
}

/** @throws ProblemError 400 when it is none, or both */
function machineIn({ hostId, guestId }: MachineRequest): { readonly id: string; readonly kind: 'host' | 'guest' } {
  if (hostId && !guestId) return { id: hostId, kind: 'host' }
  if (guestId && !hostId) return { id: guestId, kind: 'guest' }
  throw malformed('Name one machine: hostId is the id of a host, or guestId the id of a guest.', [
    { path: 'hostId', code: 'invalid', message: 'hostId is the id of a host.' },
  ])
}
