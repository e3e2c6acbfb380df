import { defineRule } from '../rule.js'

/** A guest whose backups lie on the host it runs on: one failure takes both. Common practice, no source. */
export const backupOnHost = defineRule({
  id: 'guest.backup-on-its-host',
  title: 'Backup on the host it protects',
  appliesTo: 'guest',
  again: { store: (estate, store) => estate.referring('guest', 'backupStoreId', store.id).map((guest) => guest.id) },
  check(estate, guest) {
    const store = estate.find('store', guest.backupStoreId)
    const host = estate.find('host', guest.hostId)
    if (!store || !host || store.hostId !== host.id) return []
    return [
      {
        severity: 'warning',
        sentence: `${guest.name} runs on ${host.name} and its backups lie on ${store.name}, in the same host.`,
        evidence: [
          { label: 'host', value: host.name },
          { label: 'backup store', value: store.name },
        ],
        remedy: 'Keep its backups on another host, and one copy in another place.',
      },
    ]
  },
})
