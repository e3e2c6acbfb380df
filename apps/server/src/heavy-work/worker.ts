import { MikroORM } from '@mikro-orm/postgresql'
import { workerData } from 'node:worker_threads'
import { ormConfig } from '../database/orm-config.js'
import { EstateCache, KEPT_BYTES } from '../cache/estate-cache.js'
import { ProblemError } from '../problems/problem.js'
import type { Asked, Reply } from './heavy-work.js'
import { tasks } from './tasks.js'

/** What each of the threads is given. */
const { databaseUrl } = workerData as { databaseUrl: string }
// A thread reads the database itself, and follows it by the change log: the estate is never handed over by who answers everybody.
const orm = MikroORM.init(ormConfig(databaseUrl, { isLongWork: true }))
const cache = new EstateCache(KEPT_BYTES.thread)

/** Does a task on the estate as it is now; a refusal goes back as a problem, since errors lose their class on the way. */
export default async function work({ estateId, task, input }: Asked): Promise<Reply> {
  try {
    const at = await cache.now((await orm).em.fork(), estateId)
    return { value: (tasks[task] as (at: unknown, input: unknown) => unknown)(at, input) }
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error
    return { problem: error.problem }
  }
}
