import type { Estate } from './estate.js'
import type { NewRecord, Routine, Sheet } from './kinds/index.js'
import type { sheetSubjects } from './kinds/sheets.js'

type SheetSubject = (typeof sheetSubjects)[number]

/** What routine steps call what a sheet is of; the copies of a batch go through steps that are the same for all. */
export const routineOf: Readonly<Partial<Record<SheetSubject, Routine['of']>>> = {
  hostId: 'host',
  guestId: 'guest',
  migrationId: 'migration',
}

/** The steps of one's own that a new sheet of a kind of work begins with, in the order in which they were made. */
export const routinesFor = (estate: Estate, subject: SheetSubject, work: Sheet['work']): readonly Routine[] =>
  estate
    .all('routine')
    .filter(({ of, work: ofWork }) => of === routineOf[subject] && ofWork === work)
    .sort((a, b) => (a.id < b.id ? -1 : 1))

/** A routine step as a step of a sheet, open. */
export const stepOfRoutine = (
  { id, title, after }: Routine,
  { sheetId, personId, at }: { readonly sheetId: string; readonly personId: string; readonly at: string },
): NewRecord<'step'> => ({ sheetId, step: `own-${id}`, title, after, state: 'open', attempts: 0, personId, at })
