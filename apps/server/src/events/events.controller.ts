import { Controller, Param, ParseUUIDPipe, Sse, type MessageEvent } from '@nestjs/common'
import { ApiOperation, ApiTags } from '@nestjs/swagger'
import { EntityManager } from '@mikro-orm/postgresql'
import { concat, concatMap, defer, filter, interval, map, merge, takeUntil, last, type Observable } from 'rxjs'
import { estateHeadEntity } from '../database/entities.js'
import { notFound } from '../problems/problem.js'
import { Notifications } from './notifications.js'

/** Often enough that proxies keep the connection open. */
const HEARTBEAT_MS = 20_000

@ApiTags('events')
@Controller('api/v1/estates/:estateId/events')
export class EventsController {
  constructor(
    private readonly notifications: Notifications,
    private readonly em: EntityManager,
  ) {}

  @Sse()
  @ApiOperation({ summary: 'Server-sent events: `revision` with the estate’s new revision, after each change.' })
  async events(@Param('estateId', ParseUUIDPipe) estateId: string): Promise<Observable<MessageEvent>> {
    const current = async () => {
      const head = await this.em.fork().findOne(estateHeadEntity, { estateId })
      if (!head) throw notFound(`There is no estate with the id ${estateId}.`)
      return head.revision
    }
    await current()
    const asEvent = (revision: number): MessageEvent => ({ type: 'revision', id: String(revision), data: { revision } })
    const stream = this.notifications.stream
    const changes = stream.pipe(
      filter((note) => note.kind === 'reconnected' || note.estateId === estateId),
      concatMap(async (note) => asEvent(note.kind === 'change' ? note.revision : await current())),
    )
    const heartbeats = interval(HEARTBEAT_MS).pipe(map((): MessageEvent => ({ type: 'heartbeat', data: {} })))
    // The revision as it is now comes first: a browser that was away learns what it missed.
    return merge(
      concat(
        defer(async () => asEvent(await current())),
        changes,
      ),
      heartbeats,
    ).pipe(takeUntil(stream.pipe(last(null, undefined))))
  }
}
