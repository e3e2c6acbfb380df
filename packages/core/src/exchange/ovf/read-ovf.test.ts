import { describe, expect, it } from 'vitest'
import { idOf, smallEstate } from '../../testing/small-estate.js'
import { GiB } from '../../units/index.js'
import { ovfDraft, ovfSystemOf, readOvf, type OvfMapping } from './index.js'

// Descriptors after the text of DMTF DSP0243 (1.1.0, 2.1.0), written here by hand: no schema of DMTF’s is in a registry. Which
// attribute means what is from the standard; that the first configuration is the default one, and that a section is required unless it
// says otherwise, are from memory.
const item = (fields: Readonly<Record<string, string | number>>, attributes = '') =>
  `<Item ${attributes}>${Object.entries(fields)
    .map(([name, value]) => `<rasd:${name}>${value}</rasd:${name}>`)
    .join('')}</Item>`
const cpu = (count: number, attributes = '') => item({ InstanceID: 1, ResourceType: 3, VirtualQuantity: count }, attributes)
const memory = (quantity: number, attributes = '', units = 'byte * 2^20') =>
  item({ AllocationUnits: units, InstanceID: 2, ResourceType: 4, VirtualQuantity: quantity }, attributes)
const disk = (number: number, resource: string) => item({ InstanceID: number, ResourceType: 17, HostResource: resource })
const adapter = (number: number, subType: string, address = '') =>
  item({ InstanceID: number, ResourceType: 10, ResourceSubType: subType, Connection: 'LAN', ...(address ? { Address: address } : {}) })
const envelope = (parts: {
  readonly top?: string
  readonly disks?: string
  readonly files?: string
  readonly items?: string
  readonly sections?: string
}) => `<Envelope xmlns="http://schemas.dmtf.org/ovf/envelope/1" xmlns:ovf="http://schemas.dmtf.org/ovf/envelope/1" xmlns:rasd="urn:r" xmlns:x="urn:x">
  <References>${parts.files ?? ''}</References><DiskSection><Info>d</Info>${parts.disks ?? ''}</DiskSection>${parts.top ?? ''}
  <VirtualSystem ovf:id="relay"><Info>i</Info>${parts.sections ?? ''}
    <VirtualHardwareSection><Info>h</Info>${parts.items ?? cpu(2) + memory(1024)}</VirtualHardwareSection></VirtualSystem></Envelope>`

const read = (text: string, configuration?: string) => {
  const reading = readOvf(text, configuration)
  if ('sentence' in reading) throw new Error(reading.sentence)
  const [system] = reading.systems
  if (!system) throw new Error('no system')
  return { ...reading, system }
}

