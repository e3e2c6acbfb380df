import { derivedId } from '../estate/index.js'
import { fullNameOf, type BootAdapter, type FirstBoot } from './first-boot.js'
import { shellValue, shellWord } from './quoting.js'

/** A file that is put on the machine by hand. */
export interface BootFile {
  /** Where it goes. */
  readonly path: string
  readonly text: string
}

const isSix = (ip: string) => ip.includes(':')
const ipOf = (address: string) => address.split('/')[0] ?? ''
const lengthOf = (address: string) => Number(address.split('/')[1])
const lines = (list: readonly (string | false | undefined)[]) =>
  `${list.filter((line) => line !== false && line !== undefined).join('\n')}\n`

/** Files of systemd.network(5), one for each adapter. */
export const networkdFiles = ({ adapters }: FirstBoot): readonly BootFile[] =>
  adapters.map((adapter) => ({
    path: `/etc/systemd/network/10-${adapter.label}.network`,
    text: lines([
      '[Match]',
      `PermanentMACAddress=${adapter.mac}`,
      '',
      ...(adapter.mtu ? ['[Link]', `MTUBytes=${adapter.mtu}`, ''] : []),
      '[Network]',
      adapter.isDhcp && 'DHCP=ipv4',
      'LinkLocalAddressing=ipv6',
      ...adapter.addresses.map((address) => `Address=${address}`),
      ...adapter.nameServers.map((server) => `DNS=${server}`),
      adapter.searchDomains.length > 0 && `Domains=${adapter.searchDomains.join(' ')}`,
      ...adapter.gateways.flatMap((gateway) => [
        '',
        '[Route]',
        `Destination=${isSix(gateway) ? '::/0' : '0.0.0.0/0'}`,
        `Gateway=${gateway}`,
      ]),
    ]),
  }))

/** Keyfiles of NetworkManager, one for each adapter: nm-settings-keyfile(5), from memory. */
export const keyfiles = ({ instanceId, adapters }: FirstBoot): readonly BootFile[] =>
  adapters.map((adapter) => {
    const family = (six: boolean) => {
      const addresses = adapter.addresses.filter((address) => isSix(address) === six)
      const gateway = adapter.gateways.find((one) => isSix(one) === six)
      const servers = adapter.nameServers.filter((one) => isSix(one) === six)
      return [
        six ? '[ipv6]' : '[ipv4]',
        `method=${addresses.length > 0 ? 'manual' : six || !adapter.isDhcp ? (six ? 'auto' : 'disabled') : 'auto'}`,
        ...addresses.map((address, index) => `address${index + 1}=${address}${index === 0 && gateway ? `,${gateway}` : ''}`),
        servers.length > 0 && `dns=${servers.map((server) => `${server};`).join('')}`,
        adapter.searchDomains.length > 0 && `dns-search=${adapter.searchDomains.map((domain) => `${domain};`).join('')}`,
      ]
    }
    return {
      path: `/etc/NetworkManager/system-connections/${adapter.label}.nmconnection`,
      text: lines([
        '[connection]',
        `id=${adapter.label}`,
        `uuid=${derivedId(instanceIdOf(instanceId), adapter.label)}`,
        'type=ethernet',
        'autoconnect=true',
        '',
        '[ethernet]',
        `mac-address=${adapter.mac.toUpperCase()}`,
        adapter.mtu !== undefined && `mtu=${adapter.mtu}`,
        '',
        ...family(false),
        '',
        ...family(true),
      ]),
    }
  })

/** The guest's id in an instance id. */
const instanceIdOf = (instanceId: string) => instanceId.slice(0, 36)

/** A file for ifupdown, which finds the device by its MAC: interfaces(5), patterns, from memory. */
export const interfacesFile = ({ adapters }: FirstBoot): BootFile => ({
  path: '/etc/network/interfaces',
  text: lines([
    'auto lo',
    'iface lo inet loopback',
    ...adapters.flatMap((adapter) => [
      '',
      `auto /mac/${adapter.mac}=${adapter.label}`,
      ...(adapter.isDhcp ? [`iface ${adapter.label} inet dhcp`, mtuLine(adapter)] : []),
      ...adapter.addresses.flatMap((address) => stanza(adapter, address)),
    ]),
  ]),
})

const mtuLine = ({ mtu }: BootAdapter) => mtu !== undefined && `    mtu ${mtu}`

function stanza(adapter: BootAdapter, address: string): readonly (string | false)[] {
  const isFirst = adapter.addresses.find((one) => isSix(one) === isSix(address)) === address
  const gateway = adapter.gateways.find((one) => isSix(one) === isSix(address))
  return [
    `iface ${adapter.label} ${isSix(address) ? 'inet6' : 'inet'} static`,
    `    address ${address}`,
    isFirst && gateway !== undefined && `    gateway ${gateway}`,
    isFirst && adapter.nameServers.length > 0 && `    dns-nameservers ${adapter.nameServers.join(' ')}`,
    isFirst && adapter.searchDomains.length > 0 && `    dns-search ${adapter.searchDomains.join(' ')}`,
    isFirst && mtuLine(adapter),
  ]
}

/** Files of the ifcfg form, one for each adapter; from memory. */
export const ifcfgFiles = ({ adapters }: FirstBoot): readonly BootFile[] =>
  adapters.map((adapter) => {
    const four = adapter.addresses.filter((address) => !isSix(address))
    const six = adapter.addresses.filter(isSix)
    const gateway = (wanted: boolean) => adapter.gateways.find((one) => isSix(one) === wanted)
    const set = (name: string, value: string | number | undefined) => value !== undefined && `${name}=${shellValue(String(value))}`
    const numbered = (index: number) => (index === 0 ? '' : String(index))
    return {
      path: `/etc/sysconfig/network-scripts/ifcfg-${adapter.label}`,
      text: lines([
        set('NAME', adapter.label),
        set('TYPE', 'Ethernet'),
        set('HWADDR', adapter.mac.toUpperCase()),
        set('ONBOOT', 'yes'),
        set('BOOTPROTO', adapter.isDhcp ? 'dhcp' : 'none'),
        ...four.flatMap((address, index) => [
          set(`IPADDR${numbered(index)}`, ipOf(address)),
          set(`PREFIX${numbered(index)}`, lengthOf(address)),
        ]),
        set('GATEWAY', gateway(false)),
        ...(six.length > 0 ? [set('IPV6INIT', 'yes'), set('IPV6ADDR', six[0]), set('IPV6_DEFAULTGW', gateway(true))] : []),
        six.length > 1 && set('IPV6ADDR_SECONDARIES', six.slice(1).join(' ')),
        ...adapter.nameServers.map((server, index) => set(`DNS${index + 1}`, server)),
        adapter.searchDomains.length > 0 && set('DOMAIN', adapter.searchDomains.join(' ')),
        set('MTU', adapter.mtu),
      ]),
    }
  })

/** Commands that give a running machine its name, its time zone, and an identity of its own: hostnamectl(1), machine-id(5). */
export const identityCommands = (boot: FirstBoot): string =>
  lines([
    `hostnamectl set-hostname ${shellWord(fullNameOf(boot))}`,
    `timedatectl set-timezone ${shellWord(boot.timeZone)}`,
    '# A machine-id and host keys of its own, where they came with the copy:',
    'rm -f /etc/machine-id /var/lib/dbus/machine-id',
    'systemd-machine-id-setup',
    'rm -f /etc/ssh/ssh_host_*',
    'ssh-keygen -A',
  ])
