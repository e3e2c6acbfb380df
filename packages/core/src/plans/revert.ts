import { applyWork, type Applied, type CommandContext } from '../commands/index.js'
import { CommandError, invert, type Difference, type Estate, type Item, type Kind } from '../estate/index.js'
import { followItems, replan } from './replan.js'

const isOfPlans = (kind: Kind) => kind === 'plan' || kind === 'item'

/** What an item did to everything but plans, the other way round. @param change the change that carried it out */
export function backOf({ added, updated, removed }: Difference): Difference {
  const others = <T extends { readonly kind: Kind }>(entries: Readonly<Record<string, T>>) =>
    Object.fromEntries(Object.entries(entries).filter(([, { kind }]) => !isOfPlans(kind)))
  return invert({ added: others(added), updated: others(updated), removed: others(removed) })
}

/** The item, which was carried out. @throws CommandError `not-found`, `wrong-state` */
export function requireDone(estate: Estate, itemId: string): Item & { readonly doneRevision: number } {
  const item = estate.find('item', itemId)
  if (!item) throw new CommandError('not-found', `There is no item with the id ${itemId}; somebody may have removed it.`, 'itemId')
  const { doneRevision } = item
  if (item.state !== 'done')
    throw new CommandError('wrong-state', `“${item.title}” is ${item.state}; only what was carried out can be reverted.`, 'itemId')
  if (doneRevision === null)
    throw new CommandError(
      'wrong-state',
      `“${item.title}” was carried out before this estate was read from a file: the log does not have its change.`,
      'itemId',
    )
  return { ...item, doneRevision }
}

/**
 * Takes back what an item did, as far as nothing later depends on it; the item is reverted then.
 *
 * @param change the change that carried it out
 * @throws CommandError
 */
export function revertItem(estate: Estate, itemId: string, change: Difference, context: CommandContext): Applied {
  const { planId } = requireDone(estate, itemId)
  return applyWork(
    estate,
    context,
    () => 'itemId',
    (edit) => {
      replan(edit, planId, () => {
        edit.take(backOf(change))
        edit.update('item', itemId, { state: 'reverted', doneById: context.personId ?? null, doneAt: context.now }, '')
      })
      followItems(edit, planId)
    },
  )
}

/** The items of a plan that were carried out, the last first: the order in which they are reverted. */
export const doneItems = (estate: Estate, planId: string): readonly Item[] =>
  estate
    .referring('item', 'planId', planId)
    .filter(({ state, doneRevision }) => state === 'done' && doneRevision !== null)
    .sort((a, b) => (b.doneRevision ?? 0) - (a.doneRevision ?? 0))