describe('configurations and bounds', () => {
  const offered = `<DeploymentOptionSection><Info>o</Info>
    <Configuration ovf:id="small"><Label>Small</Label><Description>For a lab</Description></Configuration>
    <Configuration ovf:id="big" ovf:default="true"><Label>Big</Label><Description>For many</Description></Configuration></DeploymentOptionSection>`
  const text = envelope({
    top: offered,
    disks:
      '<Disk ovf:diskId="a" ovf:capacity="8" ovf:capacityAllocationUnits="byte * 2^30"/><Disk ovf:diskId="b" ovf:capacity="100" ovf:capacityAllocationUnits="byte * 2^30"/>',
    items: [
      cpu(1),
      cpu(8, 'ovf:configuration="big"'),
      memory(512, 'ovf:bound="min"'),
      memory(1024, 'ovf:bound="normal"'),
      memory(16, 'ovf:bound="max"', 'byte * 2^30'),
      memory(8192, 'ovf:configuration="medium big"'),
      disk(3, 'ovf:/disk/a'),
      item({ InstanceID: 4, ResourceType: 17, HostResource: 'ovf:/disk/b' }, 'ovf:configuration="big"'),
    ].join(''),
  })

  it('are read in the one that is the default, or in the one chosen', () => {
    const big = read(text)
    expect(big.configurations.map(({ id, label, isDefault }) => [id, label, isDefault])).toEqual([
      ['small', 'Small', false],
      ['big', 'Big', true],
    ])
    expect([big.configuration, big.system.vcpu, big.system.memoryMiB, big.system.disks.length]).toEqual(['big', 8, 8192, 2])
    const small = read(text, 'small')
    expect([small.configuration, small.system.vcpu, small.system.memoryMiB]).toEqual(['small', 1, 1024])
    expect(small.system.disks.map(({ sizeBytes }) => sizeBytes)).toEqual([8 * GiB])
    expect(small.system.limits).toEqual({ vcpu: { min: null, max: null }, memoryMiB: { min: 512, max: 16_384 } })
    // What belongs to another configuration is not called lost.
    expect([small.unused, big.unused]).toEqual([[], []])
  })

  it('take the first where none is marked, and the default where one is asked for that is not offered', () => {
    expect(read(text.replace(' ovf:default="true"', '')).configuration).toBe('small')
    expect(read(text, 'huge').configuration).toBe('big')
    expect(read(envelope({})).configuration).toBeUndefined()
  })

  it('an item of which only bounds are given takes the least, and says so', () => {
    const { system } = read(envelope({ items: cpu(2, 'ovf:bound="min"') + cpu(6, 'ovf:bound="max"') + memory(1024) }))
    expect([system.vcpu, system.limits.vcpu]).toEqual([2, { min: 2, max: 6 }])
    expect(system.remarks).toEqual(['Of its processors only bounds are given; the least is taken.'])
  })
})

describe('disks', () => {
  it('take their capacity from a property, as the configuration has it', () => {
    const text = envelope({
      top: '<DeploymentOptionSection><Info>o</Info><Configuration ovf:id="s"/><Configuration ovf:id="l"/></DeploymentOptionSection>',
      disks: '<Disk ovf:diskId="a" ovf:capacity="${org.example.size.1}" ovf:capacityAllocationUnits="byte * 2^30"/>',
      sections:
        '<ProductSection ovf:class="org.example" ovf:instance="1"><Info>p</Info><Property ovf:key="size" ovf:type="uint16" ovf:value="20"><Value ovf:value="200" ovf:configuration="l"/></Property></ProductSection>',
      items: cpu(1) + memory(512) + disk(3, 'ovf:/disk/a'),
    })
    expect(read(text).system.disks[0]?.sizeBytes).toBe(20 * GiB)
    expect(read(text, 'l').system.disks[0]?.sizeBytes).toBe(200 * GiB)
    expect(read(text).unused.map(({ sentence }) => sentence)).toEqual(['ProductSection: what it sets at the first boot is not taken over.'])
  })

  it('that cannot be made are named with what was lost', () => {
    const { system } = read(
      envelope({
        files: '<File ovf:id="f1" ovf:href="one.img"/>',
        disks: [
          '<Disk ovf:diskId="ok" ovf:fileRef="f1" ovf:capacity="1073741824"/>',
          '<Disk ovf:diskId="adrift" ovf:fileRef="f9" ovf:capacity="1073741824"/>',
          '<Disk ovf:diskId="asked" ovf:capacity="${size}"/>',
          '<Disk ovf:diskId="bare"/>',
          '<Disk ovf:diskId="odd" ovf:capacity="4" ovf:capacityAllocationUnits="cylinders"/>',
        ].join(''),
        items:
          cpu(1) +
          memory(512) +
          ['disk/ok', 'disk/adrift', 'disk/asked', 'disk/bare', 'disk/odd', 'disk/gone', 'file/f1']
            .map((resource, index) => disk(index + 3, `ovf:/${resource}`))
            .join('') +
          item({ InstanceID: 99, ResourceType: 17 }),
      }),
    )
    expect(system.disks.map(({ file, sizeBytes }) => [file, sizeBytes])).toEqual([
      ['one.img', GiB],
      [null, GiB],
    ])
    expect(system.remarks).toEqual([
      'Disk 2: its file f9 is not among the References, so its content is lost.',
      'Disk 3 is left out: its capacity is the property size, which has no value.',
      'Disk 4 is left out: it has no capacity.',
      'Disk 5 is left out: its capacity, 4 in units of cylinders, cannot be read.',
      'Disk 6 is left out: the DiskSection has no disk gone.',
      'Disk 7 is left out: ovf:/file/f1 is not a disk with a size.',
      'Disk 8 is left out: it names no disk.',
    ])
  })
})

