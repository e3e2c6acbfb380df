import type { Command, FieldProblem } from '@insel/core'
import { plainToInstance } from 'class-transformer'
import { validateSync, type ValidationError } from 'class-validator'
import { commandClasses } from './command-classes.js'
import type { FieldsClass } from './follows-field.js'

/** The most commands one request may carry, with those that its commands hold for later: items of plans, copies of a batch. */
export const COMMANDS_MAX = 2000

/** A request's problems, each at its path: `commands.0.record.memoryMiB`. */
export function flattenErrors(errors: readonly ValidationError[], path: string): FieldProblem[] {
  return errors.flatMap((error) => {
    const at = path ? `${path}.${error.property}` : error.property
    const own = Object.entries(error.constraints ?? {}).map(([constraint, message]): FieldProblem =>
      constraint === 'whitelistValidation'
        ? { path: at, code: 'unknown-field', message: `There is no field “${error.property}” here.` }
        : { path: at, code: 'invalid', message },
    )
    // Two rules of one field may say the same.
    const said = new Map(own.map((problem) => [problem.message, problem]))
    return [...said.values(), ...flattenErrors(error.children ?? [], at)]
  })
}

/**
 * Validates a plain value against a class: unknown fields are problems.
 *
 * @returns every problem with its path; empty when the value is right
 */
export function problemsIn(target: FieldsClass, value: object, path = ''): FieldProblem[] {
  return flattenErrors(
    validateSync(plainToInstance(target, value), { whitelist: true, forbidNonWhitelisted: true, forbidUnknownValues: true }),
    path,
  )
}

const isObject = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value)

/**
 * Reads the commands of a request.
 *
 * @param value what stood under `commands`
 * @returns the commands, or every problem with its path
 */
export function readCommands(value: unknown): { commands: readonly Command[] } | { problems: readonly FieldProblem[] } {
  const problem = (path: string, message: string): FieldProblem => ({ path, code: 'invalid', message })
  if (!Array.isArray(value)) return { problems: [problem('commands', 'commands is a list of commands, each with its type.')] }
  if (value.length === 0) return { problems: [problem('commands', 'The list of commands is empty.')] }
  if (value.length > COMMANDS_MAX)
    return { problems: [problem('commands', `A request takes at most ${COMMANDS_MAX} commands; these are ${value.length}.`)] }
  if (countHeld(value) > COMMANDS_MAX)
    return {
      problems: [problem('commands', `With what they hold for later, a request takes at most ${COMMANDS_MAX} commands. Send several.`)],
    }
  const problems = value.flatMap((command: unknown, index): FieldProblem[] => {
    const path = `commands.${index}`
    if (!isObject(command)) return [problem(path, 'A command is an object with a type.')]
    const target = typeof command['type'] === 'string' ? commandClasses.get(command['type']) : undefined
    if (!target) return [{ path: `${path}.type`, code: 'unknown-command', message: `Unknown command “${String(command['type'] ?? '')}”.` }]
    return problemsIn(target, command, path)
  })
  return problems.length > 0 ? { problems } : { commands: value as Command[] }
}

/** Commands, and those within them: whatever is in a list and says its type. */
const countHeld = (commands: readonly unknown[]): number =>
  commands.reduce<number>(
    (sum, command) =>
      isObject(command) && 'type' in command
        ? sum + 1 + Object.values(command).reduce<number>((inner, field) => inner + (Array.isArray(field) ? countHeld(field) : 0), 0)
        : sum,
    0,
  )
