import { addressPlanCsv, dhcpReservations, dhcpReservationsCsv, hostsLines, zoneFile, zoneSerial, zonesOf, type Estate } from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { Controller, Get, Header, Param } from '@nestjs/common'
import { ApiOperation, ApiTags } from '@nestjs/swagger'
import { InEstate } from '../access/access.js'
import { EstateCache } from '../cache/estate-cache.js'
import { notFound } from '../problems/problem.js'
import { IdInPath } from '../problems/id-in-path.js'

/** A zone that can be written, and the serial it has now. */
interface ZoneSummary {
  readonly name: string
  readonly kind: 'forward' | 'reverse'
  readonly names: number
  readonly serial: number
}

/** The addresses and names of an estate in open formats, out. */
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
  async addresses(@Param('estateId', IdInPath) estateId: string): Promise<string> {
    return addressPlanCsv(await this.#estate(estateId))
  }

  @Get('exports/hosts.txt')
  @InEstate('reads')
  @Header('content-type', 'text/plain; charset=utf-8')
  @ApiOperation({ summary: 'The names as lines of hosts(5).' })
  async hosts(@Param('estateId', IdInPath) estateId: string): Promise<string> {
    return hostsLines(await this.#estate(estateId))
  }

  @Get('exports/dhcp.csv')
  @InEstate('reads')
  @Header('content-type', 'text/csv; charset=utf-8')
  @ApiOperation({ summary: 'DHCP reservations as CSV.' })
  async dhcpCsv(@Param('estateId', IdInPath) estateId: string): Promise<string> {
    return dhcpReservationsCsv(await this.#estate(estateId))
  }

  @Get('exports/dhcp.json')
  @InEstate('reads')
  @ApiOperation({ summary: 'DHCP reservations as JSON.' })
  async dhcpJson(@Param('estateId', IdInPath) estateId: string): Promise<object> {
    return { reservations: dhcpReservations(await this.#estate(estateId)) }
  }

  @Get('exports/zones')
  @InEstate('reads')
  @ApiOperation({ summary: 'The zones that can be written, with their serial.' })
  async zones(@Param('estateId', IdInPath) estateId: string): Promise<readonly ZoneSummary[]> {
    const { estate, serial } = await this.#withSerial(estateId)
    return zonesOf(estate).map(({ name, kind, names }) => ({ name, kind, names: names.length, serial }))
  }

  @Get('exports/zones/:zone')
  @InEstate('reads')
  @Header('content-type', 'text/dns; charset=utf-8')
  @ApiOperation({ summary: 'A zone as a master file (RFC 1035). Its serial grows with every change of the estate.' })
  async zone(@Param('estateId', IdInPath) estateId: string, @Param('zone') name: string): Promise<string> {
    const { estate, serial } = await this.#withSerial(estateId)
    const zone = zonesOf(estate).find((one) => one.name === name.toLowerCase().replace(/\.$/, ''))
    if (!zone) throw notFound(`There is no zone “${name}”. GET exports/zones lists them.`)
    return zoneFile(estate, zone, serial)
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
