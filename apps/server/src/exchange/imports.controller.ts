import { ApplyImportRequest, importKinds, ImportRequest, queries } from '@insel/contract'
import { guestColumns, numberStyles, sizeUnits, statesOfNew, tableNames } from '@insel/core'
import { Body, Controller, HttpCode, Param, Post, Query } from '@nestjs/common'
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger'
import { InEstate, RecordedBy, type Recorder } from '../access/access.js'
import { AnswersJson } from '../changes/answer.js'
import { Pipeline } from '../changes/pipeline.js'
import { HeavyWork } from '../heavy-work/heavy-work.js'
import type { Preview } from '../heavy-work/tasks.js'
import { malformed, ProblemError } from '../problems/problem.js'
import { readBody } from '../problems/read-body.js'
import { IdInPath } from '../problems/id-in-path.js'
import { QueryOf, readQuery, type RawQuery } from '../problems/query.js'

const fields = {
  kind: { type: 'string', enum: [...importKinds] },
  text: { type: 'string' },
  columns: {
    type: 'object',
    description: 'What the columns of a table of guests hold; what its headings say where it is left out.',
    required: ['columns', 'units'],
    properties: {
      columns: { type: 'array', items: { type: 'string', enum: [...guestColumns] } },
      units: { type: 'array', items: { type: 'string', enum: [...sizeUnits, '%'], nullable: true } },
      style: { type: 'string', enum: [...numberStyles], nullable: true },
    },
  },
  tables: {
    type: 'array',
    description: 'For tables: each with what its rows and columns hold.',
    items: {
      type: 'object',
      required: ['name', 'holds', 'headings', 'rows', 'columns', 'units'],
      properties: {
        name: { type: 'string', description: 'The sheet it is on; empty for a text.' },
        holds: { type: 'string', enum: [...tableNames] },
        headings: { type: 'array', items: { type: 'string' } },
        rows: {
          type: 'array',
          items: {
            type: 'object',
            required: ['line', 'cells'],
            properties: { line: { type: 'integer' }, cells: { type: 'array', items: { type: 'string' } } },
          },
        },
        columns: { type: 'array', items: { type: 'string' } },
        units: { type: 'array', items: { type: 'string', enum: [...sizeUnits, '%'], nullable: true } },
        style: { type: 'string', enum: [...numberStyles], nullable: true },
      },
    },
  },
  stateOfNew: { type: 'string', enum: [...statesOfNew], description: 'The state of new guests for which a table has none.' },
  records: {
    type: 'object',
    description: 'For ids in the file of a plan, the records here that are meant; found by kind and name where it is left out.',
    additionalProperties: { type: 'string', format: 'uuid' },
  },
}

/** Texts of names, tables and files of plans, in: what they would record, and recording it as one change. */
@ApiTags('networks')
@Controller('api/v1/estates/:estateId/imports')
export class ImportsController {
  constructor(
    private readonly work: HeavyWork,
    private readonly pipeline: Pipeline,
  ) {}

  @Post()
  @InEstate('reads')
  @HttpCode(200)
  @ApiOperation({
    summary:
      'What a text of names, a table of guests, the file of a plan, or tables of networks, hosts, guests and addresses would record: the commands, and what cannot be taken. Nothing is applied.',
  })
  @ApiBody({ schema: { type: 'object', required: ['kind'], additionalProperties: false, properties: fields } })
  preview(@Param('estateId', IdInPath) estateId: string, @Body() body: unknown): Promise<Preview> {
    return this.work.do(estateId, 'preview', readBody(ImportRequest, body))
  }

  @Post('apply')
  @InEstate('changes')
  @HttpCode(200)
  @AnswersJson()
  @ApiOperation({
    summary:
      'Records what the preview of the same text showed, all of it as one change, however many commands it is. Refused when the estate changed since.',
  })
  @ApiBody({
    schema: {
      type: 'object',
      required: ['kind', 'expectedRevision'],
      additionalProperties: false,
      properties: { ...fields, expectedRevision: { type: 'integer', minimum: 0 } },
    },
  })
  @QueryOf(queries.recording)
  async apply(
    @Param('estateId', IdInPath) estateId: string,
    @Body() body: unknown,
    @Query() query: RawQuery,
    @RecordedBy() by: Recorder,
  ): Promise<string> {
    const { expectedRevision, ...asked } = readBody(ApplyImportRequest, body)
    // By then everything in it is recorded, and the estate is elsewhere.
    const done = await this.pipeline.answered(estateId, by)
    if (done) return done.text
    const { commands, revision } = await this.work.do(estateId, 'imported', asked)
    if (revision !== expectedRevision) throw changedSince(expectedRevision, revision)
    if (commands.length === 0) throw malformed('The text holds nothing that is not recorded already, so there is nothing to record.')
    const withoutFindings = !readQuery(queries.recording, query).findings
    return (await this.pipeline.submit(estateId, { commands, by, expectedRevision, withoutFindings })).text
  }
}

const changedSince = (expected: number, revision: number) =>
  new ProblemError(
    409,
    'changed-since',
    'The estate changed since the preview',
    `The preview was made on revision ${expected}, and the estate is at ${revision}. Look at the preview again, then record it.`,
  )
