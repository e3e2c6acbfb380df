import { adaptersOf, disksOf, type Estate, type Guest } from '../estate/index.js'
import { markdownCell as cell, markdownCode, markdownLine, markdownQuote, markdownTable as table } from '../formats/index.js'
import { installSheet, printSpecLine, specOf, waitsOf } from '../guests/index.js'
import { counted, formatBytes, formatMiB } from '../units/index.js'

/**
 * A guest's plan on a page, as Markdown: what it is, its devices and addresses, what it waits for, and the steps of its
 * install with a box each.
 *
 * @see CommonMark 0.31; tables and boxes as GitHub Flavored Markdown has them
 */
export function guestMarkdown(estate: Estate, guest: Guest): string {
  const name = (kind: 'host' | 'system' | 'store' | 'image', id: string | null) => estate.find(kind, id)?.name ?? 'none'
  const adapters = adaptersOf(estate, guest.id)
  const waits = waitsOf(estate, guest)
  const parts = [
    `# ${cell(guest.name)}`,
    markdownCode(printSpecLine(specOf(estate, guest))),
    ...(guest.note === '' ? [] : [markdownQuote(guest.note)]),
    table(
      ['', ''],
      [
        ['State', guest.kind === 'machine' ? guest.state : guest.kind],
        ['Host', name('host', guest.hostId)],
        ['Purpose', guest.purpose ?? 'not recorded'],
        ['System', name('system', guest.systemId)],
        ['Processors', `${guest.vcpu} vCPU in ${counted(guest.sockets, 'socket')}, ${guest.latency}, mode ${guest.processorMode}`],
        ['Memory', `${formatMiB(guest.memoryMiB)}${guest.memoryMinMiB ? `, at least ${formatMiB(guest.memoryMinMiB)}` : ''}`],
        [
          'Firmware and board',
          `${guest.firmware}${guest.secureBoot ? ', secure boot' : ''}${guest.trustedModule ? ', trusted module' : ''}, ${guest.machineType}`,
        ],
        ['Install medium', name('image', guest.mediumId)],
        ['Boots first from', guest.bootFirst],
        ['Backed up to', name('store', guest.backupStoreId)],
        ['Group', guest.group ?? 'none'],
        ['Tags', guest.tags.join(' ') || 'none'],
      ],
    ),
    '## Disks',
    table(
      ['#', 'use', 'size', 'kind', 'bus', 'cache', 'store'],
      disksOf(estate, guest.id).map(({ position, use, sizeBytes, provisioning, bus, cache, storeId }) => [
        String(position),
        use,
        formatBytes(sizeBytes),
        provisioning,
        bus,
        cache,
        name('store', storeId),
      ]),
    ),
    '## Adapters',
    table(
      ['#', 'network', 'model', 'MAC', 'addresses'],
      adapters.map(({ id, position, networkId, model, mac }) => [
        String(position),
        estate.find('network', networkId)?.name ?? 'not plugged in',
        model,
        mac ?? 'unknown',
        estate
          .referring('address', 'adapterId', id)
          .map(({ ip, kind }) => `${ip} (${kind})`)
          .join(', '),
      ]),
    ),
    ...(waits.length > 0
      ? [
          '## Starts after',
          waits.map(({ guest: other, seconds, why }) => `- ${markdownLine(other.name)} and ${seconds} s: ${cell(why)}`).join('\n'),
        ]
      : []),
    '## Install',
    installSheet(estate, guest)
      .steps.map(({ title, lines, caution, gap, record }) =>
        [
          `- [${record?.state === 'done' ? 'x' : ' '}] **${cell(title)}**${record && record.state !== 'done' ? ` (${record.state}: ${cell(record.note)})` : ''}`,
          ...lines.map((line) => `  - ${markdownLine(line)}`),
          ...(caution && !record ? [`  - **Caution.** ${cell(caution)}`] : []),
          ...(gap && !record ? [`  - Note: ${cell(gap)}`] : []),
        ].join('\n'),
      )
      .join('\n'),
  ]
  return `${parts.join('\n\n')}\n`
}
