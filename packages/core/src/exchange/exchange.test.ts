import { processorMs } from '../testing/processor-time.js'
import { isLong, runs } from '../testing/tier.js'
import fc from 'fast-check'
import { SyntaxValidator } from 'fast-xml-validator'
import { describe, expect, it } from 'vitest'
import { rowsIn } from '../formats/index.js'
import { applyAll, type Command } from '../commands/index.js'
import { type Disk, disksOf, type Estate, type Guest } from '../estate/index.js'
import { readXml } from '../formats/index.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { GiB } from '../units/index.js'
import {
  guestMarkdown,
  guestNameOf,
  guestsCsv,
  importTables,
  ovfCommands,
  ovfVersions,
  readTables,
  summaryOf,
  readOvf,
  writeOvf,
} from './index.js'

const guestOf = (estate: Estate, id: string): Guest => {
  const guest = estate.find('guest', id)
  if (!guest) throw new Error('no guest')
  return guest
}
const read = (text: string) => {
  const reading = readOvf(text)
  if ('sentence' in reading) throw new Error(reading.sentence)
  return reading
}

describe('OVF descriptors', () => {
  const word = fc.stringMatching(/^[a-z][a-z0-9-]{0,8}[a-z0-9]$/)
  const note = fc.string({ maxLength: 40 }).map((text) => text.replace(/[\p{Cc}\p{Cs}\ufffe\uffff]/gu, '').trim())
  const guests = fc.record({
    name: word,
    vcpu: fc.integer({ min: 1, max: 64 }),
    memoryMiB: fc.integer({ min: 4, max: 2 ** 22 }),
    latency: fc.constantFrom('general' as const, 'steady' as const, 'lab' as const),
    firmware: fc.constantFrom('UEFI' as const, 'BIOS' as const),
    processorMode: fc.constantFrom('host' as const, 'x86-64-v2' as const),
    machineType: fc.constantFrom('PCIe' as const, 'PCI' as const),
    trustedModule: fc.boolean(),
    purpose: fc.option(word),
    group: fc.option(word),
    packages: fc.option(note.filter((text) => text !== '')),
    isRouter: fc.boolean(),
    tags: fc.uniqueArray(word, { maxLength: 3 }).map((list) => [...list].sort()),
    note,
  })
  const disks = fc.array(
    fc.record({
      use: word,
      sizeBytes: fc.integer({ min: 1, max: 2 ** 45 }),
      provisioning: fc.constantFrom('thin' as const, 'thick' as const),
      bus: fc.constantFrom<Disk['bus']>('paravirtual', 'SCSI', 'SATA', 'IDE', 'NVMe'),
      cache: fc.constantFrom('none' as const, 'write-back' as const),
      bootOrder: fc.option(fc.integer({ min: 1, max: 9 })),
      growthBytesPerMonth: fc.option(fc.integer({ min: 0, max: 2 ** 40 })),
    }),
    { maxLength: 4 },
  )
  const adapters = fc.array(
    fc.record({
      networkId: fc.constantFrom(null, idOf('office'), idOf('studio')),
      model: fc.constantFrom('paravirtual' as const, 'emulated' as const, 'emulated old' as const),
      isConnected: fc.boolean(),
    }),
    { maxLength: 3 },
  )
  /** Everything of a guest that a descriptor carries, without ids. */
  const plain = (estate: Estate, id: string) => {
    const { id: _, hostId: _h, state: _s, ...guest } = guestOf(estate, id)
    return {
      guest,
      disks: disksOf(estate, id).map(({ id: _i, guestId: _g, usedBytes: _u, storeId: _st, ...disk }) => disk),
      adapters: [...estate.referring('adapter', 'guestId', id)]
        .sort((a, b) => a.position - b.position)
        .map(({ id: _i, guestId: _g, ...adapter }) => adapter),
    }
  }

  it('reading what was written gives the same guest, in both versions', () =>
    fc.assert(
      fc.property(guests, disks, adapters, fc.constantFrom(...ovfVersions), (values, diskList, adapterList, version) => {
        const id = idOf('array')
        const context = testContext()
        const commands: Command[] = [
          { type: 'guest.add', record: { id, hostId: idOf('gannet'), ...values } },
          ...diskList.map((disk, index): Command => ({
            type: 'disk.add',
            record: { guestId: id, storeId: idOf('nvme1'), position: index + 1, ...disk },
          })),
          ...adapterList.map((adapter, index): Command => ({
            type: 'adapter.add',
            record: { guestId: id, position: index + 1, mac: `02:1a:4b:99:00:0${index}`, ...adapter },
          })),
        ]
        const before = applyAll(smallEstate(), commands, context).estate
        const text = writeOvf(before, guestOf(before, id), version)
        const { systems, networks, unused, version: said } = read(text)
        expect(said).toBe(version === '1.1' ? '1.x' : '2.x')
        expect(unused).toEqual([])
        const [system] = systems
        if (!system) throw new Error('no system')
        const mapped = Object.fromEntries(networks.map((name) => [name, before.byKey('network', { name })[0]?.id ?? null]))
        const imported = ovfCommands(
          smallEstate(),
          system,
          {
            name: values.name,
            hostId: idOf('gannet'),
            networks: mapped,
            stores: diskList.map(() => idOf('nvme1')),
            firmware: undefined,
            systemId: null,
            keepsMacs: true,
          },
          context,
        )
        const after = applyAll(smallEstate(), imported, context).estate
        const guest = after.byKey('guest', { name: values.name })[0]
        expect(plain(after, guest?.id ?? '')).toEqual(plain(before, id))
      }),
      { numRuns: runs(30, 300) },
    ))

  // An item list after the published text of DMTF DSP0243 1.1.0, sections 7 to 9, written here by hand: no schema of DMTF’s
  // is in a registry.
  const foreign = `<?xml version="1.0"?>
<Envelope xmlns="http://schemas.dmtf.org/ovf/envelope/1" xmlns:ovf="http://schemas.dmtf.org/ovf/envelope/1" xmlns:rasd="http://schemas.dmtf.org/wbem/wscim/1/cim-schema/2/CIM_ResourceAllocationSettingData" xmlns:vssd="http://schemas.dmtf.org/wbem/wscim/1/cim-schema/2/CIM_VirtualSystemSettingData">
  <References><File ovf:id="file1" ovf:href="disk1.img" ovf:size="8588888"/></References>
  <DiskSection><Info>Disks</Info><Disk ovf:diskId="d1" ovf:fileRef="file1" ovf:capacity="40" ovf:capacityAllocationUnits="byte * 2^30" ovf:format="urn:x"/></DiskSection>
  <NetworkSection><Info>Nets</Info><Network ovf:name="LAN"><Description>the LAN</Description></Network></NetworkSection>
  <VirtualSystemCollection ovf:id="all"><Info>all</Info>
  <VirtualSystem ovf:id="mail &amp; more"><Info>one</Info>
    <OperatingSystemSection ovf:id="36"><Info>os</Info><Description>Some system</Description></OperatingSystemSection>
    <ProductSection><Info>p</Info><Product>Mailer</Product></ProductSection>
    <VirtualHardwareSection><Info>hw</Info>
      <System><vssd:ElementName>v</vssd:ElementName><vssd:InstanceID>0</vssd:InstanceID><vssd:VirtualSystemType>other-9</vssd:VirtualSystemType></System>
      <Item><rasd:ElementName>cpu</rasd:ElementName><rasd:InstanceID>1</rasd:InstanceID><rasd:ResourceType>3</rasd:ResourceType><rasd:VirtualQuantity>2</rasd:VirtualQuantity><rasd:Reservation>500</rasd:Reservation></Item>
      <Item><rasd:AllocationUnits>MegaBytes</rasd:AllocationUnits><rasd:ElementName>mem</rasd:ElementName><rasd:InstanceID>2</rasd:InstanceID><rasd:ResourceType>4</rasd:ResourceType><rasd:VirtualQuantity>4096</rasd:VirtualQuantity></Item>
      <Item><rasd:ElementName>scsi</rasd:ElementName><rasd:InstanceID>3</rasd:InstanceID><rasd:ResourceType>6</rasd:ResourceType></Item>
      <Item><rasd:ElementName>disk</rasd:ElementName><rasd:HostResource>ovf:/disk/d1</rasd:HostResource><rasd:InstanceID>4</rasd:InstanceID><rasd:Parent>3</rasd:Parent><rasd:ResourceType>17</rasd:ResourceType></Item>
      <Item><rasd:Connection>LAN</rasd:Connection><rasd:ElementName>eth</rasd:ElementName><rasd:InstanceID>5</rasd:InstanceID><rasd:ResourceSubType>PCNet32</rasd:ResourceSubType><rasd:ResourceType>10</rasd:ResourceType></Item>
      <Item><rasd:ElementName>sound</rasd:ElementName><rasd:InstanceID>6</rasd:InstanceID><rasd:ResourceType>35</rasd:ResourceType></Item>
    </VirtualHardwareSection>
  </VirtualSystem></VirtualSystemCollection>
</Envelope>`

  it('a descriptor of another tool becomes a draft, and what could not be used is named', () => {
    const { systems, networks, unused, version } = read(foreign)
    expect([version, networks]).toEqual(['1.x', ['LAN']])
    expect(systems[0]).toMatchObject({
      name: 'mail & more',
      vcpu: 2,
      memoryMiB: 4096,
      system: 'Some system',
      disks: [{ sizeBytes: 40 * GiB, bus: 'SCSI', file: 'disk1.img' }],
      adapters: [{ network: 'LAN', model: 'emulated old', mac: null, isConnected: true }],
    })
    expect(systems[0]?.remarks).toEqual([])
    expect(unused.map(({ path }) => path.split('/').at(-1))).toEqual(['ProductSection', 'VirtualSystemType', 'Reservation', 'Item[6]'])
    expect([guestNameOf(smallEstate(), 'mail & more'), guestNameOf(smallEstate(), 'Newsroom')]).toEqual(['mail-more', 'Newsroom-2'])
  })

  it.each([
    ['no XML at all', 'hello', 'well-formed'],
    ['another document', '<a/>', 'starts with a'],
    ['no system', '<Envelope/>', 'no VirtualSystem'],
    ['a system without hardware', '<Envelope><VirtualSystem id="x"/></Envelope>', 'VirtualHardwareSection'],
  ])('%s is refused in a sentence', (_, text, words) => {
    const reading = readOvf(text)
    expect('sentence' in reading && reading.sentence).toContain(words)
  })

  it('any text at all is read without failing', () => {
    fc.assert(fc.property(fc.string({ maxLength: 300 }), (text) => void readOvf(text)))
    // Any stretch of a real descriptor left out.
    fc.assert(
      fc.property(
        fc.nat(foreign.length),
        fc.nat(200),
        (from, length) => void readOvf(foreign.slice(0, from) + foreign.slice(from + length)),
      ),
    )
  })
})

