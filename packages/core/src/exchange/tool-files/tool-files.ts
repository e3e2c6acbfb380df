import { groupBy } from '../../lists/index.js'
import { familyOf } from '../../networks/index.js'
import { yamlText } from '../../first-boot/index.js'
import type { ToolMachine } from './machines.js'

const WRITTEN = '# Written by Insel.'

/**
 * Machines as a file that `ssh` includes: each by its name and its full name, at its address. One without an address is left out.
 *
 * @see ssh_config(5), OpenBSD manual pages
 * @example sshConfig(machines) // 'Host gannet gannet.skerry.example\n  HostName 10.61.10.11\n…'
 */
export const sshConfig = (machines: readonly ToolMachine[]): string =>
  [
    WRITTEN,
    ...machines.flatMap(({ name, fullName, ip }) =>
      ip === undefined ? [] : [`Host ${[...new Set([name, fullName])].join(' ')}`, `  HostName ${ip}`],
    ),
    '',
  ].join('\n')

/**
 * The name of a group of an inventory: letters, digits and underscores, what it groups by first, so that none is a machine’s.
 *
 * @example groupName('tag', 'on-air') // 'tag_on_air'
 */
const groupName = (by: string, of: string): string => `${by}_${of.toLowerCase().replace(/[^a-z0-9]+/g, '_')}`

const groupsOf = ({ kind, site, group, purpose, tags }: ToolMachine): readonly string[] => [
  `${kind}s`,
  ...(site ? [groupName('site', site)] : []),
  ...(group ? [groupName('group', group)] : []),
  ...(purpose ? [groupName('role', purpose)] : []),
  ...tags.map((tag) => groupName('tag', tag)),
]

/**
 * Machines as an inventory in YAML: each once, at its address, in groups by what it is, its site, its group, its role and its tags.
 *
 * @see Ansible documentation, “How to build your inventory”
 */
export function ansibleInventory(machines: readonly ToolMachine[]): string {
  // A host and a guest may share a name; here each machine has its own.
  const hosts = new Set(machines.flatMap(({ kind, name }) => (kind === 'host' ? [name.toLowerCase()] : [])))
  const keyOf = ({ kind, name }: ToolMachine) => (kind === 'guest' && hosts.has(name.toLowerCase()) ? `${name}.guest` : name)
  const inGroups = groupBy(
    machines.flatMap((machine) => groupsOf(machine).map((group) => ({ group, name: keyOf(machine) }))),
    ({ group }) => group,
  )
  const children = [...inGroups].toSorted(([a], [b]) => (a < b ? -1 : 1))
  const inventory = {
    all: {
      hosts: Object.fromEntries(machines.map((machine) => [keyOf(machine), machine.ip === undefined ? {} : { ansible_host: machine.ip }])),
      children: Object.fromEntries(
        children.map(([group, members]) => [group, { hosts: Object.fromEntries(members.map(({ name }) => [name, {}])) }]),
      ),
    },
  }
  return `${WRITTEN}\n${yamlText(inventory, 'QUOTE_DOUBLE')}`
}

/**
 * Machines as targets that Prometheus discovers in a file: one each, with what it is as labels. One without an address is left out.
 *
 * @param port at which each answers
 * @see Prometheus documentation, `file_sd_config`
 */
export const prometheusTargets = (machines: readonly ToolMachine[], port: number): string =>
  `${JSON.stringify(
    machines.flatMap(({ name, kind, site, group, purpose, tags, ip }) =>
      ip === undefined
        ? []
        : [
            {
              targets: [`${familyOf(ip) === 6 ? `[${ip}]` : ip}:${port}`],
              labels: {
                machine: name,
                kind,
                ...(site ? { site } : {}),
                ...(group ? { group } : {}),
                ...(purpose ? { role: purpose } : {}),
                // With a comma at both ends, so that one is asked for as .*,web,.*
                ...(tags.length > 0 ? { tags: `,${tags.join(',')},` } : {}),
              },
            },
          ],
    ),
    null,
    2,
  )}\n`

/**
 * The MACs of machines as lines of `/etc/ethers`: each with its IPv4 address, or with the name where it has none.
 *
 * @see ethers(5) of the Linux manual pages
 */
export const ethersLines = (machines: readonly ToolMachine[]): string =>
  [
    WRITTEN,
    ...machines.flatMap(({ name, macs }) =>
      macs.map(({ mac, ip }, at) => `${mac} ${ip !== undefined && familyOf(ip) === 4 ? ip : at === 0 ? name : `${name}-${at + 1}`}`),
    ),
    '',
  ].join('\n')
