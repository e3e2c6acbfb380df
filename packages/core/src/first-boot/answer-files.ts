import { fullNameOf, TO_BE_FILLED_IN, type FirstBoot } from './first-boot.js'
import { oneLine, shellValue } from './quoting.js'
import type { BootFile } from './network-files.js'

/** Said in every answer file: an unattended install asks nothing before it wipes. */
const CAUTION = 'An unattended install wipes the first disk without asking. Try it on an empty machine first.'

const netmaskOf = (length: number): string =>
  Array.from({ length: 4 }, (_, index) => 256 - 2 ** (8 - Math.max(0, Math.min(8, length - index * 8)))).join('.')

const fourOf = (boot: FirstBoot) => {
  const [adapter] = boot.adapters
  const address = adapter?.addresses.find((one) => !one.includes(':'))
  const [ip, length] = address?.split('/') ?? []
  return {
    adapter,
    ip,
    netmask: netmaskOf(Number(length ?? 24)),
    gateway: adapter?.gateways.find((one) => !one.includes(':')),
    servers: adapter?.nameServers.filter((one) => !one.includes(':')) ?? [],
  }
}

/** An answer file for Debian’s installer: `debconf-set-selections` reads it. */
export function preseedFile(boot: FirstBoot): BootFile {
  const { ip, netmask, gateway, servers } = fourOf(boot)
  const answer = (question: string, type: string, value: string) => `d-i ${question} ${type} ${oneLine(value)}`
  const text = [
    `# ${CAUTION}`,
    ...(boot.locale ? [answer('debian-installer/locale', 'string', `${boot.locale}.UTF-8`)] : []),
    ...(boot.keyboard ? [answer('keyboard-configuration/xkb-keymap', 'select', boot.keyboard)] : []),
    answer('netcfg/choose_interface', 'select', 'auto'),
    answer('netcfg/get_hostname', 'string', boot.hostName),
    answer('netcfg/hostname', 'string', boot.hostName),
    ...(boot.domain ? [answer('netcfg/get_domain', 'string', boot.domain)] : []),
    ...(ip
      ? [
          answer('netcfg/disable_autoconfig', 'boolean', 'true'),
          answer('netcfg/get_ipaddress', 'string', ip),
          answer('netcfg/get_netmask', 'string', netmask),
          ...(gateway ? [answer('netcfg/get_gateway', 'string', gateway)] : []),
          ...(servers.length > 0 ? [answer('netcfg/get_nameservers', 'string', servers.join(' '))] : []),
          answer('netcfg/confirm_static', 'boolean', 'true'),
        ]
      : []),
    answer('clock-setup/utc', 'boolean', 'true'),
    answer('time/zone', 'string', boot.timeZone),
    answer('passwd/root-login', 'boolean', 'false'),
    answer('passwd/user-fullname', 'string', 'Administrator'),
    answer('passwd/username', 'string', 'admin'),
    answer('passwd/user-password-crypted', 'password', TO_BE_FILLED_IN),
    answer('partman-auto/method', 'string', 'regular'),
    answer('partman-auto/choose_recipe', 'select', 'atomic'),
    '# The disk to install on, and the answer to “write the changes to disks?”, are left to you.',
    'tasksel tasksel/first multiselect standard, ssh-server',
    ...(boot.packages.length > 0 ? [answer('pkgsel/include', 'string', boot.packages.join(' '))] : []),
    answer('finish-install/reboot_in_progress', 'note', ''),
  ]
  return { path: 'preseed.cfg', text: `${text.map((line) => line.trimEnd()).join('\n')}\n` }
}

/** An answer file of the kickstart form: its published grammar, from memory; Debian has no checker for it. */
export function kickstartFile(boot: FirstBoot): BootFile {
  const { adapter, ip, netmask, gateway, servers } = fourOf(boot)
  const network = [
    'network',
    ...(adapter ? [`--device=${adapter.mac}`] : []),
    '--onboot=yes',
    ...(ip
      ? [
          '--bootproto=static',
          `--ip=${ip}`,
          `--netmask=${netmask}`,
          ...(gateway ? [`--gateway=${gateway}`] : []),
          ...(servers.length > 0 ? [`--nameserver=${servers.join(',')}`] : ['--nodns']),
        ]
      : ['--bootproto=dhcp']),
    `--hostname=${fullNameOf(boot)}`,
  ]
  const text = [
    `# ${CAUTION}`,
    'text',
    `lang ${boot.locale ?? 'en_GB'}.UTF-8`,
    ...(boot.keyboard ? [`keyboard --xlayouts=${shellValue(boot.keyboard)}`] : []),
    network.map(oneLine).join(' '),
    `timezone ${oneLine(boot.timeZone)} --utc`,
    'rootpw --lock',
    `user --name=admin --groups=wheel --iscrypted --password=${TO_BE_FILLED_IN}`,
    '# Which disk to clear and to install on is left to you: clearpart, autopart.',
    'reboot --eject',
    '',
    '%packages',
    '@^minimal-environment',
    'openssh-server',
    ...boot.packages.map(oneLine),
    '%end',
  ]
  return { path: 'kickstart.cfg', text: `${text.join('\n')}\n` }
}