describe('XML that means harm', () => {
  // W3C XML 1.0, section 4.4: entities that name each other grow with every step. The document is refused before any is read.
  it('does not expand entities', () => {
    const bomb = `<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "ha">${Array.from({ length: 30 }, (_, n) => `<!ENTITY a${n} "&a${n - 1};&a${n - 1};">`).join('')}]><Envelope>&a29;</Envelope>`
    const took = processorMs(() => {
      expect(readOvf(bomb)).toMatchObject({ line: 1, sentence: expect.stringContaining('entities of its own') as string })
      expect(readOvf('<!ENTITY x SYSTEM "file:///etc/passwd"><Envelope>&x;</Envelope>')).toHaveProperty('sentence')
    })
    expect(took).toBeLessThan(1000)
  })

  it('reads megabytes, and refuses more than ten', () => {
    const many = '<Note>word</Note>'.repeat(isLong ? 500_000 : 100_000)
    const text = `<Envelope>${many}</Envelope>`
    expect(readXml(text)).toHaveProperty('root')
    expect(readXml(`<a>${'x'.repeat(10_000_001)}</a>`)).toMatchObject({ sentence: expect.stringContaining('at most 10 MB') as string })
  }, 30_000)

  it('does not follow a thousand elements in each other', () =>
    expect(readXml('<a>'.repeat(1000) + '</a>'.repeat(1000))).toHaveProperty('sentence'))

  it('predefined entities and character numbers are text', () => {
    const reading = readXml('<a b="&quot;&#65;">&lt;&#x42;&amp;</a>')
    expect('root' in reading && [reading.root.text, reading.root.attributes['b']]).toEqual(['<B&', '"A'])
  })

  it('what is written is well-formed whatever the names', () =>
    fc.assert(
      fc.property(fc.string({ maxLength: 30 }), (text) => {
        const clean = text.replace(/[\p{Cc}\p{Cs}\ufffe\uffff]/gu, '')
        const estate = applyAll(
          smallEstate(),
          [{ type: 'guest.update', id: idOf('playout'), changes: { note: clean } }],
          testContext(),
        ).estate
        expect(SyntaxValidator.validate(writeOvf(estate, guestOf(estate, idOf('playout'))))).toBe(true)
      }),
    ))
})

