import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { parse } from 'yaml'
import { applyAll } from '../commands/index.js'
import { idOf, smallEstate, testContext } from '../testing/index.js'
import { bootForms, firstBootOf, fullNameOf, TO_BE_FILLED_IN, type BootFile, type FirstBoot } from './index.js'

let folder: string
beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'insel-first-boot-'))))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const estate = applyAll(
  smallEstate(),
  [
    { type: 'subnet.update', id: idOf('officeNet'), changes: { nameServers: '10.61.30.7 10.61.30.8' } },
    {
      type: 'guest.update',
      id: idOf('news'),
      changes: { locale: 'en_GB, keyboard gb', packages: 'nginx, openssh-server, and what Ola says' },
    },
    { type: 'address.assign', id: '01890000-0000-7000-8000-0000000000b1', adapterId: idOf('newsAdapter'), ip: '10.61.30.150' },
  ],
  testContext(),
).estate
const guest = (name: string) => {
  const found = estate.find('guest', idOf(name))
  if (!found) throw new Error(name)
  return found
}
const boot = firstBootOf(estate, guest('news'))
const filesOf = (id: string, of = boot): readonly BootFile[] => bootForms(of).find((form) => form.id === id)?.files ?? []
const textOf = (id: string, of = boot, at = 0): string => filesOf(id, of)[at]?.text ?? ''
/** A tool's answer; what it is not there for fails the test, since the set-up installs it. */
function run(program: string, args: readonly string[], input?: string) {
  const { status, stdout, stderr, error } = spawnSync(program, args, { encoding: 'utf8', ...(input === undefined ? {} : { input }) })
  if (error) throw error
  return { status, said: `${stdout}${stderr}` }
}

/** Sections of a file in the form of systemd.syntax(7): each with its lines. */
const sections = (text: string): Readonly<Record<string, readonly string[]>> => {
  const found: Record<string, string[]> = {}
  let at = ''
  for (const line of text
    .split('\n')
    .map((one) => one.trim())
    .filter((one) => one && !one.startsWith('#'))) {
    if (line.startsWith('[')) at = `${line}${Object.keys(found).filter((name) => name.startsWith(line)).length || ''}`
    else (found[at] ??= []).push(line)
  }
  return found
}

/** What netplan writes for systemd-networkd of a file in its language. */
function netplan(yaml: string): readonly string[] {
  const root = mkdtempSync(join(folder, 'netplan-'))
  mkdirSync(join(root, 'etc/netplan'), { recursive: true })
  writeFileSync(join(root, 'etc/netplan/60-insel.yaml'), yaml, { mode: 0o600 })
  const { status, said } = run('/usr/sbin/netplan', ['generate', '--root-dir', root])
  if (status !== 0) throw new Error(said)
  const out = join(root, 'run/systemd/network')
  return readdirSync(out)
    .filter((name) => name.endsWith('.network'))
    .sort()
    .map((name) => readFileSync(join(out, name), 'utf8'))
}

/** Texts that something between record and machine could trip over: quotes, colons, umlauts, and what YAML 1.1 takes for other things. */
const traps = fc.oneof(
  fc.constantFrom(
    'no',
    'yes',
    'on',
    '1e3',
    '0123',
    '0x1F',
    '12:30:45',
    'null',
    '~',
    '.inf',
    '- a',
    '# b',
    "it's",
    '"q"',
    'Größe: groß',
    'a: b',
    '{x}',
    '%y',
    '@z',
    '`w`',
    '$HOME',
    'a\\b',
    '&c',
    '*d',
    '!e',
    '|',
    '>',
    '=',
    '<<',
  ),
  fc.string({ unit: 'grapheme', minLength: 1, maxLength: 30 }).filter((text) => text.trim() === text && !/\p{C}|\p{Z}/u.test(text)),
)

