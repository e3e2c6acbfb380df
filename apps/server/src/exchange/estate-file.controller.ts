import { Controller, Get, Header, Param } from '@nestjs/common'
import { ApiOperation, ApiTags } from '@nestjs/swagger'
import { InEstate } from '../access/access.js'
import { HeavyWork } from '../heavy-work/heavy-work.js'
import { IdInPath } from '../problems/id-in-path.js'

/** A whole estate, out. */
@ApiTags('estates')
@Controller('api/v1/estates/:estateId/exports')
export class EstateFileController {
  constructor(private readonly work: HeavyWork) {}

  @Get('estate.json')
  @InEstate('reads')
  @Header('content-type', 'application/json; charset=utf-8')
  @ApiOperation({ summary: 'The whole estate as a file, to keep or to import elsewhere.' })
  file(@Param('estateId', IdInPath) estateId: string): Promise<string> {
    return this.work.do(estateId, 'file', new Date().toISOString())
  }
}
