import type { Estate, Sheet, sheetSubjects, Step } from '../estate/index.js'
import { readNumber } from '../units/index.js'
import { groupBy, median } from '../lists/index.js'

/** What a sheet is of. */
export type SheetSubject = (typeof sheetSubjects)[number]

/** What a step offers besides being ticked. */
export type StepTool =
  | 'materials'
  | 'image'
  | 'stick'
  | 'wipe'
  | 'management'
  | 'fingerprint'
  | 'trial'
  | 'guest image'
  | 'devices'
  | 'attach'
  | 'eject'
  | 'state'
  | 'first-boot text'
  | 'template stop'
  | 'template patched'
  | 'template installed'
  | 'template parts'
  | 'template mark'

/** One step of a sheet, derived from the record of a host or guest. */
export interface SheetStep {
  /** Stable word; what became of the step is kept under it. */
  readonly key: string
  readonly title: string
  /** What to do, one line each, with the recorded values. */
  readonly lines: readonly string[]
  /** A danger to people or data: shown in full, never folded. */
  readonly caution?: string
  /** What the record still lacks for this step, or the usual mistake here. */
  readonly gap?: string
  /** What completing it claims and the record does not have: noted with it, where it is done all the same. */
  readonly unrecorded?: string
  readonly tool?: StepTool
  /** How long it is thought to take, minutes, and where that is from. */
  readonly estimate: { readonly minutes: number; readonly from: string }
  /** What became of it; undefined while it is open. */
  readonly record: Step | undefined
  /** What became of it before it was opened again, or who added it. */
  readonly reopened: Step | undefined
  /** Whether a person added it to this sheet. */
  readonly isAdded: boolean
}
/** A step as the record gives it, before anybody worked on it. */
export type PlannedStep = Omit<SheetStep, 'estimate' | 'record' | 'reopened' | 'isAdded'>

/** A sheet with its steps and how far it is. */
export interface WorkSheet {
  readonly steps: readonly SheetStep[]
  readonly settled: number
  /** Minutes that the steps settled so far took. */
  readonly spentMinutes: number
  /** Minutes that the open ones are thought to take. */
  readonly leftMinutes: number
}

/**
 * The minutes that somebody says a step took.
 *
 * @returns minutes; null for nothing and for 0, which is no measurement; or a sentence
 * @example readMinutes('12,5') // { ok: true, minutes: 12.5 }
 */
export function readMinutes(
  text: string,
): { readonly ok: true; readonly minutes: number | null } | { readonly ok: false; readonly sentence: string } {
  if (text.trim() === '') return { ok: true, minutes: null }
  const reading = readNumber(text.trim())
  if (!reading.ok) return { ok: false, sentence: `${reading.sentence} Write minutes, such as 15, or leave the field empty.` }
  return { ok: true, minutes: reading.value > 0 ? reading.value : null }
}

/**
 * The sheet of a thing that is worked on, or the last one.
 *
 * @param work what is done by it: setting up, unless something else is asked for
 */
export function sheetOf(estate: Estate, of: SheetSubject, id: string, work: Sheet['work'] = 'set-up'): Sheet | undefined {
  const sheets = estate
    .referring('sheet', of, id)
    .filter((sheet) => sheet.work === work)
    .sort((a, b) => (a.startedAt < b.startedAt ? 1 : -1))
  return sheets.find(({ finishedAt }) => finishedAt === null) ?? sheets[0]
}

/**
 * A sheet put together: each planned step with what became of it and how long it is thought to take, which is the median of
 * what it took on other sheets of the same kind, or the usual time.
 *
 * @param usualMinutes minutes a step takes where none was measured yet, by its key
 * @param kindOfWork what is done by it, for a sheet that is not begun yet
 * @param workedOut minutes of steps of which it is known otherwise, whatever they took on other sheets
 */
