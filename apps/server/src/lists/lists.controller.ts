import type { ListPage } from '@insel/contract'
import { type AnyRecord, compareNames, type Kind, kindNames, kinds } from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { Controller, Get, Param, Query } from '@nestjs/common'
import { ApiOperation, ApiParam, ApiTags } from '@nestjs/swagger'
import { InEstate } from '../access/access.js'
import { EstateCache } from '../estates/estate-cache.js'
import { malformed, notFound } from '../problems/problem.js'
import { wholeNumber } from '../problems/query.js'
import { IdInPath } from '../problems/id-in-path.js'

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
    const fields = new Set(['id', ...Object.keys(kinds[kind].fields)])
    const sortField = sort?.replace(/^-/, '')
    for (const name of [...Object.keys(filters), ...(sortField === undefined ? [] : [sortField])])
      if (!fields.has(name))
        throw malformed(`A ${kinds[kind].label} has no field “${name}”.`, [
          { path: name, code: 'unknown-field', message: `There is no field “${name}” here.` },
        ])
    const [count, start] = [wholeNumber(limit, 'limit', { min: 1, max: 1000 }), wholeNumber(offset, 'offset')]
    const { revision, estate } = await this.cache.now(this.em.fork(), estateId)
    const value = (record: AnyRecord, field: string) => (record as unknown as Record<string, unknown>)[field]
    const needle = q?.toLowerCase()
    const matches = estate
      .all(kind)
      .filter((record) => Object.entries(filters).every(([field, wanted]) => isWanted(value(record, field), wanted)))
      .filter(
        (record) =>
          !needle ||
          ['name', 'ip', 'mac', 'prefix'].some((field) =>
            String(value(record, field) ?? '')
              .toLowerCase()
              .includes(needle),
          ),
      )
      .sort(
        (a, b) =>
          (sortField ? compare(value(a, sortField), value(b, sortField)) * (sort?.startsWith('-') ? -1 : 1) : 0) || (a.id < b.id ? -1 : 1),
      )
    const next = start + count
    return { revision, total: matches.length, items: matches.slice(start, next), nextOffset: next < matches.length ? next : null }
  }
}

/** A list of words is wanted when it holds the word; an empty text wants an empty field. */
const isWanted = (value: unknown, wanted: string): boolean =>
  Array.isArray(value) ? value.includes(wanted) : String(value ?? '') === wanted

function compare(a: unknown, b: unknown): number {
  if (typeof a === 'number' && typeof b === 'number') return a - b
  return compareNames(String(a ?? ''), String(b ?? ''))
}
