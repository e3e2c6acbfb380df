import { spawnSync } from 'node:child_process'
import { existsSync, rmSync, writeFileSync } from 'node:fs'
import { postgresPrograms } from '../workbench/cluster.js'
import { Refusal } from '../workbench/refusal.js'

/** A package of Debian's that Insel needs, and how to see that it is there. */
interface DebianPackage {
  readonly name: string
  readonly isPresent: () => boolean
}

const has = (program: string) => spawnSync('sh', ['-c', `command -v ${program}`]).status === 0
/** Chromium without what draws on a screen: it needs two thirds of the time of the whole. */
export const CHROMIUM = '/usr/bin/chromium-headless-shell'

export const postgresql: DebianPackage = { name: 'postgresql', isPresent: () => postgresPrograms() !== undefined }
export const chromium: DebianPackage = { name: 'chromium-headless-shell', isPresent: () => existsSync(CHROMIUM) }
/** Its standard library is the reference for address arithmetic in the tests. */
export const python: DebianPackage = { name: 'python3', isPresent: () => has('python3') }

/** Tools whose real output the tests read on the machine they run on, and what the collector sends with. */
export const machineTools: readonly DebianPackage[] = [
  { name: 'util-linux', isPresent: () => has('lscpu') && has('lsblk') },
  { name: 'iproute2', isPresent: () => has('ip') },
  { name: 'procps', isPresent: () => has('free') },
  { name: 'curl', isPresent: () => has('curl') },
]

/** The kernel's own networking, with which the tests hold what the model says, and BIND's judge of zone files. */
export const networkTools: readonly DebianPackage[] = [
  { name: 'nftables', isPresent: () => has('nft') },
  { name: 'iputils-ping', isPresent: () => has('ping') },
  { name: 'bind9-utils', isPresent: () => has('named-checkzone') },
]

/** The IEEE's registry of MAC prefixes; where it is not there, the prefixes go without their organisations. */
export const macRegistry: DebianPackage = { name: 'ieee-data', isPresent: () => existsSync('/usr/share/ieee-data/oui.csv') }

/** Makes the images of first-boot files; where it is not there, they come as an archive. */
export const imageMaker: DebianPackage = { name: 'xorriso', isPresent: () => has('xorriso') }

/** What reads the first-boot files on a machine: the tests give them to it. */
export const firstBootTools: readonly DebianPackage[] = [
  { name: 'cloud-init', isPresent: () => has('cloud-init') },
  { name: 'netplan.io', isPresent: () => existsSync('/usr/sbin/netplan') },
  { name: 'debconf', isPresent: () => has('debconf-set-selections') },
]

/** What copies and says how far it is: the tests read their real lines. */
export const transferTools: readonly DebianPackage[] = [
  { name: 'pv', isPresent: () => has('pv') },
  { name: 'rsync', isPresent: () => has('rsync') },
]

/** DHCP servers that judge the reservations written for them, and what reads a file of machines to reach. */
export const dhcpServers: readonly DebianPackage[] = [
  { name: 'dnsmasq-base', isPresent: () => has('dnsmasq') },
  { name: 'kea-dhcp4-server', isPresent: () => has('kea-dhcp4') },
  { name: 'openssh-client', isPresent: () => has('ssh') },
]

/** The open dataset of operating systems; where it is not there, the generic profiles remain. */
export const systemsDataset: DebianPackage = { name: 'osinfo-db', isPresent: () => existsSync('/usr/share/osinfo/VERSION') }

/** Installs what is missing and may be: without it Insel runs, with less to offer, and says so. */
export function offerPackages(packages: readonly DebianPackage[]): void {
  try {
    ensurePackages(packages)
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    const names = packages.filter((wanted) => !wanted.isPresent()).map(({ name }) => name)
    process.stdout.write(`insel: goes on without ${names.join(' and ')}. ${error.message}\n`)
  }
}

/** Installing a server must not start one: Insel runs its own. Debian's way to say so. */
const POLICY = '/usr/sbin/policy-rc.d'

/**
 * Installs what is missing.
 *
 * @throws Refusal with the exact command where Insel may not install
 */
export function ensurePackages(packages: readonly DebianPackage[]): void {
  const missing = packages.filter((wanted) => !wanted.isPresent()).map((wanted) => wanted.name)
  if (missing.length === 0) return
  const command = `apt-get update && apt-get install -y --no-install-recommends ${missing.join(' ')}`
  if (process.getuid?.() !== 0 || !has('apt-get'))
    throw new Refusal(`${missing.join(' and ')} ${missing.length > 1 ? 'are' : 'is'} missing. Install with:\n\n  sudo sh -c '${command}'\n`)
  process.stdout.write(`insel: installing ${missing.join(', ')} (apt-get) ...\n`)
  const ownsPolicy = !existsSync(POLICY)
  if (ownsPolicy) writeFileSync(POLICY, '#!/bin/sh\nexit 101\n', { mode: 0o755 })
  try {
    const done = spawnSync('sh', ['-c', command], {
      encoding: 'utf8',
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
      maxBuffer: 1 << 26,
    })
    if (done.status !== 0) throw new Refusal(`apt-get failed:\n${done.stdout.slice(-2000)}${done.stderr.slice(-2000)}`)
  } finally {
    if (ownsPolicy) rmSync(POLICY, { force: true })
  }
}
