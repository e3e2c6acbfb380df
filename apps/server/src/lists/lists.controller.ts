import type { ListPage } from '@insel/contract'
import { type AnyRecord, compareNames, type Kind, kindNames, kinds } from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { Controller, Get, Param, Query } from '@nestjs/common'
import { ApiOperation, ApiParam, ApiTags } from '@nestjs/swagger'
import { InEstate } from '../access/access.js'
import { EstateCache } from '../cache/estate-cache.js'
import { notFound } from '../problems/problem.js'
import { wholeNumber } from '../problems/query.js'
import { IdInPath } from '../problems/id-in-path.js'
import { checkFilters, filtered, valueOf } from './list-filter.js'

const collections = new Map<string, Kind>(kindNames.map((kind) => [kinds[kind].plural, kind]))
const PAGE = 100

@ApiTags('lists')
@Controller('api/v1/estates/:estateId')
export class ListsController {
  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
  ) {}

  @Get(':collection')
  @InEstate('reads')
  @ApiParam({ name: 'collection', enum: [...collections.keys()] })
  @ApiOperation({
    summary:
      'Records of a kind: `field=value` filters, `q` finds in names and addresses, `sort=field` or `sort=-field`, `limit` and `offset` page.',
  })
  async list(
    @Param('estateId', IdInPath) estateId: string,
    @Param('collection') collection: string,
    @Query() query: Record<string, string>,
  ): Promise<ListPage<AnyRecord>> {
    const kind = collections.get(collection)
    if (!kind) throw notFound(`There is no list “${collection}” in an estate.`)
    const { q, sort, limit = String(PAGE), offset = '0', ...filters } = query
    checkFilters(kind, [...Object.keys(filters), ...(sort === undefined ? [] : [sort.replace(/^-/, '')])])
    const [count, start] = [wholeNumber(limit, 'limit', { min: 1, max: 1000 }), wholeNumber(offset, 'offset')]
    const { revision, estate } = await this.cache.now(this.em.fork(), estateId)
    const sortField = sort?.replace(/^-/, '')
    const matches = filtered(estate, kind, filters, q).sort(
      (a, b) =>
        (sortField ? compare(valueOf(a, sortField), valueOf(b, sortField)) * (sort?.startsWith('-') ? -1 : 1) : 0) ||
        (a.id < b.id ? -1 : 1),
    )
    const next = start + count
    return { revision, total: matches.length, items: matches.slice(start, next), nextOffset: next < matches.length ? next : null }
  }
}

function compare(a: unknown, b: unknown): number {
  if (typeof a === 'number' && typeof b === 'number') return a - b
  return compareNames(String(a ?? ''), String(b ?? ''))
}
