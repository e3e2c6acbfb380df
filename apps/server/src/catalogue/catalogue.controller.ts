import type { CatalogueResponse } from '@insel/contract'
import { Controller, Get, Query } from '@nestjs/common'
import { ApiOperation, ApiQuery, ApiTags } from '@nestjs/swagger'
import { OfServer } from '../access/access.js'
import { malformed } from '../problems/problem.js'
import { wholeNumber } from '../problems/query.js'
import { CatalogueService } from './catalogue.service.js'

const SEARCH_MAX = 100

@ApiTags('guests')
@Controller('api/v1/catalogue')
export class CatalogueController {
  constructor(private readonly catalogue: CatalogueService) {}

  @Get('systems')
  @OfServer('reads')
  @ApiOperation({ summary: 'Operating systems of the open dataset osinfo-db, where Debian’s package is installed.' })
  @ApiQuery({ name: 'q', required: false, description: 'Words of the name, short name, codename or maker.' })
  @ApiQuery({ name: 'limit', required: false })
  find(@Query('q') search = '', @Query('limit') limit = '20'): Promise<CatalogueResponse> {
    if (search.length > SEARCH_MAX) throw malformed(`A search has at most ${SEARCH_MAX} characters.`)
    return this.catalogue.find(search, wholeNumber(limit, 'limit', { min: 1, max: 1000 }))
  }
}
