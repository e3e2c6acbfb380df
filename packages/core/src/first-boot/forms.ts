import { kickstartFile, preseedFile } from './answer-files.js'
import { metaData, netplanFile, networkConfig, SEED_VOLUME, userData } from './cloud-init.js'
import type { FirstBoot } from './first-boot.js'
import { identityCommands, ifcfgFiles, interfacesFile, keyfiles, networkdFiles, type BootFile } from './network-files.js'

/** The files of the seed volume, as cloud-init's NoCloud reads them. */
export const seedFiles = (boot: FirstBoot): readonly BootFile[] => [
  { path: 'meta-data', text: metaData(boot) },
  { path: 'user-data', text: userData(boot) },
  { path: 'network-config', text: networkConfig(boot) },
]

/** One way to tell a machine what it is. */
export interface BootForm {
  readonly id: string
  readonly title: string
  /** When it is taken. */
  readonly about: string
  readonly files: readonly BootFile[]
}

/** Every way, with its files: for machines that read them by themselves, and for those that a person sets up. */
export const bootForms = (boot: FirstBoot): readonly BootForm[] => [
  {
    id: 'seed',
    title: 'Seed volume',
    about: `For a copy with cloud-init in it: a volume labelled ${SEED_VOLUME}, attached at the first boot and detached after it.`,
    files: seedFiles(boot),
  },
  {
    id: 'netplan',
    title: 'netplan',
    about: 'A file under /etc/netplan, readable by root alone; then netplan apply.',
    files: [{ path: '/etc/netplan/60-insel.yaml', text: netplanFile(boot) }],
  },
  { id: 'networkd', title: 'systemd.network', about: 'For systemd-networkd, one file for each adapter.', files: networkdFiles(boot) },
  {
    id: 'keyfile',
    title: 'NetworkManager',
    about: 'Keyfiles, readable by root alone; then nmcli connection reload.',
    files: keyfiles(boot),
  },
  { id: 'interfaces', title: 'interfaces(5)', about: 'For ifupdown.', files: [interfacesFile(boot)] },
  { id: 'ifcfg', title: 'ifcfg', about: 'For systems with /etc/sysconfig/network-scripts.', files: ifcfgFiles(boot) },
  {
    id: 'commands',
    title: 'Commands',
    about: 'Name, time zone and identity by hand, as root, on the copy itself and not on its template.',
    files: [{ path: 'first-boot.sh', text: identityCommands(boot) }],
  },
  { id: 'preseed', title: 'Debian answers', about: 'An unattended install by Debian’s installer.', files: [preseedFile(boot)] },
  {
    id: 'kickstart',
    title: 'Kickstart',
    about: 'An unattended install by installers that read kickstart files.',
    files: [kickstartFile(boot)],
  },
]
