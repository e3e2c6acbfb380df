import { processorMs } from '../testing/processor-time.js'
import { runs } from '../testing/tier.js'
import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { cpus, totalmem } from 'node:os'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { type Host } from '../estate/index.js'
import { compareFound, keepAsFinding, takeOver } from './index.js'
import { levelOf } from '../hosts/index.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { MiB } from '../units/index.js'
import { linksOf, isWorthReading, readFound, redfishSystems } from './index.js'

const run = (program: string, ...args: string[]) => execFileSync(program, args, { encoding: 'utf8' })

// The real tools of the machine the test runs on (util-linux, iproute2, procps); /proc tells the same in another way.
describe('the output of this machine’s own tools', () => {
  const text = [
    run('lscpu', '--json'),
    run('lsblk', '--json', '--bytes', '-o', '+MODEL,SERIAL,TYPE,ROTA'),
    run('ip', '-json', 'address'),
    run('ip', '-json', 'link'),
    run('free', '-b'),
  ].join('')
  const { found, sources, unread } = readFound(text)

  it('is read to the last line', () => {
    expect(unread).toEqual([])
    expect(sources).toEqual(['lscpu --json', 'lsblk --json', 'ip -json', 'free -b'])
  })
  it('processors and flags are those of /proc/cpuinfo', () => {
    const info = readFileSync('/proc/cpuinfo', 'utf8')
    expect((found.sockets ?? 0) * (found.coresPerSocket ?? 0) * (found.threadsPerCore ?? 0)).toBe(cpus().length)
    expect(new Set(found.cpuFlags?.split(' '))).toEqual(new Set(/^flags\s*:\s*(.*)$/m.exec(info)?.[1]?.trim().split(' ')))
    expect(levelOf(found.cpuFlags ?? '').level).toBeDefined()
  })
  it('memory is what the kernel says', () => expect(found.memoryMiB).toBe(Math.floor(totalmem() / MiB)))
  it('/proc/meminfo says the same as free', () =>
    expect(readFound(readFileSync('/proc/meminfo', 'utf8')).found.memoryMiB).toBe(found.memoryMiB))
  it('drives are those the kernel lists', () => {
    for (const { name, bytes } of found.drives) expect(Number(readFileSync(`/sys/block/${name}/size`, 'utf8')) * 512).toBe(bytes)
  })
  it('loopback and made-up links are no ports', () => expect(found.ports.map(({ name }) => name)).not.toContain('lo'))
})

// The same tools as people paste them say the same as their JSON.
describe('the lines for people of this machine’s own tools', () => {
  const json = readFound([run('lscpu', '--json'), run('lsblk', '--json', '--bytes'), run('ip', '-json', 'address')].join('')).found
  const { found, sources, unread } = readFound(
    ['### lscpu\n', run('lscpu'), run('lsblk', '--bytes'), '\n', run('ip', 'address'), run('free'), 'hostname=skua\n'].join(''),
  )
  it('are read to the last line', () => {
    expect(unread).toEqual([])
    expect(sources).toEqual(['lscpu', 'lsblk', 'ip', 'free', 'host name'])
  })
  it('processors, drives, ports and addresses', () => {
    const { sockets, coresPerSocket, threadsPerCore, clockMHz, cpuFlags, processorModel } = json
    expect(found).toMatchObject({ sockets, coresPerSocket, threadsPerCore, cpuFlags, processorModel, name: 'skua' })
    expect(found.clockMHz).toBe(clockMHz)
    expect(found.drives).toEqual(json.drives)
    // Plain lines do not say which links are made up; those that were told apart by it are left out here.
    expect(found.ports.filter(({ name }) => json.ports.some((port) => port.name === name))).toEqual(json.ports)
    expect(found.addresses).toEqual(json.addresses)
  })
  it('sizes that lsblk rounds are those it counts, to a twentieth', () => {
    const rounded = readFound(run('lsblk')).found.drives
    expect(rounded.map(({ name }) => name)).toEqual(json.drives.map(({ name }) => name))
    for (const [index, { bytes }] of rounded.entries()) expect(bytes / (json.drives[index]?.bytes ?? 0)).toBeCloseTo(1, 1)
  })
  it.each([
    ['--bytes', 'free -b'],
    ['--kibi', 'free'],
    ['--mebi', 'free'],
  ])('free %s', (unit, source) => {
    const reading = readFound(run('free', unit))
    expect(reading.sources).toEqual([source])
    expect(reading.found.memoryMiB).toBe(Math.floor(totalmem() / MiB))
  })
  it('free --human rounds, and is asked back', () =>
    expect(readFound(run('free', '--human')).unread.map(({ sentence }) => sentence)).toEqual([
      'These sizes are rounded; run free -b, which counts bytes.',
    ]))
  it('128 GiB in kibibytes are not 128 MiB', () =>
    expect(
      readFound(
        '               total        used        free      shared  buff/cache   available\nMem:       131910420     5380196   122772321        8956     1692916    124145556\n',
      ).found.memoryMiB,
    ).toBe(128818))
  it('columns of lsblk by their headings, also models of several words', () =>
    expect(
      readFound(
        'NAME     SIZE MODEL              SERIAL   ROTA TYPE\nsda    447.1G Kelp 480 Pro       K-480-1     0 disk\n├─sda1   512M                                0 part\nnvme0n1  1.7T                    W-77        0 disk\n',
      ).found.drives.map(({ name, model, serial, kind }) => [name, model, serial, kind]),
    ).toEqual([
      ['sda', 'Kelp 480 Pro', 'K-480-1', 'solid state'],
      ['nvme0n1', undefined, 'W-77', 'NVMe'],
    ]))
})

