import { commandTypes } from '@insel/core'
import { CommandsRequest, propertiesOf, queries, readCommands, recordingFields, type Change, type ChangesPage } from '@insel/contract'
import { Body, Controller, Get, HttpCode, Param, Post, Query } from '@nestjs/common'
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger'
import { InEstate, RecordedBy, type Recorder } from '../access/access.js'
import { malformed } from '../problems/problem.js'
import { readBody } from '../problems/read-body.js'
import { ChangeLog } from './change-log.js'
import { AnswersJson } from './answer.js'
import { Pipeline } from './pipeline.js'
import { QueryOf, type RawQuery, readQuery, wholeNumber } from '../problems/query.js'
import { IdInPath } from '../problems/id-in-path.js'

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
  @AnswersJson()
  @ApiOperation({
    summary:
      'Applies commands, all or none. `dryRun` says what they would do; `expectedRevision` refuses when what they touch changed since.',
  })
  @QueryOf(queries.recording)
  @ApiBody({
    schema: {
      type: 'object',
      required: ['commands'],
      additionalProperties: false,
      properties: {
        commands: { type: 'array', items: { oneOf: commandTypes.map((type) => ({ $ref: `#/components/schemas/command.${type}` })) } },
        ...propertiesOf(recordingFields),
      },
    },
  })
  async commands(
    @Param('estateId', IdInPath) estateId: string,
    @Body() body: unknown,
    @Query() query: RawQuery,
    @RecordedBy() by: Recorder,
  ): Promise<string> {
    if (typeof body !== 'object' || body === null || Array.isArray(body))
      throw malformed('The body is a JSON object with a list of commands.')
    const { commands, ...asked } = body as { readonly commands?: unknown }
    const { expectedRevision, expectedEpoch, dryRun } = readBody(CommandsRequest, asked)
    const reading = readCommands(commands)
    if ('problems' in reading)
      throw malformed(
        reading.problems
          .map((problem) => problem.message)
          .slice(0, 5)
          .join(' '),
        reading.problems,
      )
    const { text } = await this.pipeline.submit(estateId, {
      commands: reading.commands,
      by,
      expectedRevision: expectedRevision ?? undefined,
      expectedEpoch: expectedEpoch ?? undefined,
      dryRun: dryRun ?? false,
      withoutFindings: !readQuery(queries.recording, query).findings,
    })
    return text
  }

  @Get('changes')
  @InEstate('reads')
  @ApiOperation({
    summary:
      'The logbook, newest first; `before` a revision pages on, as `nextBefore` says. A page of large changes has fewer than `limit`.',
  })
  @QueryOf(queries.changes)
  changes(@Param('estateId', IdInPath) estateId: string, @Query() query: RawQuery): Promise<ChangesPage> {
    const { limit, before, subject, text, actor, from, until, most } = readQuery(queries.changes, query)
    return this.log.page(estateId, {
      limit,
      ...(before === null ? {} : { before }),
      ...(subject === null ? {} : { subject }),
      ...(most === null ? {} : { most }),
      ...(text === null ? {} : { text }),
      ...(actor === null ? {} : { actor }),
      ...(from === null ? {} : { from: new Date(from) }),
      ...(until === null ? {} : { until: new Date(until) }),
    })
  }

  @Get('changes/:revision')
  @InEstate('reads')
  @ApiOperation({ summary: 'One change, whole.' })
  change(@Param('estateId', IdInPath) estateId: string, @Param('revision') revision: string): Promise<Change> {
    return this.log.one(estateId, wholeNumber(revision, 'revision', { min: 1 }))
  }

  @Post('changes/:revision/revert')
  @InEstate('changes')
  @HttpCode(200)
  @AnswersJson()
  @ApiOperation({ summary: 'Reverts a change, as a new change; refused when later changes depend on it.' })
  @QueryOf(queries.recording)
  async revert(
    @Param('estateId', IdInPath) estateId: string,
    @Param('revision') revision: string,
    @Query() query: RawQuery,
    @RecordedBy() by: Recorder,
  ): Promise<string> {
    const back = wholeNumber(revision, 'revision', { min: 1 })
    return (await this.pipeline.revert(estateId, back, by, !readQuery(queries.recording, query).findings)).text
  }
}
