import { queries, type CatalogueResponse } from '@insel/contract'
import { Controller, Get, Query } from '@nestjs/common'
import { ApiOperation, ApiTags } from '@nestjs/swagger'
import { OfServer } from '../access/access.js'
import { CatalogueService } from './catalogue.service.js'
import { QueryOf, type RawQuery, readQuery } from '../problems/query.js'

@ApiTags('guests')
@Controller('api/v1/catalogue')
export class CatalogueController {
  constructor(private readonly catalogue: CatalogueService) {}

  @Get('systems')
  @OfServer('reads')
  @ApiOperation({ summary: 'Operating systems of the open dataset osinfo-db, where Debian’s package is installed.' })
  @QueryOf(queries.catalogue)
  find(@Query() query: RawQuery): Promise<CatalogueResponse> {
    const { q, limit } = readQuery(queries.catalogue, query)
    return this.catalogue.find(q ?? '', limit)
  }
}
