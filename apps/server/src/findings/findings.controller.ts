import type { ListPage } from '@insel/contract'
import { isId, rules, severities } from '@insel/core'
import { Controller, Get, Param, ParseUUIDPipe, Query } from '@nestjs/common'
import { ApiOperation, ApiQuery, ApiTags } from '@nestjs/swagger'
import { InEstate } from '../access/access.js'
import { HeavyWork } from '../heavy-work/heavy-work.js'
import type { FindingWithFix } from '../heavy-work/tasks.js'
import { malformed } from '../problems/problem.js'

@ApiTags('findings')
@Controller('api/v1/estates/:estateId/findings')
export class FindingsController {
  constructor(private readonly work: HeavyWork) {}

  @Get()
  @InEstate('reads')
  @ApiOperation({ summary: 'Open findings, errors first, with the commands that would mend them.' })
  @ApiQuery({ name: 'severity', required: false, enum: severities })
  @ApiQuery({ name: 'rule', required: false })
  @ApiQuery({ name: 'subject', required: false })
  async findings(
    @Param('estateId', ParseUUIDPipe) estateId: string,
    @Query('severity') wantedSeverity?: string,
    @Query('rule') rule?: string,
    @Query('subject') subject?: string,
  ): Promise<ListPage<FindingWithFix>> {
    const severity = severities.find((one) => one === wantedSeverity)
    if (wantedSeverity !== undefined && !severity) throw malformed(`severity is one of ${severities.join(', ')}.`)
    if (rule !== undefined && !rules.some(({ id }) => id === rule)) throw malformed(`There is no rule “${rule}”.`)
    if (subject !== undefined && !isId(subject)) throw malformed('subject is the id of a record.')
    const { revision, items } = await this.work.do(estateId, 'findings', {
      ...(severity === undefined ? {} : { severity }),
      ...(rule === undefined ? {} : { rule }),
      ...(subject === undefined ? {} : { subject }),
    })
    return { revision, total: items.length, items, nextOffset: null }
  }
}
