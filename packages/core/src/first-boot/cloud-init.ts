import { fullNameOf, TO_BE_FILLED_IN, type BootAdapter, type FirstBoot } from './first-boot.js'
import { oneLine, yamlText } from './quoting.js'

/** The label of the volume in which a machine looks for its first-boot files: cloud-init's documentation of NoCloud, from memory. */
export const SEED_VOLUME = 'cidata'

/** `meta-data` of NoCloud: a new instance id makes a copy run its first boot. */
export const metaData = ({ instanceId, hostName }: FirstBoot): string => yamlText({ 'instance-id': instanceId, 'local-hostname': hostName })

/** `user-data` of NoCloud. No secret goes in: the marked place is for the hash of a password, or is taken out for a key. */
export function userData(boot: FirstBoot): string {
  const { hostName, timeZone, locale, keyboard, packages } = boot
  return `#cloud-config\n${yamlText({
    hostname: hostName,
    fqdn: fullNameOf(boot),
    preserve_hostname: false,
    manage_etc_hosts: true,
    timezone: timeZone,
    ...(locale ? { locale: `${oneLine(locale)}.UTF-8` } : {}),
    ...(keyboard ? { keyboard: { layout: keyboard } } : {}),
    // Keys of remote login that came with the copy are somebody else's.
    ssh_deletekeys: true,
    disable_root: true,
    users: [
      {
        name: 'admin',
        gecos: 'Administrator',
        groups: 'sudo',
        shell: '/bin/bash',
        lock_passwd: false,
        passwd: TO_BE_FILLED_IN,
      },
    ],
    package_update: true,
    ...(packages.length > 0 ? { packages } : {}),
  })}`
}

/** The network in version 2, netplan's language: cloud-init's `network-config` as it is, netplan's file under `network`. */
function networkVersion2(adapters: readonly BootAdapter[]) {
  return {
    version: 2,
    ethernets: Object.fromEntries(
      adapters.map((adapter) => {
        const { label, mac, addresses, isDhcp, gateways, nameServers, searchDomains, mtu } = adapter
        return [
          label,
          {
            match: { macaddress: mac },
            dhcp4: isDhcp,
            ...(addresses.length > 0 ? { addresses } : {}),
            ...(gateways.length > 0 ? { routes: gateways.map((via) => ({ to: via.includes(':') ? '::/0' : '0.0.0.0/0', via })) } : {}),
            ...(nameServers.length + searchDomains.length > 0
              ? {
                  nameservers: {
                    ...(nameServers.length > 0 ? { addresses: nameServers } : {}),
                    ...(searchDomains.length > 0 ? { search: searchDomains } : {}),
                  },
                }
              : {}),
            ...(mtu ? { mtu } : {}),
          },
        ]
      }),
    ),
  }
}

/** `network-config` of NoCloud, version 2. */
export const networkConfig = ({ adapters }: FirstBoot): string => yamlText(networkVersion2(adapters))

/** A file for /etc/netplan. */
export const netplanFile = ({ adapters }: FirstBoot): string =>
  yamlText({ network: { ...networkVersion2(adapters), renderer: 'networkd' } })