describe('adapters', () => {
  it('of a type that is a known chip are that; another is named', () => {
    const { system } = read(
      envelope({
        items:
          cpu(1) +
          memory(512) +
          ['E1000', 'e1000e', 'PCNet32', 'virtio-net', 'FancyNet9', 'FancyNet9 E1000'].map((type, n) => adapter(n + 3, type)).join('') +
          adapter(20, 'E1000', 'not a mac'),
      }),
    )
    expect(system.adapters.map(({ model }) => model)).toEqual([
      'emulated',
      'emulated',
      'emulated old',
      'paravirtual',
      'emulated',
      'emulated',
      'emulated',
    ])
    expect(system.remarks).toEqual([
      'Adapter 5 is of the type FancyNet9, which is not known here; it is taken as emulated.',
      'Adapter 7 gives not a mac as its MAC, which is none; it gets one.',
    ])
  })
})

describe('sections that are required', () => {
  it.each([
    ['of the standard', '<EulaSection><Info>e</Info><License>l</License></EulaSection>', []],
    ['of another, that say they may be left out', '<x:CoolingSection ovf:required="false"><Info>c</Info></x:CoolingSection>', []],
    [
      'of another',
      '<x:CoolingSection><Info>c</Info></x:CoolingSection>',
      ['The descriptor requires CoolingSection, which is not of the standard and not known here.'],
    ],
    ['named like a part of every object', '<x:valueOf><Info>c</Info></x:valueOf>', [expect.stringContaining('valueOf')]],
  ])('%s', (_, section, refusals) => {
    expect(read(envelope({ sections: section })).system.refusals).toEqual(refusals)
    // Those of the envelope hold for every system in it.
    expect(read(envelope({ top: section })).system.refusals).toEqual(refusals)
  })

  it('what is lost with one of the standard is said', () =>
    expect(read(envelope({ sections: '<EulaSection><Info>e</Info><License>l</License></EulaSection>' })).unused).toEqual([
      { path: 'Envelope/VirtualSystem/EulaSection', sentence: 'EulaSection: whoever deploys it has to agree to its licence.' },
    ]))
})

describe('what a person is asked', () => {
  const estate = smallEstate()
  const mapping: OvfMapping = {
    name: 'relay',
    hostId: idOf('gannet'),
    networks: {},
    stores: [],
    firmware: 'BIOS',
    systemId: null,
    keepsMacs: false,
  }
  const system = read(
    envelope({
      sections: '<OperatingSystemSection ovf:id="1"><Info>o</Info><Description>Hobbyix 3</Description></OperatingSystemSection>',
    }),
  ).system

  it('the firmware is what was answered, and a system that is not recorded stays in the note', () => {
    expect(ovfSystemOf(estate, system)).toBeUndefined()
    expect(ovfDraft(estate, system, mapping).guest).toMatchObject({ firmware: 'BIOS', systemId: null, note: 'System: Hobbyix 3' })
    expect(ovfDraft(estate, system, { ...mapping, systemId: 'chosen' }).guest).toMatchObject({ systemId: 'chosen', note: '' })
  })

  it('a descriptor of Insel’s own says its firmware itself', () =>
    expect(ovfDraft(estate, { ...system, more: { firmware: 'UEFI' } }, mapping).guest).toMatchObject({ firmware: 'UEFI' }))
})
