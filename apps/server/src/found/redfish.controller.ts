import { controllerTexts, ControllerRequest } from '@insel/contract'
import type { RedfishTree } from '@insel/core'
import { Body, Controller, HttpCode, Param, Post } from '@nestjs/common'
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger'
import { InEstate } from '../access/access.js'
import { malformed } from '../problems/problem.js'
import { OutgoingClient } from '../outgoing/outgoing-client.js'
import { readBody } from '../problems/read-body.js'
import { readRedfishTree } from './redfish-reader.js'
import { IdInPath } from '../problems/id-in-path.js'

@ApiTags('collections')
@Controller('api/v1/estates/:estateId')
export class RedfishController {
  constructor(private readonly outgoing: OutgoingClient) {}

  @Post('redfish')
  @InEstate('observes')
  @HttpCode(200)
  @ApiOperation({ summary: 'Reads a management controller’s resource tree (Redfish). User and password are used once and kept nowhere.' })
  @ApiBody({
    schema: {
      type: 'object',
      required: ['url'],
      additionalProperties: false,
      properties: Object.fromEntries(Object.entries(controllerTexts).map(([name, description]) => [name, { type: 'string', description }])),
    },
  })
  read(@Param('estateId', IdInPath) _estateId: string, @Body() body: unknown): Promise<RedfishTree> {
    const { url, user, password, fingerprint } = readBody(ControllerRequest, body)
    return readRedfishTree(this.outgoing, { url: controllerUrl(url), user, password, fingerprint })
  }
}

function controllerUrl(text: string | undefined): URL {
  const wrong = (message: string) => malformed(message, [{ path: 'url', code: 'invalid', message }])
  const written = text?.includes('://') ? text : `https://${text ?? ''}`
  if (!text || !URL.canParse(written)) throw wrong('The address of a controller is expected, such as https://10.61.10.207.')
  const url = new URL(written)
  if (url.protocol !== 'https:' && url.protocol !== 'http:') throw wrong('A controller is read over https or http.')
  if (url.username || url.password) throw wrong('Give user and password in their own fields, not in the address.')
  return url
}