// Written by hand from the SMBIOS reference, DMTF DSP0134 (types 1, 4, 16, 17): virtual build machines have no SMBIOS.
const DMI = `# dmidecode 3.4
Getting SMBIOS data from sysfs.
SMBIOS 3.2.0 present.

Handle 0x0001, DMI type 1, 27 bytes
System Information
\tManufacturer: Holm & Sons
\tProduct Name: Skua R2
\tSerial Number: HS-0042

Handle 0x0004, DMI type 4, 48 bytes
Processor Information
\tSocket Designation: CPU1
\tStatus: Populated, Enabled
\tVersion: Invented 16-core at 2.4 GHz
\tCore Count: 16
\tThread Count: 32

Handle 0x0005, DMI type 4, 48 bytes
Processor Information
\tSocket Designation: CPU2
\tStatus: Unpopulated

Handle 0x0010, DMI type 16, 23 bytes
Physical Memory Array
\tNumber Of Devices: 4

Handle 0x0011, DMI type 17, 92 bytes
Memory Device
\tSize: 16 GB
\tLocator: DIMM_A1
\tConfigured Memory Speed: 3200 MT/s

Handle 0x0012, DMI type 17, 92 bytes
Memory Device
\tSize: No Module Installed
\tLocator: DIMM_A2

Handle 0x0013, DMI type 17, 92 bytes
Memory Device
\tSize: 8192 MB
\tLocator: DIMM_B1
\tSpeed: 2933 MT/s

Handle 0x0014, DMI type 17, 92 bytes
Memory Device
\tSize: No Module Installed
`
const ETHTOOL = `Settings for eno1:
\tSupported ports: [ TP ]
\tSupported link modes:   100baseT/Full
\t                        1000baseT/Full
\t                        10000baseT/Full
\tSpeed: 1000Mb/s
\tPort: Twisted Pair
\tLink detected: yes
driver: ixgbe
version: 6.1
`
const LSHW = JSON.stringify({
  id: 'skua',
  class: 'system',
  vendor: 'Holm & Sons',
  product: 'Skua R2',
  children: [
    {
      id: 'network:0',
      class: 'network',
      logicalname: 'eno2',
      serial: '02:aa:bb:cc:dd:02',
      capacity: 10000000000,
      configuration: { driver: 'ixgbe', link: 'no' },
    },
    {
      id: 'network:1',
      class: 'network',
      logicalname: 'wlp3s0',
      serial: '02:aa:bb:cc:dd:03',
      configuration: { driver: 'iwlwifi', link: 'yes', wireless: 'IEEE 802.11' },
    },
    {
      id: 'sata',
      class: 'storage',
      configuration: { driver: 'ahci' },
      children: [{ id: 'disk', class: 'disk', logicalname: '/dev/sda', size: 480103981056, product: 'Kelp 480', serial: 'K-480-1' }],
    },
  ],
})

