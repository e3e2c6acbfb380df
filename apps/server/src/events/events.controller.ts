import type { RevisionEvent } from '@insel/contract'
import { EntityManager } from '@mikro-orm/postgresql'
import { Controller, Param, Sse, type MessageEvent } from '@nestjs/common'
import { ApiOperation, ApiQuery, ApiTags } from '@nestjs/swagger'
import { concat, concatMap, defer, filter, from, interval, last, map, merge, takeUntil, type Observable } from 'rxjs'
import { EstatesAsked, InEstate, InEstates } from '../access/access.js'
import { estateHeadEntity } from '../database/entities.js'
import { noEstate } from '../problems/problem.js'
import { Notifications } from './notifications.js'
import { IdInPath } from '../problems/id-in-path.js'

/** Often enough that proxies keep the connection open. */
const HEARTBEAT_MS = 20_000

@ApiTags('events')
@Controller('api/v1')
export class EventsController {
  constructor(
    private readonly notifications: Notifications,
    private readonly em: EntityManager,
  ) {}

  @Sse('estates/:estateId/events')
  @InEstate('reads')
  @ApiOperation({ summary: 'Server-sent events: `revision` with the estate’s new revision, after each change.' })
  async events(@Param('estateId', IdInPath) estateId: string): Promise<Observable<MessageEvent>> {
    if ((await this.#current([estateId])).length === 0) throw noEstate(estateId)
    return this.#stream([estateId])
  }

  @Sse('events')
  @InEstates('reads')
  @ApiOperation({ summary: 'The same of several estates on one connection: a browser opens one, however many pages it shows.' })
  @ApiQuery({ name: 'estates', description: 'Ids with commas between.' })
  several(@EstatesAsked() estateIds: readonly string[]): Observable<MessageEvent> {
    return this.#stream(estateIds)
  }

  /** The revisions of estates now; those that do not exist are left out. */
  async #current(estateIds: readonly string[]): Promise<RevisionEvent[]> {
    const heads = await this.em.fork().find(estateHeadEntity, { estateId: { $in: [...estateIds] } })
    return heads.map(({ estateId, revision, epoch }) => ({ estateId, revision, epoch }))
  }

  #stream(estateIds: readonly string[]): Observable<MessageEvent> {
    const asEvent = (event: RevisionEvent): MessageEvent => ({ type: 'revision', id: String(event.revision), data: event })
    const wanted = new Set(estateIds)
    const stream = this.notifications.stream
    const changes = stream.pipe(
      filter((note) => note.kind === 'reconnected' || wanted.has(note.estateId)),
      concatMap((note) =>
        note.kind === 'change' ? [[{ estateId: note.estateId, revision: note.revision, epoch: note.epoch }]] : this.#current(estateIds),
      ),
    )
    const heartbeats = interval(HEARTBEAT_MS).pipe(map((): MessageEvent => ({ type: 'heartbeat', data: {} })))
    // The revision as it is now comes first: a browser that was away learns what it missed.
    return merge(
      concat(
        defer(() => this.#current(estateIds)),
        changes,
      ).pipe(
        concatMap((events) => from(events)),
        map(asEvent),
      ),
      heartbeats,
    ).pipe(takeUntil(stream.pipe(last(null, undefined))))
  }
}
