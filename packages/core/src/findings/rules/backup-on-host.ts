import { serverWith, sharedFailure } from '../../hosts/index.js'
import { defineRule } from '../rule.js'

/** A guest whose backups are in the host it runs on, or served from there: one failure takes both. Common practice, no source. */
export const backupOnHost = defineRule({
  id: 'guest.backup-on-its-host',
  title: 'Backup on the host it protects',
  appliesTo: 'guest',
  reads: ['> backupStoreId'],
  again: {
    guest: (estate, server) =>
      estate.referring('host', 'outerGuestId', server.id).length > 0
        ? 'all'
        : estate
            .referring('store', 'servedById', server.id)
            .flatMap(({ id }) => estate.referring('guest', 'backupStoreId', id).map((guest) => guest.id)),
    host: (_, host) => (host.outerGuestId ? 'all' : []),
  },
  check(estate, guest) {
    const store = estate.find('store', guest.backupStoreId)
    const host = estate.find('host', guest.hostId)
    if (!store || !host) return []
    const shared = sharedFailure(estate, host, store)
    if (!shared) return []
    const server = serverWith(estate, store, shared)
    return [
      {
        severity: 'warning',
        sentence: !server
          ? `${guest.name} runs on ${shared.name}, and its backup store ${store.name} is in the same host.`
          : server === guest
            ? `${guest.name} keeps its backups on ${store.name}, which it serves itself.`
            : `${guest.name} and ${server.name}, which serves its backup store ${store.name}, both run on ${shared.name}.`,
        evidence: [
          { label: 'host', value: shared.name },
          { label: 'backup store', value: store.name },
        ],
        concerns: [shared.id, store.id, ...(server && server !== guest ? [server.id] : [])],
        remedy: 'Keep its backups on another host, and one copy in another place.',
      },
    ]
  },
})