describe('tools this machine does not have, from samples', () => {
  it('dmidecode', () => {
    const { found, unread } = readFound(DMI)
    expect(unread).toEqual([])
    expect(found).toMatchObject({
      model: 'Holm & Sons Skua R2',
      sockets: 1,
      coresPerSocket: 16,
      threadsPerCore: 2,
      memorySlots: 4,
      modules: [
        { slot: 1, sizeMiB: 16384, speedMTs: 3200 },
        { slot: 3, sizeMiB: 8192, speedMTs: 2933 },
      ],
    })
  })
  // What dmidecode 2.x writes: a “Clock Speed”, MHz for transfers, and before 2.7 the type in a line of its own; written by hand from
  // dmidecode(8) and its change log, from memory.
  it('dmidecode 2.x', () => {
    const old = [
      '# dmidecode 2.12',
      'SMBIOS 2.7 present.',
      '74 structures occupying 3200 bytes.',
      'Table at 0x000E6CC0.',
      '',
      'Handle 0x0004, DMI type 4, 42 bytes',
      'Processor Information',
      '\tStatus: Populated, Enabled',
      '\tVersion: Invented CPU @ 2.40GHz',
      '\tCore Count: 8',
      '\tThread Count: 16',
      '',
      'Handle 0x0011, DMI type 17, 34 bytes',
      'Memory Device',
      '\tSize: 8192 MB',
      '\tSpeed: 1600 MHz',
      '\tConfigured Clock Speed: 1333 MHz',
    ].join('\n')
    const older = old
      .replace('2.12', '2.6')
      .replace(/^(Handle \w+), (DMI .*)\n(\w.*)$/gm, '$1\n\t$2.\n\t$3')
      .replace(/^\t(?=[A-Z].*: )/gm, '\t\t')
    for (const text of [old, older, old.replace(/^# .*\n/, '')]) {
      const { found, unread } = readFound(text)
      expect(unread).toEqual([])
      expect(found).toMatchObject({
        sockets: 1,
        coresPerSocket: 8,
        threadsPerCore: 2,
        clockMHz: 2400,
        modules: [{ slot: 1, sizeMiB: 8192, speedMTs: 1333 }],
      })
    }
  })
  it('df, in any of its units, with types, and with a name on a line of its own', () => {
    const rows = (unit: string, size: string, used: string, type = false) =>
      [
        `Filesystem           ${type ? 'Type     ' : ''}${unit}     Used Available Use% Mounted on`,
        `udev                 ${type ? 'devtmpfs ' : ''}3980  0  3980   0% /dev`,
        `tmpfs                ${type ? 'tmpfs    ' : ''}800  1  799   1% /run`,
        `/dev/sda2            ${type ? 'ext4     ' : ''}${size}  ${used}  100  38% /`,
        `/dev/sda2            ${type ? 'ext4     ' : ''}${size}  ${used}  100  38% /var/lib/bind mount`,
        `fd.example:/export   ${type ? 'nfs4     ' : ''}${size}  ${used}  100  38% /srv/far`,
        '/dev/mapper/a-very-long-name-of-a-volume-group',
        `                     ${type ? 'xfs      ' : ''}${size}  ${used}  100  38% /srv`,
      ].join('\n')
    const [size, used] = [20 * 1024 ** 3, 8 * 1024 ** 3]
    for (const text of [
      rows('1K-blocks', String(size / 1024), String(used / 1024)),
      rows('512-blocks', String(size / 512), String(used / 512)),
      rows('1B-blocks', String(size), String(used)),
      rows('1M-blocks', String(size / 1024 ** 2), String(used / 1024 ** 2)),
      rows('Size', '20G', '8.0G'),
      rows('Size', '20G', '8,0G', true),
    ]) {
      const { found, sources, unread } = readFound(`lsblk\n${text}`.replace('lsblk\n', ''))
      expect([sources, unread]).toEqual([['df'], []])
      expect(found.fileSystems).toEqual([
        { device: 'sda2', bytes: size, usedBytes: used },
        { device: 'a-very-long-name-of-a-volume-group', bytes: size, usedBytes: used },
      ])
    }
    const lsblk = 'NAME   MAJ:MIN RM  SIZE RO TYPE MOUNTPOINTS\nsda      8:0    0   40G  0 disk\nsdb      8:16   0   40G  0 disk\n'
    // Of two drives only the one whose partition it names is known.
    expect(readFound(`${lsblk}${rows('Size', '20G', '8G')}`).found.drives.map(({ usedBytes }) => usedBytes)).toEqual([used, undefined])
    expect(readFound(`${lsblk.replace(/sdb.*\n/, '')}${rows('Size', '20G', '8G')}`).found.drives.map(({ usedBytes }) => usedBytes)).toEqual(
      [2 * used],
    )
  })
  // df(1) of this machine, asked in bytes, against its other forms.
  it('df of this machine says the same in kibibytes and in bytes', () => {
    const inBytes = readFound(run('df', '-B1'))
    expect([inBytes.sources, inBytes.unread]).toEqual([['df'], []])
    for (const options of [['-k'], ['-P'], ['-T', '-k']]) {
      const { found, unread } = readFound(run('df', ...options))
      expect(unread).toEqual([])
      expect(found.fileSystems.map(({ device }) => device)).toEqual(inBytes.found.fileSystems.map(({ device }) => device))
      found.fileSystems.forEach(({ bytes }, index) =>
        expect(Math.abs(bytes - (inBytes.found.fileSystems[index]?.bytes ?? 0))).toBeLessThanOrEqual(1024),
      )
    }
  })
  it('lscpu: the base clock of the name, never what it calls its maximum', () => {
    const processor = (...fields: [string, string][]) =>
      readFound(JSON.stringify({ lscpu: fields.map(([field, data]) => ({ field, data })) })).found.clockMHz
    expect(processor(['Model name:', 'Invented 2000 CPU @ 2.40GHz'], ['CPU max MHz:', '3600.0000'])).toBe(2400)
    expect(processor(['Model name:', 'Invented 16-Core Processor'], ['CPU max MHz:', '3600.0000'])).toBeUndefined()
  })
  // lsblk(8): without --bytes sizes are said in powers of 1024, with one digit after the point.
  it('lsblk without --bytes, by its units', () =>
    expect(
      readFound(
        '{"blockdevices":[{"name":"sda","size":"1.8T","type":"disk"},{"name":"sdb","size":"447,1G","type":"disk"},{"name":"sdc","size":"512B","type":"disk"},{"name":"sdd","size":"much","type":"disk"}]}',
      ).found.drives.map(({ name, bytes }) => [name, bytes]),
    ).toEqual([
      ['sda', Math.round(1.8 * 2 ** 40)],
      ['sdb', Math.round(447.1 * 2 ** 30)],
      ['sdc', 512],
    ]))
  it('a MAC of zeros is none, whoever says it', () => {
    const tree = {
      redfish: {
        '/redfish/v1': { '@odata.id': '/redfish/v1', Systems: { '@odata.id': '/redfish/v1/Systems' } },
        '/redfish/v1/Systems': { Members: [{ '@odata.id': '/redfish/v1/Systems/1' }] },
        '/redfish/v1/Systems/1': {
          '@odata.id': '/redfish/v1/Systems/1',
          EthernetInterfaces: { '@odata.id': '/redfish/v1/Systems/1/EthernetInterfaces' },
        },
        '/redfish/v1/Systems/1/EthernetInterfaces': { Members: [{ '@odata.id': '/redfish/v1/Systems/1/EthernetInterfaces/1' }] },
        '/redfish/v1/Systems/1/EthernetInterfaces/1': { Id: 'NIC.1', MACAddress: '00:00:00:00:00:00' },
      },
    }
    expect(readFound(JSON.stringify(tree)).found.ports).toEqual([{ name: 'NIC.1' }])
    expect(readFound('[{"ifname":"eno5","address":"00:00:00:00:00:00"}]').found.ports).toMatchObject([{ name: 'eno5' }])
  })
  it('ethtool: what the port can do, not what it happens to run at', () =>
    expect(readFound(ETHTOOL).found.ports).toEqual([{ name: 'eno1', speedMbps: 10000, hasLink: true, isFibre: false, driver: 'ixgbe' }]))
  it('lshw, as a tree and as the list of -class', () => {
    const { found } = readFound(LSHW)
    expect(found.controllers).toEqual(['ahci'])
    expect(found.ports.map(({ name, speedMbps, hasLink, isWireless }) => [name, speedMbps, hasLink, isWireless])).toEqual([
      ['eno2', 10000, false, undefined],
      ['wlp3s0', undefined, true, true],
    ])
    expect(readFound('[{"id":"network","class":"network","logicalname":"eno5"}]').found.ports).toEqual([{ name: 'eno5' }])
  })
  it('all in one paste make one machine: a port two tools saw is one', () => {
    const { found, sources } = readFound(
      `### dmidecode\n${DMI}\n${ETHTOOL}[{"ifname":"eno1","address":"02:aa:bb:cc:dd:01","operstate":"UP","addr_info":[]}]\n${LSHW}\nfirmware=UEFI\nhostname=skua\n`,
    )
    expect(sources).toEqual(['dmidecode', 'ethtool eno1', 'ip -json', 'lshw -json', 'firmware', 'host name'])
    expect(found.ports.find(({ name }) => name === 'eno1')).toMatchObject({ mac: '02:aa:bb:cc:dd:01', driver: 'ixgbe', speedMbps: 10000 })
    expect(found).toMatchObject({ firmware: 'UEFI', name: 'skua' })
  })
})

describe('drives that several tools saw', () => {
  const drives = (...texts: string[]) => readFound(texts.join('\n')).found.drives.map(({ name, serial }) => [name, serial])
  const block = (...list: object[]) => JSON.stringify({ blockdevices: list.map((one) => ({ size: 1e12, type: 'disk', ...one })) })
  it('one without its serial is the one of the same name', () => expect(drives(block({ name: 'sda' }), LSHW)).toEqual([['sda', 'K-480-1']]))
  it('two of one name and other serials stay two', () =>
    expect(drives(block({ name: '0', serial: 'A' }), block({ name: '0', serial: 'B' }))).toEqual([
      ['0', 'A'],
      ['0', 'B'],
    ]))
})

describe('input that cannot be read', () => {
  const sentences = (text: string) => readFound(text).unread.map(({ line, sentence }) => `${line}: ${sentence}`)
  it('names the line and what was expected, and keeps the rest', () => {
    const text = `Mem: nonsense\n${run('lscpu', '--json')}hello\n`
    const { found, unread } = readFound(text)
    expect(found.sockets).toBeGreaterThan(0)
    expect(unread.map(({ line }) => line)).toEqual([1, text.split('\n').length - 1])
    expect(unread[0]?.sentence).toMatch(/^The output of lscpu, lsblk, ip, free/)
  })
  it('a JSON document that breaks off, by its line', () => {
    expect(sentences('{\n "lscpu": [\n  {"field": "x",}\n ]\n}')[0]).toMatch(/^3: This is not JSON/)
    expect(sentences('{\n "lscpu": [\n')[0]).toMatch(/^3: The JSON document that starts above does not end/)
  })
  it('another tool’s JSON', () => expect(sentences('{"hello": 1}')[0]).toMatch(/not from a known tool/))
  it('free without -b', () =>
    expect(sentences('               total        used        free\nMem:              7           1           5')[0]).toMatch(
      /Memory must be at least 64 MiB, in whichever unit; run free -b/,
    ))

  it.each([
    ['deep JSON', `${'['.repeat(5000)}${']'.repeat(5000)}`, /nests 5000 deep; at most 64/],
    ['XML', '<?xml version="1.0"?><node/>', /This is XML\. Use the tool’s JSON output/],
    ['XML entities', '<!DOCTYPE x [<!ENTITY a "b">]><x>&a;</x>', /XML with its own declarations/],
    ['control characters', 'Mem\u0000:\u001b[31m', /Line 1 holds a control character \(U\+0000\)/],
    ['too much', 'x'.repeat(5_000_001), /at most 5 MB/],
  ])('hostile: %s is refused in a sentence', (_, text, sentence) => expect(readFound(text).unread[0]?.sentence).toMatch(sentence))

  it('names that objects inherit are no values', () =>
    expect(
      readFound('{"lscpu":[{"field":"constructor","data":"x"},{"__proto__":{"field":"Model name","data":"bad"}}]}').found.processorModel,
    ).toBeUndefined())

  it('5 MB are read in reasonable time', () => {
    const devices = Array.from({ length: 30_000 }, (_, index) => ({ name: `sd${index}`, size: 1e12, type: 'disk', model: 'x'.repeat(60) }))
    const text = JSON.stringify({ blockdevices: devices }).slice(0, 4_900_000)
    expect(processorMs(() => readFound(text))).toBeLessThan(3000)
  })

  it('nothing that can be pasted makes it throw', () =>
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ unit: 'binary' }),
          fc.json(),
          fc.json({ maxDepth: 6 }).map((json) => `{"lscpu":${json}}`),
          fc.json().map((json) => `{"redfish":${json}}`),
          fc
            .tuple(
              fc.constantFrom('NAME SIZE TYPE', 'Architecture: x', '1: lo: <UP>', ' total used free'),
              fc.array(fc.string(), { maxLength: 8 }),
            )
            .map(([head, rest]) => [head, ...rest].join('\n')),
        ),
        (text) => {
          expect(() => readFound(text)).not.toThrow()
        },
      ),
      { numRuns: runs(80, 1000) },
    ))
})

