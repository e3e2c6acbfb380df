import { createHash, randomBytes } from 'node:crypto'
import type { CollectionStarted, CollectionSummary, CollectionText } from '@insel/contract'
import { TEXT_MAX } from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { Injectable } from '@nestjs/common'
import { collectionEntity } from '../database/entities.js'
import { EstateCache } from '../cache/estate-cache.js'
import { malformed, notFound, ProblemError } from '../problems/problem.js'

/** How long a code may be used, milliseconds. */
const VALID_MS = 30 * 60_000
/** Received texts that are kept of each host. */
const KEPT = 5

const hashOf = (code: string) => createHash('sha256').update(code).digest('hex')
const unusable = () =>
  new ProblemError(
    403,
    'code-unusable',
    'The code cannot be used',
    'This code is unknown, used or older than 30 minutes. Create a new one on the page of the machine.',
  )

/** Texts that collectors send: each needs a code that was made for one host or guest, is good for half an hour and for one text. */
@Injectable()
export class CollectionsService {
  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
  ) {}

  async start(estateId: string, machineId: string, kind: 'host' | 'guest'): Promise<Omit<CollectionStarted, 'command'>> {
    const { estate } = await this.cache.now(this.em.fork(), estateId)
    if (!estate.find(kind, machineId)) throw notFound(`There is no ${kind} with the id ${machineId} in this estate.`)
    const code = randomBytes(12).toString('base64url')
    const expiresAt = new Date(Date.now() + VALID_MS)
    const id = crypto.randomUUID()
    await this.em.fork().transactional(async (tx) => {
      await tx.nativeDelete(collectionEntity, { estateId, receivedAt: null, expiresAt: { $lt: new Date() } })
      await tx.insert(collectionEntity, { estateId, id, machineId, codeHash: hashOf(code), expiresAt, receivedAt: null, text: null })
    })
    return { id, code, expiresAt: expiresAt.toISOString() }
  }

  /** The host or guest that a code is good for. @throws ProblemError 403 when it is not good for any */
  async machineNameFor(estateId: string, code: string): Promise<string> {
    const row = await this.em
      .fork()
      .findOne(collectionEntity, { estateId, codeHash: hashOf(code), receivedAt: null, expiresAt: { $gt: new Date() } })
    if (!row) throw unusable()
    const { estate } = await this.cache.now(this.em.fork(), estateId)
    return (estate.find('host', row.machineId) ?? estate.find('guest', row.machineId))?.name ?? ''
  }

  /** Takes a text in; the code is used up by it. */
  async receive(estateId: string, code: string, text: string): Promise<void> {
    if (text.trim() === '') throw malformed('The body is empty; send the collector’s text as text/plain.')
    if (text.length > TEXT_MAX) throw malformed(`The text has ${text.length} characters; at most ${TEXT_MAX} are taken.`)
    // PostgreSQL keeps no NUL in a text, and no tool writes one.
    if (text.includes('\u0000')) throw malformed('The text holds a NUL character: this is not output of the collector.')
    await this.em.fork().transactional(async (tx) => {
      const now = new Date()
      const [row] = await tx.find(collectionEntity, { estateId, codeHash: hashOf(code) })
      const taken = await tx.nativeUpdate(
        collectionEntity,
        { estateId, codeHash: hashOf(code), receivedAt: null, expiresAt: { $gt: now } },
        { receivedAt: now, text },
      )
      if (!row || taken !== 1) throw unusable()
      const older = await tx.find(
        collectionEntity,
        { estateId, machineId: row.machineId, receivedAt: { $ne: null } },
        { orderBy: { receivedAt: 'desc' }, offset: KEPT, limit: 100, fields: ['id'] },
      )
      if (older.length > 0) await tx.nativeDelete(collectionEntity, { estateId, id: { $in: older.map(({ id }) => id) } })
    })
  }

  async list(estateId: string, machineId: string): Promise<CollectionSummary[]> {
    await this.cache.now(this.em.fork(), estateId)
    const rows = await this.em
      .fork()
      .find(
        collectionEntity,
        { estateId, machineId, receivedAt: { $ne: null } },
        { orderBy: { receivedAt: 'desc' }, fields: ['id', 'receivedAt'] },
      )
    return rows.map(({ id, receivedAt }) => ({ id, receivedAt: (receivedAt ?? new Date(0)).toISOString() }))
  }

  async text(estateId: string, id: string): Promise<CollectionText> {
    const row = await this.em.fork().findOne(collectionEntity, { estateId, id, receivedAt: { $ne: null } })
    if (!row) throw notFound('There is no such collection; only the last five of a machine are kept.')
    return { id, receivedAt: (row.receivedAt ?? new Date(0)).toISOString(), text: row.text ?? '' }
  }
}
