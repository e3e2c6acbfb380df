import { isBeingCopied } from '../../clones/index.js'
import { defineRule } from '../rule.js'

/** A running guest that nothing backs up. Common practice, no source. */
export const noBackup = defineRule({
  id: 'guest.no-backup',
  title: 'No backup recorded',
  appliesTo: 'guest',
  reads: ['< copy.guestId'],
  check(estate, guest) {
    if (guest.kind !== 'machine' || guest.state !== 'running' || guest.backupStoreId) return []
    // A step of its sheet asks for it.
    if (isBeingCopied(estate, guest)) return []
    return [
      {
        severity: 'notice',
        sentence: `${guest.name} is running and no backup store is recorded for it.`,
        evidence: [{ label: 'backed up to', value: 'nothing' }],
        remedy: 'Record the store that holds its backups, on another host.',
      },
    ]
  },
})
