import { ReadingsRequest, type ReadingsCount, type ReadingsTaken, type TransferResponse } from '@insel/contract'
import { numberStyles } from '@insel/core'
import { Body, Controller, Delete, Get, HttpCode, Param, Post } from '@nestjs/common'
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger'
import { InEstate } from '../access/access.js'
import { IdInPath } from '../problems/id-in-path.js'
import { malformed } from '../problems/problem.js'
import { readBody } from '../problems/read-body.js'
import { TransfersService, type Reading } from './transfers.service.js'

/** Readings of moves while they are copied: typed, pasted, sent, or asked for at an address. */
@ApiTags('transfers')
@Controller('api/v1/estates/:estateId/migrations/:id')
export class TransfersController {
  constructor(private readonly transfers: TransfersService) {}

  @Post('samples')
  @InEstate('observes')
  @HttpCode(200)
  @ApiOperation({
    summary: 'Takes in readings of a running transfer, or the lines in which a tool says them; wrong ones are listed and left out.',
  })
  @ApiBody({
    schema: {
      type: 'object',
      properties: {
        samples: {
          type: 'array',
          items: {
            type: 'object',
            required: ['at', 'bytes'],
            properties: { at: { type: 'string', format: 'date-time' }, bytes: { type: 'number', minimum: 0 } },
          },
        },
        text: { type: 'string', description: 'Lines of dd, pv or rsync, percentages or sizes, with a time before each or without.' },
        saidAt: { type: 'string', format: 'date-time' },
        style: { type: 'string', enum: [...numberStyles], description: 'The sign before decimals, where the text leaves it open.' },
      },
    },
  })
  take(@Param('estateId', IdInPath) estateId: string, @Param('id', IdInPath) id: string, @Body() body: unknown): Promise<ReadingsTaken> {
    const { samples, text, saidAt, style } = readBody(ReadingsRequest, body)
    if ((samples === undefined) === (text === undefined)) throw malformed('Send either samples or text.')
    if (text !== undefined) return this.transfers.takeLines(estateId, id, text, saidAt ? Date.parse(saidAt) : Date.now(), style)
    const bad = (samples ?? []).findIndex((sample) => !isReading(sample))
    if (bad >= 0)
      throw malformed(`samples.${bad} is not a reading: it needs at and bytes, and nothing else.`, [
        { path: `samples.${bad}`, code: 'invalid', message: 'This is not a reading.' },
      ])
    return this.transfers.take(estateId, id, samples ?? [])
  }

  @Post('ask')
  @InEstate('observes')
  @HttpCode(200)
  @ApiOperation({
    summary:
      'Asks the address at which the tool that copies says its progress, on this machine or where the server may ask, and keeps what it says.',
  })
  ask(@Param('estateId', IdInPath) estateId: string, @Param('id', IdInPath) id: string): Promise<ReadingsTaken> {
    return this.transfers.ask(estateId, id)
  }

  @Get('progress')
  @InEstate('reads')
  @ApiOperation({ summary: 'How a transfer stands: rate, what is left as a range, stalls, and at most 300 readings to draw.' })
  progress(@Param('estateId', IdInPath) estateId: string, @Param('id', IdInPath) id: string): Promise<TransferResponse> {
    return this.transfers.progress(estateId, id)
  }

  @Get('samples/count')
  @InEstate('reads')
  @ApiOperation({ summary: 'How many readings of a move there are.' })
  count(@Param('estateId', IdInPath) estateId: string, @Param('id', IdInPath) id: string): Promise<ReadingsCount> {
    return this.transfers.count(estateId, id)
  }

  @Delete('samples')
  @InEstate('observes')
  @ApiOperation({ summary: 'Forgets all readings of a move.' })
  forgetAll(@Param('estateId', IdInPath) estateId: string, @Param('id', IdInPath) id: string): Promise<ReadingsCount> {
    return this.transfers.forget(estateId, id)
  }
}

function isReading(sample: unknown): sample is Reading {
  if (typeof sample !== 'object' || sample === null) return false
  const { at, bytes, ...others } = sample as Record<string, unknown>
  return typeof at === 'string' && typeof bytes === 'number' && Object.keys(others).length === 0
}