// Written by hand from the Redfish specification and schemas, DMTF DSP0266 and DSP8010.
const TREE = {
  redfish: {
    '/redfish/v1': { '@odata.id': '/redfish/v1', Systems: { '@odata.id': '/redfish/v1/Systems' } },
    '/redfish/v1/Systems': { Members: [{ '@odata.id': '/redfish/v1/Systems/1' }] },
    '/redfish/v1/Systems/1': {
      '@odata.id': '/redfish/v1/Systems/1',
      HostName: 'gannet',
      Manufacturer: 'Holm & Sons',
      Model: 'Skua R2',
      Boot: { BootSourceOverrideMode: 'UEFI' },
      Memory: { '@odata.id': '/redfish/v1/Systems/1/Memory' },
      Storage: { '@odata.id': '/redfish/v1/Systems/1/Storage' },
      Links: { Chassis: [{ '@odata.id': '/redfish/v1/Chassis/1' }] },
    },
    '/redfish/v1/Systems/1/Memory': {
      Members: [{ '@odata.id': '/redfish/v1/Systems/1/Memory/1' }, { '@odata.id': '/redfish/v1/Systems/1/Memory/2' }],
    },
    '/redfish/v1/Systems/1/Memory/1': { CapacityMiB: 16384, OperatingSpeedMhz: 3200 },
    '/redfish/v1/Systems/1/Memory/2': { Status: { State: 'Absent' } },
    '/redfish/v1/Systems/1/Storage': { Members: [{ '@odata.id': '/redfish/v1/Systems/1/Storage/A/' }] },
    '/redfish/v1/Systems/1/Storage/A': { Drives: [{ '@odata.id': '/redfish/v1/Systems/1/Storage/A/Drives/0' }] },
    '/redfish/v1/Systems/1/Storage/A/Drives/0': { Id: '0', CapacityBytes: 960197124096, MediaType: 'SSD', SerialNumber: 'S-1' },
    '/redfish/v1/Chassis/1': { Power: { '@odata.id': '/redfish/v1/Chassis/1/Power' } },
    '/redfish/v1/Chassis/1/Power': { PowerControl: [{ PowerConsumedWatts: 211.6 }] },
  },
}
describe('a Redfish tree', () => {
  it('is read by following its links', () =>
    expect(readFound(JSON.stringify(TREE)).found).toMatchObject({
      name: 'gannet',
      model: 'Holm & Sons Skua R2',
      firmware: 'UEFI',
      memorySlots: 2,
      modules: [{ slot: 1, sizeMiB: 16384, speedMTs: 3200 }],
      drives: [{ name: '0', bytes: 960197124096, kind: 'solid state', serial: 'S-1' }],
      drawWatts: 212,
    }))
  it('its systems and its links', () => {
    expect(redfishSystems(TREE).map(({ name }) => name)).toEqual(['gannet'])
    expect(linksOf(TREE.redfish['/redfish/v1/Systems/1'])).toContain('/redfish/v1/Chassis/1')
    expect(isWorthReading('/redfish/v1/Systems/1/LogServices/Log1')).toBe(false)
  })
})

