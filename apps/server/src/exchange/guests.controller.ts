import { queries } from '@insel/contract'
import { fileName, firstBootOf, guestMarkdown, seedFiles, writeOvf, type Estate, type Guest } from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { Controller, Get, Header, Param, Query, StreamableFile } from '@nestjs/common'
import { ApiOperation, ApiTags } from '@nestjs/swagger'
import { InEstate } from '../access/access.js'
import { EstateCache } from '../cache/estate-cache.js'
import { HeavyWork } from '../heavy-work/heavy-work.js'
import { notFound } from '../problems/problem.js'
import { QueryOf, type RawQuery, readQuery } from '../problems/query.js'
import { IdInPath } from '../problems/id-in-path.js'
import { seedImage } from './seed-image.js'

/** Guests in open formats, for scripts. */
@ApiTags('guests')
@Controller('api/v1/estates/:estateId/exports')
export class GuestExchangeController {
  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
    private readonly work: HeavyWork,
  ) {}

  @Get('guests.csv')
  @InEstate('reads')
  @Header('content-type', 'text/csv; charset=utf-8')
  @ApiOperation({ summary: 'Every guest as CSV (RFC 4180).' })
  csv(@Param('estateId', IdInPath) estateId: string): Promise<string> {
    return this.work.do(estateId, 'guestsCsv', undefined)
  }

  @Get('hosts.csv')
  @InEstate('reads')
  @Header('content-type', 'text/csv; charset=utf-8')
  @ApiOperation({ summary: 'Every host as CSV (RFC 4180), a column for each field.' })
  hosts(@Param('estateId', IdInPath) estateId: string): Promise<string> {
    return this.work.do(estateId, 'recordsCsv', 'host')
  }

  @Get('networks.csv')
  @InEstate('reads')
  @Header('content-type', 'text/csv; charset=utf-8')
  @ApiOperation({ summary: 'Every network as CSV (RFC 4180), a column for each field.' })
  networks(@Param('estateId', IdInPath) estateId: string): Promise<string> {
    return this.work.do(estateId, 'recordsCsv', 'network')
  }

  @Get('stores.csv')
  @InEstate('reads')
  @Header('content-type', 'text/csv; charset=utf-8')
  @ApiOperation({ summary: 'Every store as CSV (RFC 4180), a column for each field.' })
  stores(@Param('estateId', IdInPath) estateId: string): Promise<string> {
    return this.work.do(estateId, 'recordsCsv', 'store')
  }

  @Get('guests/:guestId.ovf')
  @InEstate('reads')
  @Header('content-type', 'application/xml; charset=utf-8')
  @ApiOperation({ summary: 'A guest’s plan as an OVF descriptor (DMTF DSP0243).' })
  @QueryOf(queries.ovf)
  async ovf(
    @Param('estateId', IdInPath) estateId: string,
    @Param('guestId', IdInPath) guestId: string,
    @Query() query: RawQuery,
  ): Promise<string> {
    const { version } = readQuery(queries.ovf, query)
    const { estate, guest } = await this.#guest(estateId, guestId)
    return writeOvf(estate, guest, version)
  }

  @Get('guests/:guestId.md')
  @InEstate('reads')
  @Header('content-type', 'text/markdown; charset=utf-8')
  @ApiOperation({ summary: 'A guest’s sheet as Markdown.' })
  async markdown(@Param('estateId', IdInPath) estateId: string, @Param('guestId', IdInPath) guestId: string): Promise<string> {
    const { estate, guest } = await this.#guest(estateId, guestId)
    return guestMarkdown(estate, guest)
  }

  @Get('guests/:guestId/seed')
  @InEstate('reads')
  @ApiOperation({
    summary:
      'What a guest is told at its first boot, as cloud-init’s NoCloud reads it: a small ISO image, or a tar where xorriso is not installed.',
  })
  async seed(@Param('estateId', IdInPath) estateId: string, @Param('guestId', IdInPath) guestId: string): Promise<StreamableFile> {
    const { estate, guest } = await this.#guest(estateId, guestId)
    const { bytes, type, extension } = await seedImage(seedFiles(firstBootOf(estate, guest)))
    return new StreamableFile(bytes, {
      type,
      length: bytes.length,
      disposition: `attachment; filename="${fileName(`${guest.name}-seed`, extension)}"`,
    })
  }

  async #guest(estateId: string, guestId: string): Promise<{ estate: Estate; guest: Guest }> {
    const { estate } = await this.cache.now(this.em.fork(), estateId)
    const guest = estate.find('guest', guestId)
    if (!guest) throw notFound(`There is no guest with the id ${guestId} in this estate.`)
    return { estate, guest }
  }
}
