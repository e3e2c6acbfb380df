import type { MacRegistryResponse } from '@insel/contract'
import { Controller, Get, Query } from '@nestjs/common'
import { ApiOperation, ApiQuery, ApiTags } from '@nestjs/swagger'
import { OfServer } from '../access/access.js'
import { malformed } from '../problems/problem.js'
import { macRegistry, registryDate } from './mac-registry.js'

const PREFIXES_MAX = 500

@ApiTags('networks')
@Controller('api/v1/mac-registry')
export class MacRegistryController {
  @Get()
  @OfServer('reads')
  @ApiOperation({ summary: 'Who registered MAC prefixes with the IEEE, where Debian’s ieee-data is installed.' })
  @ApiQuery({ name: 'prefixes', description: 'Prefixes of six hexadecimal digits, with commas between: 00005e,021a4b' })
  async organisations(@Query('prefixes') prefixes = ''): Promise<MacRegistryResponse> {
    const asked = prefixes.toLowerCase().split(',').filter(Boolean)
    const bad = asked.find((prefix) => !/^[0-9a-f]{6}$/.test(prefix))
    if (bad !== undefined) throw malformed(`A prefix must be six hexadecimal digits such as 00005e, not “${bad}”.`)
    if (asked.length > PREFIXES_MAX) throw malformed(`At most ${PREFIXES_MAX} prefixes are answered at once; these are ${asked.length}.`)
    const registry = await macRegistry()
    return {
      source: registry ? `IEEE MA-L as of ${registryDate()} (Debian ieee-data)` : null,
      organisations: Object.fromEntries(
        asked.flatMap((prefix) => [[prefix, registry?.get(prefix)] as const]).filter(([, name]) => name !== undefined),
      ) as Record<string, string>,
    }
  }
}