describe('planned against found', () => {
  const hostId = idOf('gannet')
  const start = applyAll(
    smallEstate(),
    [
      { type: 'host.update', id: hostId, changes: { memorySlots: 4 } },
      { type: 'module.add', record: { hostId, slot: 1, sizeMiB: 16384 } },
      { type: 'module.add', record: { hostId, slot: 2, sizeMiB: 16384 } },
      { type: 'drive.add', record: { hostId, position: 0, labelBytes: 480e9, serial: 'K-480-1', use: 'install' } },
      { type: 'drive.add', record: { hostId, position: 1, labelBytes: 8e12, kind: 'hard disk', serial: 'GONE' } },
      { type: 'port.add', record: { hostId, name: 'eno1', mac: '02:aa:bb:cc:dd:01', cable: 'missing' } },
    ],
    testContext(91),
  ).estate
  const { found } = readFound(
    `${DMI}\n${ETHTOOL}\n${LSHW}\n[{"ifname":"enp1s0","address":"02:aa:bb:cc:dd:01","operstate":"UP","addr_info":[]}]`,
  )
  const compare = (estate = start) => compareFound(estate, estate.find('host', hostId) as Host, found)
  const line = (about: string) => compare().find((one) => one.about === about)

  it('each field stands beside what was seen', () => {
    expect(line('cores per socket')).toMatchObject({ planned: '8', found: '16', isSame: false })
    expect(line('memory slots')?.isSame).toBe(true)
    expect(line('memory in slot 1')).toMatchObject({ planned: '16 GiB', found: '16 GiB at 3200 MT/s', isSame: false })
    expect(line('memory in slot 2')).toMatchObject({ found: 'not seen' })
    expect(line('drive in bay 0')).toMatchObject({
      planned: '480 GB, solid state, serial K-480-1',
      found: '480.1 GB, Kelp 480, serial K-480-1',
    })
    expect(line('drive in bay 1')).toMatchObject({ found: 'not seen' })
  })

  it('a port is known by its MAC, whatever the system calls it', () =>
    expect(line('port eno1')).toMatchObject({
      planned: 'eno1, 02:aa:bb:cc:dd:01, 1 Gbit/s, copper, cable missing',
      found: 'enp1s0, 02:aa:bb:cc:dd:01, cable present',
    }))

  it('what is taken over then agrees', () => {
    const before = compare()
    const chosen = before.filter(({ isSame, takeOver: commands }) => !isSame && commands.length > 0)
    expect(chosen.length).toBeGreaterThan(6)
    const after = applyAll(start, takeOver(start, start.find('host', hostId) as Host, chosen, before), testContext(92)).estate
    expect(compare(after).filter(({ isSame }) => !isSame)).toEqual([])
  })

  it('what is off is kept as a finding, once, and goes when it is taken over', () => {
    const wrong = compare().find(({ about }) => about === 'cores per socket')
    if (!wrong) throw new Error('nothing differs')
    const host = start.find('host', hostId) as Host
    const keep = (at: typeof start, seenAt: string): readonly Command[] =>
      keepAsFinding(at, { hostId: host.id }, wrong, 'collector', seenAt)
    const once = applyAll(start, keep(start, '2027-01-18T08:00:00Z'), testContext(93)).estate
    const twice = applyAll(once, keep(once, '2027-01-19T08:00:00Z'), testContext(94)).estate
    expect(twice.all('deviation').map(({ seenAt }) => seenAt)).toEqual(['2027-01-19T08:00:00.000Z'])
    const settled = applyAll(twice, takeOver(twice, host, [wrong], compare(twice)), testContext(95)).estate
    expect([settled.count('deviation'), settled.find('host', hostId)?.coresPerSocket]).toEqual([0, 16])
  })

  it('ports that changed names are taken over without standing in each other’s way', () => {
    const macs = ['02:00:00:00:00:0a', '02:00:00:00:00:0b', '02:00:00:00:00:0c']
    const names = ['eth0', 'eth1', 'eth2']
    const estate = applyAll(
      smallEstate(),
      names.map((name, index): Command => ({ type: 'port.add', record: { hostId, name, mac: macs[index] ?? null } })),
      testContext(96),
    ).estate
    const seen = readFound(JSON.stringify(names.map((ifname, index) => ({ ifname, address: macs[(index + 1) % 3], addr_info: [] })))).found
    const host = estate.find('host', hostId) as Host
    const lines = compareFound(estate, host, seen)
    expect(lines.every(({ isSame }) => !isSame)).toBe(true)
    const after = applyAll(estate, takeOver(estate, host, lines, lines), testContext(97)).estate
    expect(compareFound(after, host, seen).every(({ isSame }) => isSame)).toBe(true)
  })

  it('what no tool spoke of is not missed', () =>
    expect(compareFound(start, start.find('host', hostId) as Host, readFound('').found)).toEqual([]))
})

