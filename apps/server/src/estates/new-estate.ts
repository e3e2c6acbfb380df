import type { EstateSummary } from '@insel/contract'
import { aboutOf, compose, readEstateFile, type Estate, touchedIds, type Command, type Difference } from '@insel/core'
import type { EntityManager } from '@mikro-orm/postgresql'
import { randomUUID } from 'node:crypto'
import { newId } from '../changes/new-id.js'
import { writeFirstChange } from '../database/change-table.js'
import { estateHeadEntity } from '../database/entities.js'
import { writeDifference } from '../database/records-table.js'
import { ProblemError } from '../problems/problem.js'

/** Writes an estate that was not there: its head, its records, and the change that made it. */
export async function writeNewEstate(
  em: EntityManager,
  estateId: string,
  estate: Estate,
  difference: Difference,
  { personId, commands, now }: { readonly personId: string; readonly commands: readonly Command[]; readonly now: Date },
): Promise<void> {
  await em.transactional(async (tx) => {
    await tx.insert(estateHeadEntity, { estateId, revision: 1, updatedAt: now, epoch: randomUUID() })
    await writeDifference(tx, estateId, difference)
    await writeFirstChange(tx, {
      estateId,
      revision: 1,
      at: now,
      actorId: personId,
      actorName: estate.find('person', personId)?.name ?? '',
      commands,
      difference,
      touched: [...touchedIds(difference)],
      about: [...aboutOf(difference, estate, estate)],
      reverts: null,
      submissionId: null,
    })
  })
}

/**
 * Makes a new estate from a file of one.
 *
 * @param file the bytes of the file
 * @param name what it is called; as in the file where none is given
 * @throws ProblemError 422 with everything that is wrong
 */
export async function importEstate(em: EntityManager, file: Uint8Array, name?: string): Promise<EstateSummary & { personId: string }> {
  const reading = readEstateFile(file)
  if ('problems' in reading) throw refused(reading.problems)
  const [estateId, now] = [newId(), new Date()]
  const [person] = reading.estate.all('person')
  const [described] = reading.estate.all('estate')
  if (!person || !described) throw refused(['records.person is empty: somebody must have recorded the estate.'])
  // The description of an estate has the estate's own id; everything else keeps its id.
  const record = { ...described, ...(name === undefined ? {} : { name }), archivedAt: null, id: estateId }
  const renamed: Difference = {
    added: { [estateId]: { kind: 'estate', record } },
    updated: {},
    removed: { [described.id]: { kind: 'estate', record: described } },
  }
  const difference = compose(reading.difference, renamed)
  await writeNewEstate(em, estateId, reading.estate.with(renamed), difference, { personId: person.id, commands: [], now })
  return { id: estateId, name: name ?? described.name, revision: 1, updatedAt: now.toISOString(), archivedAt: null, personId: person.id }
}

const refused = (problems: readonly string[]) =>
  new ProblemError(422, 'file-refused', 'The file is not an estate that can be kept', problems.join(' '), {
    errors: problems.map((message) => ({ path: 'records', code: 'invalid', message })),
  })