export function workSheet(
  estate: Estate,
  sheet: Sheet | undefined,
  of: SheetSubject,
  planned: readonly PlannedStep[],
  usualMinutes: Readonly<Record<string, number>>,
  kindOfWork: Sheet['work'] = sheet?.work ?? 'set-up',
  workedOut: ReadonlyMap<string, SheetStep['estimate']> = new Map(),
): WorkSheet {
  const own = sheet ? estate.referring('step', 'sheetId', sheet.id) : []
  const records = new Map(own.map((step) => [step.step, step]))
  const work = kindOfWork === 'set-up' ? (of === 'hostId' ? 'build' : 'install') : kindOfWork === 'other' ? 'sheet' : kindOfWork
  const measured = sheetTimes(estate, of, kindOfWork, sheet?.id)
  const estimateOf = (key: string): SheetStep['estimate'] => {
    const known = workedOut.get(key)
    if (known) return known
    const usual = measured.get(key)
    return usual !== undefined
      ? {
          minutes: Math.round(usual.minutes),
          from: usual.count === 1 ? `one earlier ${work}` : `median of ${usual.count} earlier ${work}s`,
        }
      : {
          minutes: usualMinutes[key] ?? 10,
          from: key in usualMinutes ? 'basis: common practice, not measured here yet' : 'basis: an estimate, not measured here yet',
        }
  }
  const stepOf = (step: PlannedStep, isAdded: boolean): SheetStep => {
    const record = records.get(step.key)
    const isOpen = record?.state === 'open'
    return {
      ...step,
      estimate: estimateOf(step.key),
      record: isOpen ? undefined : record,
      reopened: isOpen ? record : undefined,
      isAdded,
    }
  }
  const steps = withAdded(
    planned.map((step) => stepOf(step, false)),
    own,
    (step) => stepOf({ key: step.step, title: step.title ?? step.step, lines: [] }, true),
  )
  const open = steps.filter(({ record }) => !record)
  return {
    steps,
    settled: steps.length - open.length,
    spentMinutes: steps.reduce((sum, { record }) => sum + (record?.minutes ?? 0), 0),
    leftMinutes: open.reduce((sum, { estimate }) => sum + estimate.minutes, 0),
  }
}

/**
 * How long each step took on sheets of a kind, by its key: the median, and of how many.
 *
 * @param leaveOut the sheet that is looked at, whose own times say nothing of it
 */
export function sheetTimes(
  estate: Estate,
  of: SheetSubject,
  kindOfWork: Sheet['work'],
  leaveOut?: string,
): ReadonlyMap<string, { readonly minutes: number; readonly count: number }> {
  const others = new Set(
    estate.all('sheet').flatMap((one) => (one[of] !== null && one.work === kindOfWork && one.id !== leaveOut ? [one.id] : [])),
  )
  // Settled within the minute, or ticked off afterwards: 0 says nothing of how long it takes.
  const measured = groupBy(
    estate.all('step').filter(({ sheetId, state, minutes }) => state === 'done' && (minutes ?? 0) > 0 && others.has(sheetId)),
    ({ step }) => step,
  )
  return new Map(
    [...measured].map(([key, steps]) => [
      key,
      { minutes: median(steps.flatMap(({ minutes }) => minutes ?? [])) ?? 0, count: steps.length },
    ]),
  )
}

/** The planned steps with those that people added, each behind the step it comes after. */
function withAdded(planned: readonly SheetStep[], own: readonly Step[], made: (step: Step) => SheetStep): readonly SheetStep[] {
  const keys = new Set(planned.map(({ key }) => key))
  const added = own.filter(({ step, title }) => title !== null && !keys.has(step)).sort((a, b) => (a.id < b.id ? -1 : 1))
  const placed = new Set<string>()
  const after = (key: string): readonly SheetStep[] =>
    added
      .filter((step) => step.after === key && !placed.has(step.id))
      .flatMap((step) => {
        placed.add(step.id)
        return [made(step), ...after(step.step)]
      })
  const steps = planned.flatMap((step) => [step, ...after(step.key)])
  return [...steps, ...added.filter(({ id }) => !placed.has(id)).map(made)]
}
