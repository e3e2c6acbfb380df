import {
  ansibleInventory,
  dnsmasqLines,
  ethersLines,
  isInService,
  keaDhcp4,
  prometheusTargets,
  sshConfig,
  toolMachines,
  type Estate,
} from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { Controller, Get, Header, Param, Query } from '@nestjs/common'
import { ApiOperation, ApiTags } from '@nestjs/swagger'
import { InEstate } from '../access/access.js'
import { EstateCache } from '../cache/estate-cache.js'
import { checkFilters, filtered, hasField } from '../lists/list-filter.js'
import { IdInPath } from '../problems/id-in-path.js'
import { malformed } from '../problems/problem.js'
import { wholeNumber } from '../problems/query.js'

const TEXT = 'text/plain; charset=utf-8'
const WHICH =
  'Of hosts and guests in service, or with `of` of one of them; `field=value` and `q` filter as in any list, `tags=web` by a tag, `state` by another state. It has an ETag.'
/** Where exporters of machines usually answer. Common practice, no source. */
const EXPORTER_PORT = 9100

type Asked = Readonly<Record<string, string>>

/** The record for the tools around it: at stable addresses, filtered like any list, told apart by their ETag. */
@ApiTags('exchange')
@Controller('api/v1/estates/:estateId/exports')
export class ToolFilesController {
  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
  ) {}

  @Get('ssh_config')
  @InEstate('reads')
  @Header('content-type', TEXT)
  @ApiOperation({ summary: `Machines as a file that ssh includes, ssh_config(5). ${WHICH}` })
  async ssh(@Param('estateId', IdInPath) estateId: string, @Query() query: Asked): Promise<string> {
    return sshConfig(machinesOf(await this.#estate(estateId), query))
  }

  @Get('inventory.yaml')
  @InEstate('reads')
  @Header('content-type', 'application/yaml; charset=utf-8')
  @ApiOperation({ summary: `Machines as an Ansible inventory, in groups by kind, site, group, role and tag. ${WHICH}` })
  async ansible(@Param('estateId', IdInPath) estateId: string, @Query() query: Asked): Promise<string> {
    return ansibleInventory(machinesOf(await this.#estate(estateId), query))
  }

  @Get('targets.json')
  @InEstate('reads')
  @Header('content-type', 'application/json; charset=utf-8')
  @ApiOperation({ summary: `Machines as file-based targets of Prometheus, at \`port\`, ${EXPORTER_PORT} where none is named. ${WHICH}` })
  async targets(@Param('estateId', IdInPath) estateId: string, @Query() { port, ...query }: Asked): Promise<string> {
    const at = wholeNumber(port ?? String(EXPORTER_PORT), 'port', { min: 1, max: 65_535 })
    return prometheusTargets(machinesOf(await this.#estate(estateId), query), at)
  }

  @Get('ethers')
  @InEstate('reads')
  @Header('content-type', TEXT)
  @ApiOperation({ summary: `MACs as lines of ethers(5). ${WHICH}` })
  async ethers(@Param('estateId', IdInPath) estateId: string, @Query() query: Asked): Promise<string> {
    return ethersLines(machinesOf(await this.#estate(estateId), query))
  }

  @Get('dhcp/dnsmasq.conf')
  @InEstate('reads')
  @Header('content-type', TEXT)
  @ApiOperation({ summary: 'DHCP reservations as lines that dnsmasq reads.' })
  async dnsmasq(@Param('estateId', IdInPath) estateId: string): Promise<string> {
    return dnsmasqLines(await this.#estate(estateId))
  }

  @Get('dhcp/kea.json')
  @InEstate('reads')
  @ApiOperation({ summary: 'IPv4 subnets with their DHCP ranges and reservations, as the Dhcp4 part of Kea’s configuration.' })
  async kea(@Param('estateId', IdInPath) estateId: string): Promise<object> {
    return keaDhcp4(await this.#estate(estateId))
  }

  async #estate(estateId: string): Promise<Estate> {
    return (await this.cache.now(this.em.fork(), estateId)).estate
  }
}

/** The machines that are asked for. A filter that only one kind has leaves the other out. */
function machinesOf(estate: Estate, { of, q, ...filters }: Asked) {
  if (of !== undefined && of !== 'hosts' && of !== 'guests')
    throw malformed('of is hosts or guests; without it both are meant.', [
      { path: 'of', code: 'invalid', message: 'of is hosts or guests.' },
    ])
  const names = Object.keys(filters)
  const kinds = (['host', 'guest'] as const).filter((kind) => of === undefined || of === `${kind}s`)
  const fitting = kinds.filter((kind) => names.every((name) => hasField(kind, name)))
  if (fitting.length === 0) checkFilters(kinds[0] ?? 'host', names)
  const list = <K extends 'host' | 'guest'>(kind: K) => (fitting.includes(kind) ? filtered(estate, kind, filters, q) : [])
  const isAnyState = 'state' in filters
  return toolMachines(estate, {
    hosts: list('host').filter(({ state }) => isAnyState || state === 'in service' || state === 'in maintenance'),
    guests: list('guest').filter((guest) => isAnyState || isInService(guest)),
  })
}