describe('a table of guests', () => {
  const estate = smallEstate()
  const importOf = (text: string, of: Estate = estate) => {
    const { tables, none } = readTables([{ name: '', rows: rowsIn(text) }], 'guest')
    if (none[0]) throw new Error(none[0].sentence)
    const imported = importTables(of, tables, testContext())
    return { ...imported, ...summaryOf(imported) }
  }

  it('written and read again changes nothing', () =>
    expect(importOf(guestsCsv(estate))).toMatchObject({ commands: [], same: 3, added: [], changed: [], rejected: [] }))

  it('new guests, changed ones, and lines that cannot be taken', () => {
    const { added, changed, rejected, commands } = importOf(
      'Name;Host;vCPU;RAM;Disk;Network;Address;Tags\nweb-1;gannet;2;4G;40G + 100G;office;10.61.30.120;#web air\nplayout-1;gannet;6;16 GiB;;;;\nlost;nowhere;1;1G;;;;\nweb-1;gannet;1;1G;;;;\nsmall;gannet;;1G;;;;\n;gannet;1;1G;;;;\nodd;gannet;many;1G;;;;',
    )
    expect([added, changed, rejected.map(({ line }) => line)]).toEqual([['web-1'], ['playout-1'], [4, 5, 6, 7, 8]])
    const after = applyAll(estate, commands, testContext(9)).estate
    expect(after.byKey('guest', { name: 'web-1' })[0]).toMatchObject({ vcpu: 2, memoryMiB: 4096, tags: ['air', 'web'], state: 'planned' })
    expect(guestOf(after, idOf('playout'))).toMatchObject({ vcpu: 6, memoryMiB: 16_384 })
  })

  it('a formula is defused on its way out and itself again on its way in', () => {
    const odd = applyAll(estate, [{ type: 'guest.update', id: idOf('news'), changes: { note: '=1+1' } }], testContext()).estate
    expect(guestsCsv(odd)).toContain("'=1+1")
    expect(importOf(guestsCsv(odd), odd)).toMatchObject({ commands: [], rejected: [] })
  })

  it('any text at all is read without failing', () =>
    fc.assert(
      fc.property(fc.string({ maxLength: 200 }), (text) => {
        importTables(estate, readTables([{ name: text, rows: rowsIn(text) }]).tables, testContext())
      }),
    ))
})

it('a guest’s sheet as Markdown has its devices, and a box for each step', () => {
  const text = guestMarkdown(smallEstate(), guestOf(smallEstate(), idOf('playout')))
  expect(text).toContain('# playout-1')
  expect(text).toContain('| 1 | studio | paravirtual | 02:1a:4b:00:00:01 | 10.61.40.2 (fixed) |')
  expect(text.match(/^- \[ \] /gm)?.length).toBeGreaterThan(15)
  expect(text).toMatch(/\*\*Caution\.\*\* The installer wipes the disk/)
})
