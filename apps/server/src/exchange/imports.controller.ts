import { ApplyImportRequest, ImportRequest, type ColumnsOfGuests, type CommandsResponse } from '@insel/contract'
import {
  guestColumns,
  importGuests,
  importNames,
  numberStyles,
  readGuestTable,
  sizeUnits,
  type Estate,
  type GuestColumn,
  type GuestImport,
  type NamesImport,
  type TableMapping,
} from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { Body, Controller, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common'
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger'
import { InEstate, PersonId } from '../access/access.js'
import { newId, Pipeline } from '../changes/pipeline.js'
import { EstateCache } from '../estates/estate-cache.js'
import { malformed, ProblemError } from '../problems/problem.js'
import { readBody } from '../problems/read-body.js'

/** What an import would record, and the revision that is said of. */
type Preview = (NamesImport | GuestImport) & { readonly revision: number }

const fields = {
  kind: { type: 'string', enum: ['names', 'guests'] },
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
}

/** Texts of names and tables of guests, in: what they would record, and recording it as one change. */
@ApiTags('networks')
@Controller('api/v1/estates/:estateId/imports')
export class ImportsController {
  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
    private readonly pipeline: Pipeline,
  ) {}

  @Post()
  @InEstate('reads')
  @HttpCode(200)
  @ApiOperation({
    summary:
      'What a text of names, or a table of guests, would record: the commands, and the lines that cannot be taken. Nothing is applied.',
  })
  @ApiBody({ schema: { type: 'object', required: ['kind', 'text'], additionalProperties: false, properties: fields } })
  async preview(@Param('estateId', ParseUUIDPipe) estateId: string, @Body() body: unknown): Promise<Preview> {
    const asked = readBody(ImportRequest, body)
    const { estate, revision } = await this.cache.now(this.em.fork(), estateId)
    return { ...readImport(estate, asked), revision }
  }

  @Post('apply')
  @InEstate('changes')
  @HttpCode(200)
  @ApiOperation({
    summary:
      'Records what the preview of the same text showed, all of it as one change, however many commands it is. Refused when the estate changed since.',
  })
  @ApiBody({
    schema: {
      type: 'object',
      required: ['kind', 'text', 'expectedRevision'],
      additionalProperties: false,
      properties: { ...fields, expectedRevision: { type: 'integer', minimum: 0 } },
    },
  })
  async apply(
    @Param('estateId', ParseUUIDPipe) estateId: string,
    @Body() body: unknown,
    @PersonId() personId: string | undefined,
  ): Promise<CommandsResponse> {
    const { expectedRevision, ...asked } = readBody(ApplyImportRequest, body)
    const { estate, revision } = await this.cache.now(this.em.fork(), estateId)
    if (revision !== expectedRevision) throw changedSince(expectedRevision, revision)
    const { commands } = readImport(estate, asked)
    if (commands.length === 0) throw malformed('The text holds nothing that is not recorded already, so there is nothing to record.')
    return this.pipeline.submit(estateId, { commands, personId, expectedRevision })
  }
}

const changedSince = (expected: number, revision: number) =>
  new ProblemError(
    409,
    'changed-since',
    'The estate changed since the preview',
    `The preview was made on revision ${expected}, and the estate is at ${revision}. Look at the preview again, then record it.`,
  )

/** @throws ProblemError 400 for a text that is no table of guests */
function readImport(estate: Estate, { kind, text, columns }: ImportRequest): NamesImport | GuestImport {
  if (kind === 'names') return importNames(estate, text, newId)
  const table = readGuestTable(text)
  if ('sentence' in table) throw malformed(table.sentence)
  return importGuests(estate, table, columns ? mappingOf(columns) : table.proposed, { newId })
}

/** A mapping as it came over the wire, where nothing is known as `null`. */
const mappingOf = ({ columns, units, style }: ColumnsOfGuests): TableMapping<GuestColumn> => ({
  columns,
  units: units.map((unit) => unit ?? undefined),
  style: style ?? undefined,
})
