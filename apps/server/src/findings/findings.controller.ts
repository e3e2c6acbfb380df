import { queries, type ListPage } from '@insel/contract'
import { rules } from '@insel/core'
import { Controller, Get, Param, Query } from '@nestjs/common'
import { ApiOperation, ApiTags } from '@nestjs/swagger'
import { InEstate } from '../access/access.js'
import { HeavyWork } from '../heavy-work/heavy-work.js'
import type { FindingWithFix } from '../heavy-work/tasks.js'
import { malformed } from '../problems/problem.js'
import { QueryOf, readQuery, type RawQuery } from '../problems/query.js'
import { IdInPath } from '../problems/id-in-path.js'

@ApiTags('findings')
@Controller('api/v1/estates/:estateId/findings')
export class FindingsController {
  constructor(private readonly work: HeavyWork) {}

  @Get()
  @InEstate('reads')
  @ApiOperation({
    summary: 'Open findings, errors first, with the commands that would fix them; those that somebody accepted by `accepted=true`.',
  })
  @QueryOf(queries.findings)
  async findings(@Param('estateId', IdInPath) estateId: string, @Query() query: RawQuery): Promise<ListPage<FindingWithFix>> {
    const { severity, rule, subject, accepted } = readQuery(queries.findings, query)
    if (rule !== null && !rules.some(({ id }) => id === rule)) throw malformed(`There is no rule “${rule}”.`)
    const { revision, items } = await this.work.do(estateId, 'findings', { severity, rule, subject, accepted })
    return { revision, total: items.length, items, nextOffset: null }
  }
}
