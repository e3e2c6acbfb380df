/** What is wrong with one field: where, a stable code, and a sentence. */
export interface FieldProblem {
  readonly path: string
  readonly code: string
  readonly message: string
}

/** What is used already, as a sentence begins with it, and by which record. */
export interface Taken {
  readonly what: string
  readonly by: string
}

export type CommandErrorCode =
  | 'invalid'
  | 'unknown-command'
  | 'not-found'
  | 'referred-to'
  | 'dangling-reference'
  | 'not-unique'
  | 'id-taken'
  | 'no-free-address'
  | 'wrong-state'
  | 'not-allowed'
  | 'changed-since'

/** A path made of others; one that is empty leaves nothing behind. */
export const joinPath = (...parts: readonly string[]): string => parts.filter(Boolean).join('.')

/** A command the core refuses: a code to act on, a sentence to show, and the path of the field it concerns. */
export class CommandError extends Error {
  override readonly name = 'CommandError'
  readonly code: CommandErrorCode
  readonly problems: readonly FieldProblem[]
  /** Of `not-unique`: what is taken, and by which record. */
  readonly taken: Taken | undefined

  constructor(code: CommandErrorCode, sentence: string, problems: readonly FieldProblem[] | string = [], taken?: Taken) {
    super(sentence)
    this.code = code
    this.taken = taken
    this.problems = typeof problems === 'string' ? [{ path: problems, code, message: sentence }] : problems
  }

  static invalid(problems: readonly FieldProblem[]): CommandError {
    return new CommandError('invalid', problems.map((p) => p.message).join(' '), problems)
  }

  /** The same error, its paths put under another. */
  under(prefix: string): CommandError {
    return new CommandError(
      this.code,
      this.message,
      this.problems.map((p) => ({ ...p, path: joinPath(prefix, p.path) })),
      this.taken,
    )
  }
}