describe('tools in other languages', () => {
  // procps 4.0 (free) and coreutils 9.1 (df) of Debian 12 on this machine, under LC_ALL of each language; lscpu of util-linux, from memory.
  it.each([
    [
      'free, German',
      '              gesamt       benutzt     frei      gemns.  Puffer/Cache verfügbar\nSpeicher:   24684096      439272    23588296        8788      978316    24244824\nSwap:              0           0           0',
    ],
    [
      'free, French',
      '               total       utilisé      libre     partagé tamp/cache   disponible\nMem:        24684096      439156    23587600        8788      979244    24244940\nÉchange:           0           0           0',
    ],
    [
      'free, Spanish',
      '               total       usado       libre  compartido   búf/caché   disponible\nMem:        24684096      440200    23583540        8788      982144    24243896\nInter:             0           0           0',
    ],
    [
      'df, German',
      'Dateisystem             Typ      1K-Blöcke  Benutzt Verfügbar Verw% Eingehängt auf\n/dev/vda                ext4     264212084 28775904  77615008   28% /',
    ],
    [
      'df -h, German',
      'Dateisystem             Größe Benutzt Verf. Verw% Eingehängt auf\ndevtmpfs                  12G       0   12G    0% /dev',
    ],
    [
      'df, French',
      'Sys. de fichiers        Type     blocs de 1K  Utilisé Disponible Uti% Monté sur\n/dev/vda                ext4       264212084 28775904   77615008  28% /',
    ],
    [
      'df -h, French',
      'Sys. de fichiers        Taille Utilisé Dispo Uti% Monté sur\ndevtmpfs                   12G       0   12G   0% /dev',
    ],
    [
      'df, Spanish',
      'S.ficheros              Tipo     bloques de 1K   Usados Disponibles Uso% Montado en\n/dev/vda                ext4         264212084 28775908    77615004  28% /',
    ],
    [
      'df -h, Spanish',
      'S.ficheros              Tamaño Usados  Disp Uso% Montado en\ndevtmpfs                   12G      0   12G   0% /dev',
    ],
    ['df, Polish', 'System plików  Typ      1K-bl    użyte dostępne %uż. zamont. na\n/dev/vda ext4 1000 500 500 50% /'],
    ['df, Dutch', 'Bestandssysteem Type 1K-blokken Gebruikt Beschikbaar Geb% Aangekoppeld op\n/dev/vda ext4 1000 500 500 50% /'],
    [
      'free, Polish',
      '               razem       użyte       wolne    dzielone   buf/cache    dostępne\nPamięć:     24684096      457856    23626820        8788      921208    24226240',
    ],
    [
      'free, Portuguese',
      '               total       usada       livre    compart.  buff/cache  disponível\nMem.:       24684096      457624    23626356        8788      921788    24226472',
    ],
    [
      'lscpu, German',
      'Architektur:                            x86_64\n  CPU Operationsmodus:                  32-bit, 64-bit\n  Sockel:                               1',
    ],
    ['lscpu, Spanish', 'Arquitectura:                           x86_64\n  Hilo(s) de procesamiento por núcleo:  1'],
  ])('%s: nothing is taken, and it is said once how to run it', (_, text) => {
    const { found, unread } = readFound(text)
    expect(found).toEqual(readFound('').found)
    expect(unread).toEqual([expect.objectContaining({ line: 1, sentence: expect.stringMatching(/another language.*LC_ALL=C/) as string })])
  })

  it('a heading in English, a path or a note is none of that', () => {
    for (const text of [
      'Filesystem     1K-blocks     Used Available Use% Mounted on\n/dev/vda 1000 500 500 50% /',
      'a note of mine, 100% true',
    ])
      expect(readFound(text).unread.filter(({ sentence }) => /another language/.test(sentence))).toEqual([])
  })
})

