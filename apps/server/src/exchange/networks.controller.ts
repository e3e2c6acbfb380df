import { ImportRequest } from '@insel/contract'
import {
  addressPlanCsv,
  dhcpReservations,
  dhcpReservationsCsv,
  hostsLines,
  importGuests,
  importNames,
  makeIds,
  readGuestTable,
  zoneFile,
  zoneSerial,
  zonesOf,
  type Estate,
  type GuestImport,
  type NamesImport,
} from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { Body, Controller, Get, Header, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common'
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger'
import { randomBytes } from 'node:crypto'
import { InEstate } from '../access/access.js'
import { EstateCache } from '../estates/estate-cache.js'
import { malformed, notFound } from '../problems/problem.js'
import { readBody } from '../problems/read-body.js'

/** A zone that can be written, and the serial it has now. */
interface ZoneSummary {
  readonly name: string
  readonly kind: 'forward' | 'reverse'
  readonly names: number
  readonly serial: number
}

/** The addresses and names of an estate in open formats, out; and a preview of such texts, in. */
@ApiTags('networks')
@Controller('api/v1/estates/:estateId')
export class ExportsController {
  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
  ) {}

  @Get('exports/addresses.csv')
  @InEstate('reads')
  @Header('content-type', 'text/csv; charset=utf-8')
  @ApiOperation({ summary: 'The address plan as CSV (RFC 4180).' })
  async addresses(@Param('estateId', ParseUUIDPipe) estateId: string): Promise<string> {
    return addressPlanCsv(await this.#estate(estateId))
  }

  @Get('exports/hosts.txt')
  @InEstate('reads')
  @Header('content-type', 'text/plain; charset=utf-8')
  @ApiOperation({ summary: 'The names as lines of hosts(5).' })
  async hosts(@Param('estateId', ParseUUIDPipe) estateId: string): Promise<string> {
    return hostsLines(await this.#estate(estateId))
  }

  @Get('exports/dhcp.csv')
  @InEstate('reads')
  @Header('content-type', 'text/csv; charset=utf-8')
  @ApiOperation({ summary: 'DHCP reservations as CSV.' })
  async dhcpCsv(@Param('estateId', ParseUUIDPipe) estateId: string): Promise<string> {
    return dhcpReservationsCsv(await this.#estate(estateId))
  }

  @Get('exports/dhcp.json')
  @InEstate('reads')
  @ApiOperation({ summary: 'DHCP reservations as JSON.' })
  async dhcpJson(@Param('estateId', ParseUUIDPipe) estateId: string): Promise<object> {
    return { reservations: dhcpReservations(await this.#estate(estateId)) }
  }

  @Get('exports/zones')
  @InEstate('reads')
  @ApiOperation({ summary: 'The zones the plan can write, with their serial.' })
  async zones(@Param('estateId', ParseUUIDPipe) estateId: string): Promise<readonly ZoneSummary[]> {
    const { estate, serial } = await this.#withSerial(estateId)
    return zonesOf(estate).map(({ name, kind, names }) => ({ name, kind, names: names.length, serial }))
  }

  @Get('exports/zones/:zone')
  @InEstate('reads')
  @Header('content-type', 'text/dns; charset=utf-8')
  @ApiOperation({ summary: 'A zone as a master file (RFC 1035). Its serial grows with every change of the estate.' })
  async zone(@Param('estateId', ParseUUIDPipe) estateId: string, @Param('zone') name: string): Promise<string> {
    const { estate, serial } = await this.#withSerial(estateId)
    const zone = zonesOf(estate).find((one) => one.name === name.toLowerCase().replace(/\.$/, ''))
    if (!zone) throw notFound(`The plan has no zone “${name}”. GET exports/zones lists them.`)
    return zoneFile(estate, zone, serial)
  }

  @Post('imports')
  @InEstate('reads')
  @HttpCode(200)
  @ApiOperation({
    summary:
      'What a text of names, or a table of guests, would record: the commands, and the lines that cannot be taken. Nothing is applied.',
  })
  @ApiBody({
    schema: {
      type: 'object',
      required: ['kind', 'text'],
      additionalProperties: false,
      properties: { kind: { type: 'string', enum: ['names', 'guests'] }, text: { type: 'string' } },
    },
  })
  async imports(@Param('estateId', ParseUUIDPipe) estateId: string, @Body() body: unknown): Promise<NamesImport | GuestImport> {
    const { kind, text } = readBody(ImportRequest, body)
    const estate = await this.#estate(estateId)
    const newId = makeIds(() => Date.now(), randomBytes)
    if (kind === 'names') return importNames(estate, text, newId)
    const table = readGuestTable(text)
    if ('sentence' in table) throw malformed(table.sentence)
    return importGuests(estate, table, table.proposed, { newId })
  }

  async #estate(estateId: string): Promise<Estate> {
    return (await this.cache.now(this.em.fork(), estateId)).estate
  }

  /** The estate with the serial of its revision: the first change of each day and the last of all decide it. */
  async #withSerial(estateId: string): Promise<{ estate: Estate; serial: number }> {
    const em = this.em.fork()
    const { estate, revision } = await this.cache.now(em, estateId)
    const days = await em.execute<{ revision: number; day: string }[]>(
      `select min(revision) as revision, to_char(at at time zone 'UTC', 'YYYY-MM-DD') as day
       from change where estate_id = ? and revision <= ? group by day order by min(revision)`,
      [estateId, revision],
    )
    const last = days.at(-1)
    return { estate, serial: zoneSerial([...days, ...(last && last.revision < revision ? [{ revision, day: last.day }] : [])]) }
  }
}
