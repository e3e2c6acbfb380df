import type { CollectionStarted, CollectionSummary, CollectionText } from '@insel/contract'
import { isId } from '@insel/core'
import { Body, Controller, Get, Header, HttpCode, Param, ParseUUIDPipe, Post, Query, Req } from '@nestjs/common'
import { ApiBody, ApiConsumes, ApiOperation, ApiQuery, ApiTags } from '@nestjs/swagger'
import type { Request } from 'express'
import { malformed, refuseUnknownFields } from '../problems/problem.js'
import { collectorScript } from './collector-script.js'
import { CollectionsService } from './collections.service.js'

const KNOWN = new Set(['hostId'])

@ApiTags('collections')
@Controller('api/v1/estates/:estateId')
export class CollectionsController {
  constructor(private readonly collections: CollectionsService) {}

  @Post('collections')
  @ApiOperation({ summary: 'A one-time code for the collector of one host, good for half an hour.' })
  @ApiBody({
    schema: {
      type: 'object',
      required: ['hostId'],
      additionalProperties: false,
      properties: { hostId: { type: 'string', format: 'uuid' } },
    },
  })
  async start(
    @Param('estateId', ParseUUIDPipe) estateId: string,
    @Body() body: unknown,
    @Req() request: Request,
  ): Promise<CollectionStarted> {
    const hostId = hostIdIn(body)
    const started = await this.collections.start(estateId, hostId)
    return { ...started, command: `curl -fsS '${baseOf(request)}/api/v1/estates/${estateId}/collect.sh?code=${started.code}' | sh` }
  }

  @Get('collect.sh')
  @Header('Content-Type', 'text/x-shellscript; charset=utf-8')
  @Header('Cache-Control', 'no-store')
  @ApiOperation({ summary: 'The collector: a shell script that reads only, shows what it will send, and asks before it does.' })
  @ApiQuery({ name: 'code' })
  async script(@Param('estateId', ParseUUIDPipe) estateId: string, @Req() request: Request, @Query('code') code = ''): Promise<string> {
    const hostName = await this.collections.hostNameFor(estateId, code)
    return collectorScript(`${baseOf(request)}/api/v1/estates/${estateId}/collections/received?code=${code}`, hostName)
  }

  @Post('collections/received')
  @HttpCode(200)
  @Header('Content-Type', 'text/plain; charset=utf-8')
  @ApiConsumes('text/plain')
  @ApiOperation({ summary: 'Takes in what a collector read; uses up its code.' })
  @ApiQuery({ name: 'code' })
  async receive(@Param('estateId', ParseUUIDPipe) estateId: string, @Body() body: unknown, @Query('code') code = ''): Promise<string> {
    if (typeof body !== 'string') throw malformed('Send the collector’s text as text/plain.')
    await this.collections.receive(estateId, code, body)
    return 'insel: received. Look at the host’s page “Found” in Insel.\n'
  }

  @Get('collections')
  @ApiOperation({ summary: 'What was collected of a host, newest first.' })
  @ApiQuery({ name: 'hostId' })
  list(@Param('estateId', ParseUUIDPipe) estateId: string, @Query('hostId') hostId?: string): Promise<CollectionSummary[]> {
    if (!isId(hostId)) throw malformed('hostId is the id of a host.')
    return this.collections.list(estateId, hostId)
  }

  @Get('collections/:id')
  @ApiOperation({ summary: 'The text of one collection.' })
  text(@Param('estateId', ParseUUIDPipe) estateId: string, @Param('id', ParseUUIDPipe) id: string): Promise<CollectionText> {
    return this.collections.text(estateId, id)
  }
}

/** Where this server was asked, so that the script sends its text to the same place. */
const baseOf = (request: Request) => `${request.protocol}://${request.get('host') ?? 'localhost'}`

function hostIdIn(body: unknown): string {
  const given = typeof body === 'object' && body !== null ? (body as Record<string, unknown>) : {}
  refuseUnknownFields(given, KNOWN)
  if (!isId(given['hostId']))
    throw malformed('hostId is the id of a host.', [{ path: 'hostId', code: 'invalid', message: 'hostId is the id of a host.' }])
  return given['hostId']
}