describe('what is counted as what', () => {
  it('the firmware’s flash is no memory module, and its place no slot', () => {
    // Memory devices as dmidecode prints them on boards that list their firmware's chip; from memory. Types: DMTF DSP0134, 7.18.2.
    const device = (size: string, form: string, type: string, detail: string) =>
      `Handle 0x0011, DMI type 17, 34 bytes\nMemory Device\n\tTotal Width: 64 bits\n\tSize: ${size}\n\tForm Factor: ${form}\n\tType: ${type}\n\tType Detail: ${detail}\n\tSpeed: 3200 MT/s\n\n`
    const { found } = readFound(
      `# dmidecode 3.4\n${device('16 GB', 'DIMM', 'DDR4', 'Synchronous')}${device('No Module Installed', 'DIMM', 'DDR4', 'Synchronous')}${device('32 MB', 'Chip', 'Flash', 'Non-Volatile')}${device('8192 kB', 'Chip', 'ROM', 'Other')}`,
    )
    expect([found.modules, found.memorySlots]).toEqual([[{ slot: 1, sizeMiB: 16_384, speedMTs: 3200 }], 2])
  })

  // util-linux 2.38, lscpu on boards with two kinds of cores; from memory, in the form of the samples of its own test suite.
  it.each([
    [
      '2 and 4',
      'Architecture:          aarch64\nCPU(s):                6\nVendor ID:             ARM\nModel name:            Cortex-A53\nThread(s) per core:    1\nCore(s) per cluster:   4\nSocket(s):             -\nCluster(s):            1\nModel name:            Cortex-A72\nThread(s) per core:    1\nCore(s) per cluster:   2\nSocket(s):             -\nCluster(s):            1\nFlags:                 fp asimd',
      { processorModel: 'Cortex-A53 + Cortex-A72', sockets: 1, coresPerSocket: 6, threadsPerCore: 1, cpuFlags: 'fp asimd' },
    ],
    [
      '4 and 4, by sockets',
      'Architecture:          aarch64\nCPU(s):                8\nModel name:            Cortex-A55\nThread(s) per core:    1\nCore(s) per socket:    4\nSocket(s):             1\nModel name:            Cortex-A76\nThread(s) per core:    1\nCore(s) per socket:    4\nSocket(s):             1',
      { processorModel: 'Cortex-A55 + Cortex-A76', sockets: 1, coresPerSocket: 8, threadsPerCore: 1 },
    ],
    [
      '1, 3 and 4, of which the tool counts clusters that are not',
      'Architecture:          aarch64\nCPU(s):                8\nModel name:            Cortex-A510\nCore(s) per socket:    4\nSocket(s):             2\nModel name:            Cortex-A710\nCore(s) per socket:    3\nSocket(s):             1\nModel name:            Cortex-X2\nCore(s) per socket:    1\nSocket(s):             1',
      { processorModel: 'Cortex-A510 + Cortex-A710 + Cortex-X2', sockets: 1, coresPerSocket: 8, threadsPerCore: 1 },
    ],
  ])('unlike cores are all counted: %s', (_, text, processor) => expect(readFound(text).found).toMatchObject(processor))
})
