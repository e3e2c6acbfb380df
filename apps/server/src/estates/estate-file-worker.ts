import { MikroORM } from '@mikro-orm/postgresql'
import { workerData } from 'node:worker_threads'
import { ormConfig } from '../database/orm-config.js'
import { ProblemError } from '../problems/problem.js'
import type { FileAsked, FileReply } from './estate-files.js'
import { importEstate } from './new-estate.js'

const { databaseUrl } = workerData as { databaseUrl: string }
const orm = MikroORM.init(ormConfig(databaseUrl, { isLongWork: true }))

/** Reads a file of an estate and writes it; a refusal goes back as a problem, since errors lose their class on the way. */
export default async function work({ file, name }: FileAsked): Promise<FileReply> {
  try {
    return { value: await importEstate((await orm).em.fork(), file, name) }
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error
    return { problem: error.problem }
  }
}
