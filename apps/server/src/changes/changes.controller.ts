import { commandTypes, isId } from '@insel/core'
import { readCommands, type ChangesPage, type CommandsResponse } from '@insel/contract'
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post, Query } from '@nestjs/common'
import { ApiBody, ApiOperation, ApiQuery, ApiTags } from '@nestjs/swagger'
import { InEstate, PersonId } from '../access/access.js'
import { malformed, refuseUnknownFields } from '../problems/problem.js'
import { instant, wholeNumber } from '../problems/query.js'
import { ChangeLog } from './change-log.js'
import { Pipeline } from './pipeline.js'

const KNOWN = new Set(['commands', 'expectedRevision', 'expectedEpoch', 'dryRun'])
const PAGE = 50
const LEAVING_OUT = 'false leaves out what became of the findings: the answer comes sooner, its lists are empty.'

@ApiTags('changes')
@Controller('api/v1/estates/:estateId')
export class ChangesController {
  constructor(
    private readonly pipeline: Pipeline,
    private readonly log: ChangeLog,
  ) {}

  @Post('commands')
  @InEstate('changes')
  @HttpCode(200)
  @ApiOperation({
    summary:
      'Applies commands, all or none. `dryRun` says what they would do; `expectedRevision` refuses when what they touch changed since.',
  })
  @ApiQuery({ name: 'findings', required: false, enum: ['true', 'false'], description: LEAVING_OUT })
  @ApiBody({
    schema: {
      type: 'object',
      required: ['commands'],
      additionalProperties: false,
      properties: {
        commands: { type: 'array', items: { oneOf: commandTypes.map((type) => ({ $ref: `#/components/schemas/command.${type}` })) } },
        expectedRevision: { type: 'integer', minimum: 0 },
        expectedEpoch: { type: 'string', format: 'uuid' },
        dryRun: { type: 'boolean' },
      },
    },
  })
  async commands(
    @Param('estateId', ParseUUIDPipe) estateId: string,
    @Body() body: unknown,
    @Query() query: Record<string, string>,
    @PersonId() personId: string | undefined,
  ): Promise<CommandsResponse> {
    if (typeof body !== 'object' || body === null || Array.isArray(body))
      throw malformed('The body is a JSON object with a list of commands.')
    refuseUnknownFields(body, KNOWN)
    const { commands, expectedRevision, expectedEpoch, dryRun } = body as Readonly<Record<string, unknown>>
    if (expectedRevision !== undefined && !Number.isSafeInteger(expectedRevision))
      throw malformed('expectedRevision is a whole number.', [
        { path: 'expectedRevision', code: 'invalid', message: 'expectedRevision is a whole number.' },
      ])
    if (expectedEpoch !== undefined && typeof expectedEpoch !== 'string')
      throw malformed('expectedEpoch is a text.', [{ path: 'expectedEpoch', code: 'invalid', message: 'expectedEpoch is a text.' }])
    if (dryRun !== undefined && typeof dryRun !== 'boolean')
      throw malformed('dryRun is true or false.', [{ path: 'dryRun', code: 'invalid', message: 'dryRun is true or false.' }])
    const reading = readCommands(commands)
    if ('problems' in reading)
      throw malformed(
        reading.problems
          .map((problem) => problem.message)
          .slice(0, 5)
          .join(' '),
        reading.problems,
      )
    return this.pipeline.submit(estateId, {
      commands: reading.commands,
      personId,
      expectedRevision: expectedRevision as number | undefined,
      expectedEpoch,
      dryRun,
      withoutFindings: leavesOutFindings(query),
    })
  }

  @Get('changes')
  @InEstate('reads')
  @ApiOperation({ summary: 'The logbook, newest first; `before` a revision pages on.' })
  @ApiQuery({ name: 'before', required: false })
  @ApiQuery({ name: 'limit', required: false })
  @ApiQuery({ name: 'subject', required: false, description: 'Only changes that touched this record.' })
  @ApiQuery({ name: 'actor', required: false, description: 'Only changes by this person.' })
  @ApiQuery({ name: 'from', required: false })
  @ApiQuery({ name: 'until', required: false })
  changes(@Param('estateId', ParseUUIDPipe) estateId: string, @Query() query: Record<string, string>): Promise<ChangesPage> {
    for (const name of ['subject', 'actor'] as const)
      if (query[name] !== undefined && !isId(query[name])) throw malformed(`${name} is the id of a record.`)
    return this.log.page(estateId, {
      limit: query['limit'] === undefined ? PAGE : wholeNumber(query['limit'], 'limit', { min: 1, max: 500 }),
      ...(query['before'] === undefined ? {} : { before: wholeNumber(query['before'], 'before') }),
      ...(query['subject'] === undefined ? {} : { subject: query['subject'] }),
      ...(query['actor'] === undefined ? {} : { actor: query['actor'] }),
      ...(query['from'] === undefined ? {} : { from: instant(query['from'], 'from') }),
      ...(query['until'] === undefined ? {} : { until: instant(query['until'], 'until') }),
    })
  }

  @Post('changes/:revision/revert')
  @InEstate('changes')
  @HttpCode(200)
  @ApiOperation({ summary: 'Takes a change back, as a new change; refused when later changes stand on it.' })
  @ApiQuery({ name: 'findings', required: false, enum: ['true', 'false'], description: LEAVING_OUT })
  revert(
    @Param('estateId', ParseUUIDPipe) estateId: string,
    @Param('revision') revision: string,
    @Query() query: Record<string, string>,
    @PersonId() personId: string | undefined,
  ): Promise<CommandsResponse> {
    return this.pipeline.revert(estateId, wholeNumber(revision, 'revision', { min: 1 }), personId, leavesOutFindings(query))
  }
}

/** Whether an answer leaves out what became of the findings: `?findings=false`. */
function leavesOutFindings({ findings }: Readonly<Record<string, string>>): boolean {
  if (findings === undefined || findings === 'true') return false
  if (findings === 'false') return true
  throw malformed('findings is true or false.')
}
