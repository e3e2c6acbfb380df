import { getMetadataStorage } from 'class-validator'

type Storage = ReturnType<typeof getMetadataStorage>
type RulesOf = Storage['getTargetValidationMetadatas']
type Rules = ReturnType<RulesOf>

/**
 * Lets class-validator keep what it finds out about a class. For each object that it validates it goes through all classes that it
 * knows, looking for those that the object's class extends, and here every command and every kind has a class of its own. What it
 * finds stays the same once a class is made, since no rule here is of a group.
 *
 * @param storage where class-validator keeps its rules
 */
export function keepRules(storage: Storage = getMetadataStorage()): void {
  const search: RulesOf = storage.getTargetValidationMetadatas.bind(storage)
  const known = new WeakMap<object, Rules>()
  storage.getTargetValidationMetadatas = (target, schema, always, strictGroups, groups) => {
    if (groups?.length) return search(target, schema, always, strictGroups, groups)
    let rules = known.get(target)
    if (!rules) {
      rules = search(target, schema, always, strictGroups, groups)
      known.set(target, rules)
    }
    return rules
  }
}
