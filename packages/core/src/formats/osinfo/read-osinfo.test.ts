import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { readOsinfo } from './read-osinfo.js'

/** A file of the dataset, in its own form: /usr/share/osinfo/schema/osinfo.rng. The systems are invented. */
const file = (name: string, ...systems: string[]) => ({
  name: `${name}.xml`,
  text: `<?xml version="1.0"?><libosinfo version="0.0.1">${systems.join('')}</libosinfo>`,
})
const os = (id: string, inner: string) =>
  `<os id="http://kelp.example/${id}"><short-id>kelp${id}</short-id><name>Kelp ${id}</name>${inner}</os>`
const device = (pci: string, more = '') => `<devices><device id="http://pcisig.com/pci/${pci}"${more}/></devices>`
const from = (id: string) => `<derives-from id="http://kelp.example/${id}"/>`
const VIRTIO_DISK = '1af4/1001'
const VIRTIO_NET = '1af4/1041'

const systemsIn = (...files: ReturnType<typeof file>[]) => new Map(readOsinfo(files, 'set 1').systems.map((one) => [one.shortId, one]))
const valuesOf = (id: string, ...files: ReturnType<typeof file>[]) => systemsIn(...files).get(`kelp${id}`)?.values

describe('the open dataset of systems', () => {
  it('gives what a system needs, on a 64-bit PC before what is said of all', () => {
    const values = valuesOf(
      '1',
      file(
        'a',
        os(
          '1',
          `<family>linux</family><release-date>2020-02-03</release-date><eol-date>2024-05-06</eol-date>
           <resources arch="all"><minimum><ram>536870912</ram></minimum></resources>
           <resources arch="x86_64"><minimum><n-cpus>2</n-cpus><ram>1073741824</ram><storage>10737418240</storage></minimum>
             <recommended><ram>2147483649</ram></recommended></resources>`,
        ),
      ),
    )
    expect(values).toMatchObject({
      name: 'Kelp 1',
      family: 'linux',
      source: 'set 1',
      minVcpu: 2,
      minMemoryMiB: 1024,
      minStorageBytes: 10_737_418_240,
      // A byte more than 2 GiB is not met by 2 GiB.
      goodMemoryMiB: 2049,
      goodVcpu: null,
      releasedOn: '2020-02-03',
      supportedUntil: '2024-05-06',
    })
  })

  it('what it does not say is not known', () =>
    expect(valuesOf('1', file('a', os('1', '')))).toMatchObject({
      minVcpu: null,
      minMemoryMiB: null,
      firmware: 'not known',
      paravirtualDisk: 'not known',
      paravirtualNet: 'not known',
      emulatedNet: 'not known',
      supportedUntil: null,
    }))

  it('devices are handed down over several steps, resources are not', () => {
    const files = [
      file('a', os('1', `${device(VIRTIO_DISK)}<resources arch="all"><minimum><ram>1073741824</ram></minimum></resources>`)),
      file('b', os('2', from('1') + device(VIRTIO_NET))),
      file('c', os('3', `<clones id="http://kelp.example/2"/>`)),
    ]
    expect(valuesOf('3', ...files)).toMatchObject({ paravirtualDisk: 'built in', paravirtualNet: 'built in', minMemoryMiB: null })
  })

  it('a device that is marked as not supported is taken away again, for those after it too', () => {
    const files = [
      file('a', os('1', device(VIRTIO_DISK))),
      file('b', os('2', from('1') + device(VIRTIO_DISK, ' supported="false"'))),
      file('c', os('3', from('2'))),
    ]
    expect([1, 2, 3].map((n) => valuesOf(String(n), ...files)?.paravirtualDisk)).toEqual(['built in', 'not known', 'not known'])
  })

  it('systems that derive from each other in a circle end', () =>
    expect(systemsIn(file('a', os('1', from('2')), os('2', from('1') + device(VIRTIO_NET)))).size).toBe(2))

  it('an overlay with the same id adds to it: a driver image, say', () => {
    const driver = `<driver arch="x86_64" location="x"><device id="http://pcisig.com/pci/${VIRTIO_DISK}"/></driver>`
    const systems = systemsIn(file('a', os('1', '<family>other</family>')), file('a.d/drivers', os('1', driver)))
    expect(systems.size).toBe(1)
    expect(systems.get('kelp1')?.values).toMatchObject({
      family: 'other',
      paravirtualDisk: 'with a driver image',
      paravirtualNet: 'not known',
    })
  })

  it.each([
    ['<firmware arch="x86_64" type="efi"/>', 'UEFI or BIOS'],
    ['<firmware arch="x86_64" type="bios" supported="false"/>', 'UEFI only'],
    ['<firmware arch="x86_64" type="efi" supported="false"/>', 'BIOS only'],
    ['<firmware arch="aarch64" type="efi"/>', 'not known'],
  ])('%s is %s', (said, firmware) => expect(valuesOf('1', file('a', os('1', said)))?.firmware).toBe(firmware))

  it.each([
    ['8086/100e', 'emulated'],
    ['8086/10d3', 'emulated'],
    ['10ec/8139', 'emulated old'],
    ['1022/2000', 'emulated old'],
  ])('a card of %s is %s', (pci, model) => expect(valuesOf('1', file('a', os('1', device(pci))))?.emulatedNet).toBe(model))

  it('takes the dataset’s own language, finds by its other words, and tells two of one name apart', () => {
    const systems = readOsinfo(
      [
        file(
          'a',
          os('1', '<name xml:lang="de">Tang 1</name><short-id>tangle</short-id><codename>Oarweed</codename><vendor>Kelp Works</vendor>'),
        ),
        file('b', '<os id="x"><short-id>copy</short-id><name>Kelp 1</name></os>'),
      ],
      'set 1',
    ).systems
    expect(systems.map(({ values }) => values.name)).toEqual(['Kelp 1 (kelp1)', 'Kelp 1 (copy)'])
    expect(systems[0]?.words).toEqual(['kelp1', 'tangle', 'Oarweed', 'Kelp Works'])
  })

  it('a file that cannot be read is named, and the others are read', () => {
    const { systems, unread } = readOsinfo([file('a', os('1', '')), { name: 'b.xml', text: '<libosinfo><os>' }], 'set 1')
    expect([systems.length, unread.map((one) => one.file)]).toEqual([1, ['b.xml']])
  })

  it('dates that are none, and sizes that are none, are not known', () =>
    fc.assert(
      fc.property(fc.stringMatching(/^[a-z0-9 -]{0,12}$/), (text) => {
        const values = valuesOf(
          '1',
          file('a', os('1', `<eol-date>${text}</eol-date><resources arch="all"><minimum><ram>${text}</ram></minimum></resources>`)),
        )
        expect(values?.supportedUntil === null || /^\d{4}-\d\d-\d\d$/.test(values?.supportedUntil ?? '')).toBe(true)
        expect(values?.minMemoryMiB === null || (values?.minMemoryMiB ?? 0) > 0).toBe(true)
      }),
    ))
})
