import type { Command, IdMaker } from '../commands/index.js'
import { Estate, type Difference, type Host } from '../estate/index.js'
import { alikeDrives, alikeModules, alikePorts, type Alike } from './several-alike.js'

/** What a host has in it, each as several alike. */
export interface HostParts {
  readonly modules: readonly string[]
  readonly drives: readonly string[]
  readonly ports: readonly string[]
}

const parts = {
  modules: { kind: 'module', read: alikeModules },
  drives: { kind: 'drive', read: alikeDrives },
  ports: { kind: 'port', read: alikePorts },
} as const
const PARTS = ['modules', 'drives', 'ports'] as const

const NOBODY = { id: '00000000-0000-4000-8000-000000000000', memorySlots: null } as Host

/** What several alike would be in a host without anything in it, or a sentence on what cannot be read. */
export const readAlone = (part: keyof HostParts, text: string): Alike =>
  parts[part].read(Estate.empty, NOBODY, text, { newId: () => NOBODY.id })

/**
 * The commands that put into a new host what its line says, each in the places that those before it leave free.
 *
 * @param host the new host: nothing is in it yet, so that no other record matters
 * @returns only the parts; what cannot be read adds nothing
 */
export function partsOfNewHost(host: Pick<Host, 'id' | 'memorySlots'>, texts: HostParts, ids: IdMaker): readonly Command[] {
  const commands: Command[] = []
  // What is in it so far, for the places that are taken.
  let inside = Estate.empty
  for (const part of PARTS)
    for (const text of texts[part]) {
      const alike = parts[part].read(inside, host as Host, text, ids)
      if ('sentence' in alike) continue
      commands.push(...alike.commands)
      const added = Object.fromEntries(
        (alike.commands as readonly { readonly record: { readonly id: string } }[]).map(({ record }) => [
          record.id,
          { kind: parts[part].kind, record },
        ]),
      )
      inside = inside.with({ added, updated: {}, removed: {} } as unknown as Difference)
    }
  return commands
}
