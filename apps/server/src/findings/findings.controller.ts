import type { ListPage } from '@insel/contract'
import { fixOf, isId, rules, type Command, type Finding, severities } from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { Controller, Get, Param, ParseUUIDPipe, Query } from '@nestjs/common'
import { ApiOperation, ApiQuery, ApiTags } from '@nestjs/swagger'
import { InEstate } from '../access/access.js'
import { EstateCache } from '../estates/estate-cache.js'
import { malformed } from '../problems/problem.js'

/** A finding as scripts get it: with the commands of its fix, where there is one. */
type FindingWithFix = Finding & { readonly fix: readonly Command[] | null }

@ApiTags('findings')
@Controller('api/v1/estates/:estateId/findings')
export class FindingsController {
  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
  ) {}

  @Get()
  @InEstate('reads')
  @ApiOperation({ summary: 'Open findings, errors first, with the commands that would mend them.' })
  @ApiQuery({ name: 'severity', required: false, enum: severities })
  @ApiQuery({ name: 'rule', required: false })
  @ApiQuery({ name: 'subject', required: false })
  async findings(
    @Param('estateId', ParseUUIDPipe) estateId: string,
    @Query('severity') severity?: string,
    @Query('rule') rule?: string,
    @Query('subject') subject?: string,
  ): Promise<ListPage<FindingWithFix>> {
    if (severity !== undefined && !severities.some((one) => one === severity))
      throw malformed(`severity is one of ${severities.join(', ')}.`)
    if (rule !== undefined && !rules.some(({ id }) => id === rule)) throw malformed(`There is no rule “${rule}”.`)
    if (subject !== undefined && !isId(subject)) throw malformed('subject is the id of a record.')
    const { revision, estate, findings } = await this.cache.now(this.em.fork(), estateId)
    const items = findings
      .settled()
      .list()
      .filter(
        (finding) =>
          (!severity || finding.severity === severity) &&
          (!rule || finding.ruleId === rule) &&
          (!subject || finding.subject.id === subject),
      )
      .map((finding) => ({ ...finding, fix: (finding.isFixable ? fixOf(estate, finding) : undefined) ?? null }))
    return { revision, total: items.length, items, nextOffset: null }
  }
}