describe('what a machine is told', () => {
  it('is its name, its fixed address with the way out, and what to install', () => {
    expect(boot).toMatchObject({
      hostName: 'newsroom',
      domain: 'skerry.example',
      locale: 'en_GB',
      keyboard: 'gb',
      packages: ['nginx', 'openssh-server'],
    })
    expect(fullNameOf(boot)).toBe('newsroom.skerry.example')
    expect(boot.adapters).toEqual([
      {
        label: 'lan1',
        mac: '02:1a:4b:00:00:02',
        addresses: ['10.61.30.150/24'],
        isDhcp: false,
        gateways: ['10.61.30.1'],
        nameServers: ['10.61.30.7', '10.61.30.8'],
        searchDomains: ['skerry.example'],
        mtu: undefined,
      },
    ])
    expect(boot.gaps).toEqual([])
  })

  it('says what the record lacks', () => {
    const bare = applyAll(
      estate,
      [
        { type: 'address.release', addressId: '01890000-0000-7000-8000-0000000000b1' },
        { type: 'adapter.add', record: { guestId: idOf('news'), position: 2, mac: null } },
        { type: 'adapter.add', record: { guestId: idOf('news'), position: 3, mac: '02:1a:4b:00:00:09' } },
      ],
      testContext(3),
    ).estate
    const told = firstBootOf(bare, guest('news'))
    expect(told.gaps.join(' ')).toMatch(/no planned address.*no recorded MAC.*into no network/)
    expect(told.adapters.map(({ isDhcp, gateways }) => [isDhcp, gateways])).toEqual([[true, []]])
  })

  it('has another instance id once its identity is another, so that a copy runs its first boot', () => {
    const own = applyAll(estate, [{ type: 'guest.identity', guestId: idOf('news'), identity: 'its own' }], testContext(3)).estate
    const found = own.find('guest', idOf('news'))
    expect(found && firstBootOf(own, found).instanceId).not.toBe(boot.instanceId)
  })

  it('has no secret in it, and a marked place for one', () => {
    for (const id of ['preseed', 'kickstart']) expect(textOf(id)).toContain(TO_BE_FILLED_IN)
    expect(textOf('seed', boot, 1)).toContain(TO_BE_FILLED_IN)
  })
})

describe('held against the tools that read it', () => {
  // cloud-init 22.4 of Debian: its own schema of user-data.
  it('cloud-init accepts the user-data', () => {
    const file = join(folder, 'user-data')
    writeFileSync(file, textOf('seed', boot, 1))
    expect(run('cloud-init', ['schema', '--config-file', file]).said).toMatch(/Valid (cloud-config|schema)/i)
  }, 60_000)

  // netplan.io 0.106 of Debian.
  it('netplan makes of its file, and of version 2 indented under “network:”, what our systemd.network says', () => {
    const ours = sections(textOf('networkd'))
    const indented = `network:\n${textOf('seed', boot, 2).replaceAll(/^/gm, '  ')}`
    for (const yaml of [textOf('netplan'), indented]) {
      const [made] = netplan(yaml)
      const theirs = sections(made ?? '')
      expect(theirs['[Match]']).toEqual(ours['[Match]'])
      for (const line of ours['[Network]'] ?? []) expect(theirs['[Network]']).toContain(line)
      expect(theirs['[Route]']).toEqual(ours['[Route]'])
    }
  })

  // debconf of Debian.
  it('debconf takes the answers for Debian’s installer', () => {
    const { status, said } = run('debconf-set-selections', ['--checkonly'], textOf('preseed'))
    expect([status, said]).toEqual([0, ''])
    expect(run('debconf-set-selections', ['--checkonly'], 'd-i only-two').status === 0).toBe(false)
  })

  it('a shell reads ifcfg and the commands as they are meant', () => {
    const { said } = run('sh', ['-c', `${textOf('ifcfg')}\nprintf '%s|' "$HWADDR" "$IPADDR" "$PREFIX" "$GATEWAY" "$DNS2" "$ONBOOT"`])
    expect(said).toBe('02:1A:4B:00:00:02|10.61.30.150|24|10.61.30.1|10.61.30.8|yes|')
    expect(run('sh', ['-n'], textOf('commands')).status).toBe(0)
  })

  it('interfaces(5), keyfile and kickstart read back as they were meant', () => {
    const stanza = textOf('interfaces')
      .split('\n')
      .filter((line) => line.startsWith('    '))
      .map((line) => line.trim())
    expect(stanza).toEqual([
      'address 10.61.30.150/24',
      'gateway 10.61.30.1',
      'dns-nameservers 10.61.30.7 10.61.30.8',
      'dns-search skerry.example',
    ])
    expect(textOf('interfaces')).toContain('auto /mac/02:1a:4b:00:00:02=lan1\n')
    const keyfile = sections(textOf('keyfile'))
    expect(keyfile['[ethernet]']).toEqual(['mac-address=02:1A:4B:00:00:02'])
    expect(keyfile['[ipv4]']).toEqual([
      'method=manual',
      'address1=10.61.30.150/24,10.61.30.1',
      'dns=10.61.30.7;10.61.30.8;',
      'dns-search=skerry.example;',
    ])
    expect(keyfile['[connection]']?.[1]).toMatch(/^uuid=[0-9a-f-]{36}$/)
    const network = textOf('kickstart')
      .split('\n')
      .find((line) => line.startsWith('network '))
    expect(network).toBe(
      'network --device=02:1a:4b:00:00:02 --onboot=yes --bootproto=static --ip=10.61.30.150 --netmask=255.255.255.0 --gateway=10.61.30.1 --nameserver=10.61.30.7,10.61.30.8 --hostname=newsroom.skerry.example',
    )
  })
})

