import type { Command } from '@insel/core'
import { execFileSync, spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { parse } from 'yaml'
import { skerrySound } from '../../../../workbench/demo/skerry-sound.js'
import { startServer, type TestServer } from '../testing/test-server.js'

let server: TestServer
let folder: string
beforeAll(async () => {
  server = await startServer()
  for (const { commands } of skerrySound(server.estateId, server.personId)) await server.send(commands)
  // A name that YAML 1.1 reads as false, and an address of the newer family alone.
  await server.send([
    {
      type: 'guest.add',
      record: { name: 'no', hostId: await idOf('hosts', 'gannet'), state: 'running', vcpu: 1, memoryMiB: 512, tags: ['on-air'] },
    },
  ])
  folder = mkdtempSync(join(tmpdir(), 'insel-tools-'))
})
afterAll(async () => {
  await server.stop()
  rmSync(folder, { recursive: true })
})
const get = async (path: string) => (await server.get(`/exports/${path}`).expect(200)).text
const idOf = async (list: string, name: string) =>
  ((await server.get(`/${list}?name=${name}`)).body as { items: { id: string }[] }).items[0]?.id ?? ''
const fileOf = async (path: string, name: string) => {
  const file = join(folder, name)
  writeFileSync(file, await get(path))
  return file
}
const has = (program: string) => spawnSync('sh', ['-c', `command -v ${program}`]).status === 0

describe('machines for the tools around', () => {
  // OpenSSH is the judge: `ssh -G` prints what it makes of a file.
  it('ssh finds each by its name and its full name', async () => {
    const file = await fileOf('ssh_config', 'ssh_config')
    for (const name of ['gannet', 'gannet.skerry.example'])
      expect(execFileSync('ssh', ['-F', file, '-G', name], { encoding: 'utf8' })).toContain('hostname 10.61.10.11\n')
  })

  // Groups as Ansible’s own reader has them, where it is installed; as YAML 1.1 everywhere.
  it('an inventory has each machine once, in groups by kind, site, role, group and tag', async () => {
    const file = await fileOf('inventory.yaml', 'inventory.yaml')
    type Group = { hosts?: Record<string, { ansible_host?: string }>; children?: Record<string, Group> }
    const { all } = parse(await get('inventory.yaml'), { version: '1.1' }) as { all: Group }
    expect(all.hosts?.['gannet']).toEqual({ ansible_host: '10.61.10.11' })
    expect(Object.keys(all.hosts ?? {})).toContain('no')
    expect(Object.keys(all.children ?? {})).toEqual(expect.arrayContaining(['hosts', 'guests', 'site_studio', 'tag_on_air']))
    expect(Object.keys(all.children?.['tag_on_air']?.hosts ?? {})).toContain('no')
    expect(Object.keys(all.children?.['site_studio']?.hosts ?? {})).toEqual(expect.arrayContaining(['gannet', 'no']))
    if (!has('ansible-inventory')) return
    const said = JSON.parse(
      execFileSync('ansible-inventory', ['-i', file, '--list'], {
        encoding: 'utf8',
        env: { ...process.env, HOME: folder, LC_ALL: 'C.UTF-8' },
      }),
    ) as Record<string, { hosts?: string[] }> & { _meta: { hostvars: Record<string, unknown> } }
    expect(said['tag_on_air']?.hosts).toContain('no')
    expect(said._meta.hostvars['gannet']).toEqual({ ansible_host: '10.61.10.11' })
  })

  it('targets are JSON lists of addresses with labels, at the port that is asked for', async () => {
    const targets = JSON.parse(await get('targets.json?port=9200')) as { targets: string[]; labels: Record<string, string> }[]
    const gannet = targets.find(({ labels }) => labels['machine'] === 'gannet')
    expect(gannet).toMatchObject({ targets: ['10.61.10.11:9200'], labels: { kind: 'host', site: 'studio' } })
    // A label’s name is letters, digits and underscores, and its value a text: Prometheus documentation, data model.
    for (const { labels } of targets)
      for (const [name, value] of Object.entries(labels)) expect([/^[a-z_]\w*$/.test(name), typeof value]).toEqual([true, 'string'])
    expect((await server.get('/exports/targets.json?port=0')).status).toBe(400)
  })

  it('ethers lines are a MAC and an address or name each', async () => {
    const lines = (await get('ethers')).trim().split('\n').slice(1)
    expect(lines.length).toBeGreaterThan(10)
    // ethers(5): the address, whitespace, the host name or the IP number.
    expect(lines.filter((line) => !/^(?:[0-9a-f]{2}:){5}[0-9a-f]{2} [\w.-]+$/.test(line))).toEqual([])
  })
})

describe('which machines', () => {
  const names = async (query: string) =>
    (JSON.parse(await get(`targets.json?${query}`)) as { labels: { machine: string; kind: string } }[]).map(({ labels }) => labels)

  it('are those in service, filtered like any list', async () => {
    const all = await names('')
    expect(new Set(all.map(({ kind }) => kind))).toEqual(new Set(['host', 'guest']))
    expect((await names('of=hosts')).every(({ kind }) => kind === 'host')).toBe(true)
    expect((await names('q=gannet')).map(({ machine }) => machine)).toContain('gannet')
    // A field that only guests have leaves the hosts out.
    const running = await names('state=running')
    expect(running.length > 0 && running.every(({ kind }) => kind === 'guest')).toBe(true)
    for (const field of ['colour', 'constructor', 'toString', '__proto__']) {
      expect((await server.get(`/exports/ssh_config?${field}=red`)).status).toBe(400)
      expect((await server.get(`/guests?${field}=red`)).status).toBe(400)
    }
    expect((await server.get('/exports/ssh_config?of=switches')).status).toBe(400)
  })

  it('are told apart by an ETag, which another change leaves as it is', async () => {
    const first = await server.get('/exports/ssh_config').expect(200)
    const tag = String(first.headers['etag'])
    const again = () => server.get('/exports/ssh_config').set('if-none-match', tag)
    await again().expect(304)
    await server.send([{ type: 'network.add', record: { name: 'etag-lab' } }] as Command[])
    await again().expect(304)
    await server.send([{ type: 'host.update', id: await idOf('hosts', 'gannet'), changes: { state: 'retired' } }] as Command[])
    expect((await again().expect(200)).text).not.toContain('Host gannet')
  })
})

describe('reservations for a server', () => {
  // Both servers check what they are given: dnsmasq(8) `--test`, kea-dhcp4(8) `-t`, as Debian ships them.
  it('are lines that dnsmasq takes', async () => {
    const file = await fileOf('dhcp/dnsmasq.conf', 'dnsmasq.conf')
    expect((await get('dhcp/dnsmasq.conf')).match(/^dhcp-host=/gm)?.length).toBeGreaterThan(0)
    const said = spawnSync('dnsmasq', ['--test', `--conf-file=${file}`], { encoding: 'utf8' })
    expect([said.status, said.stderr]).toEqual([0, expect.stringContaining('syntax check OK')])
  })

  it('are subnets that Kea takes, with their ranges', async () => {
    const file = await fileOf('dhcp/kea.json', 'kea.json')
    const { Dhcp4 } = JSON.parse(await get('dhcp/kea.json')) as {
      Dhcp4: { subnet4: { id: number; reservations: object[]; pools?: object[] }[] }
    }
    expect(Dhcp4.subnet4.some(({ pools }) => pools !== undefined)).toBe(true)
    expect(new Set(Dhcp4.subnet4.map(({ id }) => id)).size).toBe(Dhcp4.subnet4.length)
    const said = spawnSync('kea-dhcp4', ['-t', file], {
      encoding: 'utf8',
      env: { ...process.env, KEA_LOCKFILE_DIR: 'none', KEA_PIDFILE_DIR: folder },
    })
    expect([said.status, said.stdout + said.stderr]).toEqual([0, expect.not.stringMatching(/ERROR/)])
  })
})
