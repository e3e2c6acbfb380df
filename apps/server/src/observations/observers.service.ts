import { createHash, randomBytes } from 'node:crypto'
import type { ObservationsTaken, ObserverState } from '@insel/contract'
import { numbersOf } from './observer-lines.js'
import { EntityManager } from '@mikro-orm/postgresql'
import { Injectable } from '@nestjs/common'
import { EstateCache } from '../cache/estate-cache.js'
import { malformed, notFound, ProblemError } from '../problems/problem.js'
import { ObservationsService } from './observations.service.js'

const hashOf = (key: string) => createHash('sha256').update(key).digest('hex')

/** Guests that send observations on their own schedule: each has a key for itself, of which only a checksum is kept. */
@Injectable()
export class ObserversService {
  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
    private readonly observations: ObservationsService,
  ) {}

  /** A new key for a guest; an older one is void from then on. */
  async start(estateId: string, guestId: string): Promise<string> {
    const em = this.em.fork()
    const { estate } = await this.cache.now(em, estateId)
    if (!estate.find('guest', guestId)) throw notFound(`There is no guest with the id ${guestId} in this estate.`)
    const key = randomBytes(18).toString('base64url')
    await em.execute(
      `insert into observer (estate_id, guest_id, key_hash, made_at) values (?, ?, ?, now())
       on conflict (estate_id, guest_id) do update set key_hash = excluded.key_hash, made_at = excluded.made_at, last_seen_at = null`,
      [estateId, guestId, hashOf(key)],
    )
    return key
  }

  async state(estateId: string, guestId: string): Promise<ObserverState | null> {
    const [row] = await this.em
      .fork()
      .execute<{ made_at: Date | string; last_seen_at: Date | string | null }[]>(
        'select made_at, last_seen_at from observer where estate_id = ? and guest_id = ?',
        [estateId, guestId],
      )
    if (!row) return null
    return { madeAt: new Date(row.made_at).toISOString(), lastSeenAt: row.last_seen_at ? new Date(row.last_seen_at).toISOString() : null }
  }

  /** Ends what a guest may send. */
  async stop(estateId: string, guestId: string): Promise<void> {
    await this.em.fork().execute('delete from observer where estate_id = ? and guest_id = ?', [estateId, guestId])
  }

  /** The name of the guest that a key belongs to. @throws ProblemError 403 */
  async guestOf(estateId: string, key: string): Promise<{ readonly id: string; readonly name: string }> {
    const em = this.em.fork()
    const [row] = await em.execute<{ guest_id: string }[]>('select guest_id from observer where estate_id = ? and key_hash = ?', [
      estateId,
      hashOf(key),
    ])
    const { estate } = await this.cache.now(em, estateId)
    const guest = estate.find('guest', row?.guest_id)
    if (!guest)
      throw new ProblemError(
        403,
        'code-unusable',
        'The key cannot be used',
        'This key is unknown or revoked. Create a new one on the guest’s page.',
      )
    return guest
  }

  /** Takes in the lines that a guest sends of itself. */
  async receive(estateId: string, key: string, text: string): Promise<ObservationsTaken> {
    const guest = await this.guestOf(estateId, key)
    const { cpuPercent, memoryMiB, diskBytes } = numbersOf(text)
    const taken = await this.observations.take(estateId, [
      { subjectId: guest.id, at: new Date().toISOString(), cpuPercent, memoryMiB, diskBytes },
    ])
    const [wrong] = taken.rejected
    if (wrong) throw malformed(wrong.reason)
    await this.em.fork().execute('update observer set last_seen_at = now() where estate_id = ? and guest_id = ?', [estateId, guest.id])
    return taken
  }
}