describe('hostile names and values', () => {
  const with_ = (text: string): FirstBoot => ({ ...boot, hostName: text, domain: undefined, timeZone: text, packages: [text] })

  it('survive in YAML, in this version and the one before', () =>
    fc.assert(
      fc.property(traps, (text) => {
        for (const version of ['1.1', '1.2'] as const) {
          expect(parse(textOf('seed', with_(text), 0), { version })).toMatchObject({ 'local-hostname': text })
          const user = parse(textOf('seed', with_(text), 1), { version }) as { packages: string[]; hostname: string; timezone: string }
          expect([user.hostname, user.timezone, user.packages]).toEqual([text, text, [text]])
        }
      }),
    ))

  it('survive a YAML reader that is not ours (Python’s, as cloud-init uses it)', () => {
    const texts = fc.sample(traps, { numRuns: 60, seed: 7 })
    const file = join(folder, 'all.yaml')
    writeFileSync(file, texts.map((text) => textOf('seed', with_(text), 0)).join('---\n'))
    const { said } = run('python3', [
      '-c',
      `import yaml,json;print(json.dumps([d['local-hostname'] for d in yaml.safe_load_all(open(${JSON.stringify(file)}, encoding='utf8'))]))`,
    ])
    expect(JSON.parse(said)).toEqual(texts)
  })

  it('survive a shell', () => {
    const texts = fc.sample(traps, { numRuns: 100, seed: 8 })
    const script = texts
      .map((text) => textOf('commands', with_(text)).split('\n')[0]?.replace('hostnamectl set-hostname', "printf '%s\\n'"))
      .join('\n')
    expect(run('sh', [], script).said.trimEnd().split('\n')).toEqual(texts)
  })

  it('never add a line to a file of lines', () =>
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom('\n', '\r', '\u0085', '\u2028', '\0', 'a', '"', ' ', '%end') }), (text) => {
        for (const id of ['preseed', 'kickstart', 'commands'])
          expect(textOf(id, with_(text)).split(/[\n\r\u0085\u2028]/).length).toBe(textOf(id, with_('a')).split('\n').length)
      }),
    ))

  it('IPv6, several addresses and a large MTU are told in every form, and netplan agrees', () => {
    const six: FirstBoot = {
      ...boot,
      adapters: [
        {
          label: 'lan1',
          mac: '02:1a:4b:00:00:02',
          addresses: ['10.61.30.150/24', '10.61.30.151/24', 'fd00:61::5/64'],
          isDhcp: false,
          gateways: ['10.61.30.1', 'fd00:61::1'],
          nameServers: ['fd00:61::7'],
          searchDomains: [],
          mtu: 9000,
        },
        {
          label: 'lan2',
          mac: '02:1a:4b:00:00:03',
          addresses: [],
          isDhcp: true,
          gateways: [],
          nameServers: [],
          searchDomains: [],
          mtu: undefined,
        },
      ],
    }
    const made = netplan(textOf('netplan', six)).map(sections)
    const ours = filesOf('networkd', six).map(({ text }) => sections(text))
    for (const [index, one] of ours.entries())
      for (const [name, lines] of Object.entries(one)) for (const line of lines) expect(made[index]?.[name]).toContain(line)
    expect(textOf('interfaces', six)).toMatch(/inet6 static\n {4}address fd00:61::5\/64\n {4}gateway fd00:61::1/)
    expect(textOf('ifcfg', six)).toMatch(/IPADDR1="10\.61\.30\.151"[\s\S]*IPV6_DEFAULTGW="fd00:61::1"[\s\S]*MTU="9000"/)
    expect(filesOf('keyfile', six)).toHaveLength(2)
  })
})
