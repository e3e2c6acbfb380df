import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../../commands/index.js'
import { adaptersOf, disksOf, Estate } from '../../estate/index.js'
import { rowsIn } from '../../formats/index.js'
import { processorMs } from '../../testing/processor-time.js'
import { idOf, smallEstate, testContext } from '../../testing/small-estate.js'
import { GiB, TB } from '../../units/index.js'
import { guestsCsv, importTables, readTables, type MappedTable, type TableName, type TablesImport } from '../index.js'
import { plainName } from '../plain-name.js'

const estate = smallEstate()
const sources = (texts: Readonly<Record<string, string>>) => Object.entries(texts).map(([name, text]) => ({ name, rows: rowsIn(text) }))
const read = (texts: Readonly<Record<string, string>>, only?: TableName): readonly MappedTable[] => readTables(sources(texts), only).tables
const importOf = (texts: Readonly<Record<string, string>>, of = estate, state?: 'planned' | 'running') =>
  importTables(of, read(texts), testContext(), state)
const after = ({ commands }: TablesImport, of = estate) => applyAll(of, commands, testContext(9)).estate
const refused = ({ rows }: TablesImport) =>
  rows.flatMap(({ is, line, problems }) => (is === 'refused' ? [[line, problems.map(({ sentence }) => sentence)] as const] : []))

describe('lines of a file', () => {
  it('count blank lines, and breaks within quotes, however lines end', () => {
    for (const end of ['\n', '\r\n', '\r'])
      expect(rowsIn(['name,note', '', 'a,"one', 'two"', '   ,', 'b,', ''].join(end)).map(({ line }) => line)).toEqual([1, 3, 6])
  })

  it('of what is refused are named, with everything that is wrong in each, all at once', () => {
    const table =
      'name,host,vcpu,memory,network\n\nok,gannet,1,1G,office\nbad,nowhere,many,lots,attic\n"two\nlines",gannet,1,1G,\n,gannet,1,1G,\n'
    expect(refused(importOf({ '': table }))).toEqual([
      [
        4,
        [
          'There is no host “nowhere”.',
          '“many” is not a whole number.',
          expect.stringContaining('“lots” is not a size'),
          'There is no network “attic”.',
        ],
      ],
      [7, ['It has no name.']],
    ])
  })

  it('above the headings are a title, and no rows', () => {
    const [table] = read({ '': 'Machines of the studio\nas of March\nName,Host,CPUs,RAM\nweb-1,gannet,2,4G' })
    expect([table?.headingLine, table?.headings, table?.rows.map(({ line }) => line)]).toEqual([3, ['Name', 'Host', 'CPUs', 'RAM'], [4]])
  })
})

it.each([
  'Total',
  'Summe',
  'Gesamt',
  'Gesamtsumme',
  'Zwischensumme',
  'Insgesamt',
  'Somme',
  'Totaux',
  'Sous-total',
  'Suma',
  'Promedio',
  'Total (30)',
  'Total: 30 VMs',
  'Summe 30',
])('a row that sums up those above is no machine: %s', (word) => {
  expect(refused(importOf({ '': `name,vcpu,memory\na,1,1G\n${word},1,1G` }))[0]?.[1][0]).toContain('reads like a sum')
  expect(refused(importOf({ '': `name,vcpu,memory,note\na,1,1G,\n,1,1G,${word}` }))[0]?.[1][0]).toContain('reads like a sum')
})

it.each(['total-watch', 'summer-1', 'gesamtplan', 'count-dooku', 'mediathek', 'sumatra'])('%s is a machine all the same', (name) =>
  expect(importOf({ '': `name,vcpu,memory\n${name},1,1G` }).rows[0]?.is).toBe('new'),
)

describe('columns that hold what another holds', () => {
  it('are several disks, in their order, each in the unit of its own heading; 0 and a dash are none', () => {
    const done = after(importOf({ '': 'Name,vCPU,RAM,Disk 1 (GB),Disk 2 (TB),HDD 3\na,1,1G,40,2,500G\nb,1,1G,40,0,-' }))
    const sizes = (name: string) => disksOf(done, done.byKey('guest', { name })[0]?.id ?? '').map(({ sizeBytes }) => sizeBytes / GiB)
    expect([sizes('a'), sizes('b')]).toEqual([[40, 2048, 500], [40]])
  })

  it('are asked about where only one can be: nothing goes without a word', () => {
    const imported = importOf({ '': 'Name,vCPU,RAM,Memory,Prozessor,Colour\na,1,1G,2G,4,red' })
    expect(imported.leftOut).toEqual([
      { table: 0, heading: 'Memory', cells: 1, ask: { column: 'memory', like: 'RAM' } },
      { table: 0, heading: 'Prozessor', cells: 1, ask: { column: 'vCPU', like: 'vCPU' } },
      { table: 0, heading: 'Colour', cells: 1 },
    ])
  })

  it('of what is used or what sort it is are no sizes and no purpose', () => {
    const { leftOut, rows } = importOf({ '': 'Name,vCPU,RAM,Disk,In Use MB,Disk type,Used for\na,1,1G,40G,9000,SSD,mail' })
    expect([leftOut.map(({ heading }) => heading), rows[0]?.is]).toEqual([['In Use MB', 'Disk type'], 'new'])
  })
})

it('what a table was taken for is said with what it may be instead', () => {
  const [table] = read({ '': 'name,cpu,memory,serial,site\na,2x16,128G,x,studio' })
  expect(table?.guess?.map(({ holds, columns }) => [holds, columns])).toEqual([
    ['host', 5],
    ['guest', 3],
    ['network', 2],
    ['address', 1],
  ])
})

it('headings over two rows are one: what stands over several columns is over theirs', () => {
  const [table] = read({
    '': 'Guests of the studio\nMachine,,Hardware,,,Plugged into,\nName,Host,CPU,RAM,Disk,Network,IP\nweb-1,gannet,2,4G,40G,office,10.61.30.50',
  })
  expect([table?.headingLine, table?.mapping.columns]).toEqual([3, ['name', 'host', 'vCPU', 'memory', 'disks', 'networks', 'addresses']])
  // The name stands in the upper row alone, as in two cells that are one.
  const [upper] = read({ '': 'Name,Hardware,,Disk,\n,CPU,RAM,1 (GB),2 (GB)\nweb-1,2,4G,40,80' })
  expect([upper?.headings, upper?.mapping.columns.slice(3)]).toEqual([
    ['Name', 'CPU', 'RAM', 'Disk 1 (GB)', 'Disk 2 (GB)'],
    ['disks', 'disks'],
  ])
  const [both] = read({ '': 'Name,Hardware,,Disk,\n,CPU,RAM,first (GB),second (GB)\nweb-1,2,4G,40,80' })
  expect([both?.headings, both?.mapping.columns]).toEqual([
    ['Name', 'CPU', 'RAM', 'Disk first (GB)', 'Disk second (GB)'],
    ['name', 'vCPU', 'memory', 'disks', 'disks'],
  ])
})

describe('tables in other languages', () => {
  it.each([
    [
      'German',
      'Rechnername;Wirt;Zustand;Prozessoren;Arbeitsspeicher (GB);Festplatte (GB);Netzwerk;IP-Adresse;MAC-Adresse;Zweck;Eigentümer;Bemerkung',
    ],
    ['French', 'Nom;Hôte;État;Processeurs;Mémoire (GB);Disque (GB);Réseau;Adresse IP;Adresse MAC;Fonction;Propriétaire;Remarque'],
    [
      'Spanish',
      'Nombre;Anfitrión;Estado;Núcleos;Memoria (GB);Disco (GB);Red;Dirección IP;Dirección MAC;Propósito;Propietario;Observaciones',
    ],
    ['without accents', 'Nom;Hote;Etat;Coeurs;Memoire (GB);Disque (GB);Reseau;Adresse IP;Adresse MAC;Role;Proprietaire;Commentaire'],
  ])('%s: the usual columns are known', (_, head) => {
    const imported = importOf({ '': `${head}\nweb-9;gannet;running;2;4;40;office;10.61.30.50;02:1a:4b:00:00:99;mail;Ida;quiet` })
    expect([imported.leftOut, refused(imported)]).toEqual([[], []])
    const guest = after(imported).byKey('guest', { name: 'web-9' })[0]
    expect(guest).toMatchObject({
      vcpu: 2,
      memoryMiB: 4096,
      state: 'running',
      purpose: 'mail',
      owner: 'Ida',
      note: 'quiet',
      hostId: idOf('gannet'),
    })
  })

  it.each([
    ['eingeschaltet', 'running'],
    ['aus', 'stopped'],
    ['démarrée', 'running'],
    ['éteinte', 'stopped'],
    ['encendida', 'running'],
    ['Apagada', 'stopped'],
  ])('a machine that is %s is %s', (word, state) =>
    expect(after(importOf({ '': `name,host,vcpu,memory,state\na,gannet,1,1G,${word}` })).byKey('guest', { name: 'a' })[0]?.state).toBe(
      state,
    ),
  )

  it.each(['DHCP', 'dynamisch', 'dynamic', 'dynamique', 'dinámica', 'automatisch'])(
    'an address that is “%s” is none, and said to be by DHCP',
    (word) => {
      const imported = importOf({ '': `name,vcpu,memory,network,IP\na,1,1G,office,${word}` })
      expect(imported.rows[0]).toMatchObject({ is: 'new', remarks: ['It gets its address by DHCP; none is recorded.'] })
      const made = after(imported)
      const [adapter] = adaptersOf(made, made.byKey('guest', { name: 'a' })[0]?.id ?? '')
      expect([adapter?.networkId, made.referring('address', 'adapterId', adapter?.id ?? '')]).toEqual([idOf('office'), []])
    },
  )

  it('says that a machine by DHCP has no adapter where no network is named', () => {
    const { rows } = importOf({ '': 'name,vcpu,memory,IP\na,1,1G,dynamisch' })
    expect(rows[0]?.remarks).toEqual(['It gets its address by DHCP; no network is named, so no adapter is made for it.'])
  })
})

it('several columns that hold a note are one, each with its heading', () => {
  const table = read({ '': 'name,vcpu,memory,note,colour\na,1,1G,noisy,red' })[0]
  if (!table) throw new Error('no table')
  const columns = [...table.mapping.columns.slice(0, 4), 'note']
  const imported = importTables(estate, [{ ...table, mapping: { ...table.mapping, columns } }], testContext())
  expect(after(imported).byKey('guest', { name: 'a' })[0]?.note).toBe('note: noisy\ncolour: red')
})

it.each(['constructor', 'toString', '__proto__'])('%s is no word for a state', (word) =>
  expect(refused(importOf({ '': `name,vcpu,memory,state\na,1,1G,${word}` }))[0]?.[1][0]).toContain('is none of planned'),
)

it('a day that is told from today is told from the day it is', () =>
  expect(after(importOf({ '': 'name,vcpu,memory,last patched\na,1,1G,yesterday' })).byKey('guest', { name: 'a' })[0]?.patchedOn).toBe(
    '2027-01-17',
  ))

describe('what a table holds', () => {
  it.each<[string, string, TableName]>([
    ['', 'name,vcpu,memory\na,1,1G', 'guest'],
    ['', 'host,sockets,cores,memory,serial,rack\na,2,32,128G,x,R1', 'host'],
    ['', 'network,vlan,prefix,gateway\na,10,10.1.0.0/24,10.1.0.1', 'network'],
    ['', 'ip address,mac,device\n10.61.30.9,02:1a:4b:00:00:77,printer', 'address'],
    ['Hypervisors', 'name,cpu,memory\na,2x16,128G', 'host'],
    ['VLANs', 'name,vlan\na,10', 'network'],
  ])('%s %s', (sheet, text, holds) => expect(read({ [sheet]: text })[0]?.holds).toBe(holds))
})

describe('guests that exist', () => {
  const table =
    'name,host,vcpu,memory,ip,mac,state\nkiosk,gannet,1,1G,10.61.30.120 10.61.40.9,02-1A-4B-00-00-77,on\nold,gannet,1,1G,10.61.30.121,,\nnew,gannet,1,1G,10.61.30.122,,planned'

  it('have the MACs that the table has, and no other: only a planned one gets new ones', () => {
    const made = after(importOf({ '': table }, estate, 'running'))
    const macs = (name: string) => adaptersOf(made, made.byKey('guest', { name })[0]?.id ?? '').map(({ mac }) => mac)
    expect(macs('kiosk')).toEqual(['02:1a:4b:00:00:77', null])
    expect(macs('old')).toEqual([null])
    expect(macs('new')).toEqual([expect.stringMatching(/^02:1a:4b:/)])
    expect(made.byKey('guest', { name: 'old' })[0]?.state).toBe('running')
  })

  it('have an adapter for the network of each of their addresses, and for a VLAN', () => {
    const made = after(
      importOf({
        '': `${table}\nvlans,gannet,1,1G,,,,\n`
          .replace('state\n', 'state,vlan\n')
          .replace('vlans,gannet,1,1G,,,,', 'vlans,gannet,1,1G,,,on,30 40'),
      }),
    )
    const networks = (name: string) =>
      adaptersOf(made, made.byKey('guest', { name })[0]?.id ?? '').map(({ networkId }) => made.find('network', networkId)?.name)
    expect(networks('kiosk')).toEqual(['office', 'studio'])
    expect(networks('vlans')).toEqual(['office', 'studio'])
    expect(made.byKey('address', { ip: '10.61.40.9' })[0]?.kind).toBe('fixed')
  })

  it('that are known are changed where the table says otherwise; devices that differ are left as they are, and named', () => {
    const { commands, rows } = importOf({ '': 'name,owner,disks,networks\nplayout-1,News desk,1T,office\nnewsroom,,,\n' })
    expect(commands).toEqual([{ type: 'guest.update', id: idOf('playout'), changes: { owner: 'News desk' } }])
    expect(rows.map(({ is, remarks }) => [is, remarks])).toEqual([
      ['changed', ['Disks and networks differ from the record and are left as they are: change them on its page.']],
      ['as recorded', []],
    ])
  })

  it('get a MAC that was not known', () => {
    const unknown = applyAll(estate, [{ type: 'adapter.update', id: idOf('newsAdapter'), changes: { mac: null } }], testContext()).estate
    expect(importOf({ '': 'name,mac\nnewsroom,02:1a:4b:00:00:99' }, unknown).commands).toMatchObject([
      { type: 'adapter.update', changes: { mac: '02:1a:4b:00:00:99' } },
    ])
  })

  it('are refused like any command would: a MAC or an address that another has', () => {
    const rows = refused(
      importOf({ '': 'name,vcpu,memory,network,mac,ip\na,1,1G,studio,02:1a:4b:00:00:02,\nb,1,1G,,,10.61.40.2\nc,1,1G,,,10.99.0.1' }),
    )
    expect(rows.map(([line]) => line)).toEqual([2, 3, 4])
    expect(rows[0]?.[1].join(' ')).toContain('02:1a:4b:00:00:02')
    expect(rows[1]?.[1].join(' ')).toContain('10.61.40.2')
    expect(rows[2]?.[1]).toEqual(['10.99.0.1 is in no recorded subnet. Record its network first, or leave the address out.'])
  })

  it('own exports read back unchanged, with line ends of either kind', () => {
    const text = guestsCsv(estate)
    expect(text).toContain('\r\n')
    for (const file of [text, text.replaceAll('\r\n', '\n'), `\uFEFF${text}`])
      expect(importOf({ '': file })).toMatchObject({
        commands: [],
        leftOut: [],
        rows: [{ is: 'as recorded' }, { is: 'as recorded' }, { is: 'as recorded' }],
      })
  })
})

describe('names and systems as people write them', () => {
  it.each([
    ['Büro-Server', 'Buro-Server'],
    ['Straße 7', 'Strasse-7'],
    ['mail & more', 'mail-more'],
    ['Ærø', 'aero'],
  ])('%s is %s', (name, plain) => expect(plainName(name).toLowerCase()).toBe(plain.toLowerCase()))

  it('a name that is none is made one, and said', () => {
    const { rows } = importOf({ '': 'name,vcpu,memory\nBüro Server,1,1G\nweb.skerry.example,1,1G' })
    expect(rows.map(({ name, is, remarks }) => [name, is, remarks])).toEqual([
      ['Buro-Server', 'new', ['“Büro Server” is recorded as Buro-Server.']],
      ['web.skerry.example', 'new', []],
    ])
  })

  const system = (name: string): Command => ({ type: 'system.add', record: { name, minVcpu: 1, minMemoryMiB: 512, minStorageBytes: GiB } })
  const withSystems = applyAll(estate, ['Debian 12', 'Debian 13', 'Plover Server 2022', 'Tidewater'].map(system), testContext(60)).estate
  it.each([
    ['Debian GNU/Linux 12 (64-bit)', 'Debian 12'],
    ['debian12', 'Debian 12'],
    ['Debian 13.1', 'Debian 13'],
    ['PLOVER SERVER 2022', 'Plover Server 2022'],
    ['plover 2022', 'Plover Server 2022'],
    ['Debian', undefined],
    ['Heron 4', undefined],
  ])('system %s', (text, name) => {
    const imported = importOf({ '': `name,vcpu,memory,os\na,1,1G,${text}` }, withSystems)
    const made = after(imported, withSystems)
    const guest = made.byKey('guest', { name: 'a' })[0]
    expect(made.find('system', guest?.systemId)?.name).toBe(name)
    if (name === undefined)
      expect([guest?.note, imported.rows[0]?.remarks]).toEqual([
        `System: ${text}`,
        [`There is no system “${text}”; it is kept in the note.`],
      ])
  })
})

describe('hosts', () => {
  it.each([
    // A drive of 4 TB is 4e12 bytes on its label, in its cell and under a heading alike: IEC 80000-13.
    ['drives', '4 TB'],
    ['Kapazität (GB)', '4000'],
    ['capacité (Go)', '4000'],
    ['Storage (TB)', '4'],
  ])('%s, %s: a store of 4 TB', (heading, cell) => {
    const made = after(importOf({ Hosts: `host,platform,cpu,ram,${heading}\nkittiwake,Brackwater 5,2x16,128 GB,${cell}` }))
    const host = made.byKey('host', { name: 'kittiwake' })[0]
    expect(made.referring('store', 'hostId', host?.id ?? '').map(({ capacityBytes }) => capacityBytes)).toEqual([4 * TB])
  })

  it('with their processors, stores, networks, address and inventory', () => {
    const imported = importOf({
      Hosts:
        'host,platform,cpu,ram,drives,networks,ip,serial,rack,u,warranty until,location\nkittiwake,Brackwater 5,2x16,128 GB,2 x 4 TB + 480 GB,office 40,10.61.30.200,SN-7,B,12,2029-03-31,studio',
    })
    const made = after(imported)
    const host = made.byKey('host', { name: 'kittiwake' })[0]
    expect(host).toMatchObject({
      sockets: 2,
      coresPerSocket: 16,
      memoryMiB: 131_072,
      serial: 'SN-7',
      rack: 'B',
      heightUnit: 12,
      warrantyEndsOn: '2029-03-31',
      site: 'studio',
    })
    const of = <K extends 'store' | 'attachment' | 'address'>(kind: K) => made.referring(kind, 'hostId', host?.id ?? '')
    expect(of('store').map((store) => 'capacityBytes' in store && store.capacityBytes)).toEqual([4 * TB, 4 * TB, 0.48 * TB])
    expect([of('attachment').length, of('address').length]).toEqual([2, 1])
  })

  it.each([
    ['2,64,', undefined, [2, 32]],
    [',32,', undefined, [1, 32]],
    ['3,32,', 'do not divide', undefined],
    [',,16', undefined, [1, 16]],
    [',,many', 'is not read', undefined],
    [',,', 'needs its cores', undefined],
  ])('sockets, cores, cpu: %s', (cells, sentence, is) => {
    const imported = importOf({ Hosts: `host,platform,ram,sockets,cores,cpu\na,Brackwater 5,64G,${cells}` })
    expect(refused(imported)[0]?.[1].join(' ') ?? '').toContain(sentence ?? '')
    const made = after(imported).byKey('host', { name: 'a' })[0]
    expect(made && [made.sockets, made.coresPerSocket]).toEqual(is)
  })
})

it('days are read as people write them, and asked back where they have two readings', () => {
  const imported = importOf({
    Hosts: 'host,platform,cpu,ram,warranty until\na,Brackwater 5,16,64G,31.3.2029\nb,Brackwater 5,16,64G,3/4/2029',
  })
  expect(after(imported).byKey('host', { name: 'a' })[0]?.warrantyEndsOn).toBe('2029-03-31')
  expect(refused(imported)).toEqual([[3, ['“3/4/2029” is 2029-04-03 or 2029-03-04: write the one that is meant.']]])
})

describe('networks', () => {
  it.each([
    ['10.9.0.0/24', '', '10.9.0.0/24'],
    ['10.9.0.1/24', '', '10.9.0.0/24'],
    ['10.9.0.0', '255.255.254.0', '10.9.0.0/23'],
    ['10.9.0.0 255.255.255.0', '', '10.9.0.0/24'],
    ['fd00:9::/64', '', 'fd00:9::/64'],
  ])('%s %s', (prefix, mask, is) => {
    const made = after(importOf({ Networks: `name,vlan,prefix,mask\nlab,90,${prefix},${mask}` }))
    const network = made.byKey('network', { name: 'lab' })[0]
    expect([network?.vlanId, made.referring('subnet', 'networkId', network?.id ?? '')[0]?.prefix]).toEqual([90, is])
  })

  it('a prefix without a length, or of another network, is refused; a VLAN without a name has one made', () => {
    const imported = importOf({ VLANs: 'name,vlan,prefix\na,91,10.9.0.0\nb,92,10.61.30.0/24\nc,93,10.9.0.0/40\n,94,10.94.0.0/24' })
    expect(refused(imported)).toEqual([
      [2, [expect.stringContaining('10.9.0.0')]],
      [3, ['10.61.30.0/24 is recorded already, on office.']],
      [4, [expect.stringContaining('10.9.0.0/40')]],
    ])
    expect(imported.rows.at(-1)).toMatchObject({ name: 'vlan-94', is: 'new' })
  })
})

it('addresses of guests, of hosts and of devices', () => {
  const imported = importOf({
    Addresses:
      'ip,assigned to,name,mac,type\n10.61.30.130,newsroom,,,static\n10.61.30.131,gannet,,,\n10.61.30.132,,Printer 2,02:1a:4b:00:00:78,reservation\n10.61.40.2,playout-1,,,\n10.61.40.2,newsroom,,,',
  })
  expect(imported.rows.map(({ is }) => is)).toEqual(['new', 'new', 'new', 'as recorded', 'refused'])
  expect(refused(importOf({ Addresses: 'ip,assigned to\n10.61.40.2,gannet' }))).toEqual([
    [2, ['10.61.40.2 is recorded already, of adapter 1 of playout-1.']],
  ])
  const made = after(imported)
  expect(made.byKey('address', { ip: '10.61.30.130' })[0]).toMatchObject({ adapterId: idOf('newsAdapter'), kind: 'fixed' })
  expect(made.byKey('address', { ip: '10.61.30.131' })[0]?.hostId).toBe(idOf('gannet'))
  expect(made.byKey('address', { ip: '10.61.30.132' })[0]).toMatchObject({
    name: 'printer-2',
    kind: 'DHCP reservation',
    mac: '02:1a:4b:00:00:78',
  })
})

describe('a workbook', () => {
  const book = {
    Networks: 'network,vlan,prefix,gateway\noffice,30,10.1.30.0/24,10.1.30.1\nlab,40,10.1.40.0/24,10.1.40.1',
    Hosts: 'host,cpu,ram,drives,networks\nkittiwake,2x16,128G,4T,office lab',
    Machines: 'vm,host,cpus,ram gb,disk,ip,colour\nweb-1,kittiwake,2,4,40G,10.1.30.7,red\nweb-2,kittiwake,2,4,40G,10.1.40.7,\n',
    Addresses: 'ip,device\n10.1.30.9,printer',
  }
  const empty = applyAll(
    Estate.fromRecords({ estate: estate.all('estate') }),
    [{ type: 'platform.add', record: { name: 'Brackwater 5' } }],
    testContext(70),
  ).estate

  it('comes in at once, into an empty estate: what a sheet names, another brings', () => {
    const imported = importOf(book, empty)
    expect(imported.rows.map(({ table, is }) => [table, is])).toEqual([
      [0, 'new'],
      [0, 'new'],
      [1, 'new'],
      [2, 'new'],
      [2, 'new'],
      [3, 'new'],
    ])
    const made = after(imported, empty)
    const web = made.byKey('guest', { name: 'web-1' })[0]
    expect([web?.memoryMiB, disksOf(made, web?.id ?? '').map(({ storeId }) => made.find('store', storeId)?.name)]).toEqual([
      4096,
      ['kittiwake-1'],
    ])
    expect(imported.leftOut).toEqual([{ table: 2, heading: 'colour', cells: 1 }])
  })

  it('and again, into what it made: nothing is new', () => {
    const made = after(importOf(book, empty), empty)
    expect(importOf(book, made).commands).toEqual([])
  })
})

it('5,000 rows take a second, and twice as many twice as long', () => {
  const rows = (count: number) =>
    `name,host,vcpu,memory,disks,network\n${Array.from({ length: count }, (_, at) => `web-${at},gannet,1,64M,1G,office`).join('\n')}`
  const time = (count: number) => {
    const tables = read({ '': rows(count) })
    return processorMs(() => expect(importTables(estate, tables, testContext()).rows.filter(({ is }) => is === 'new')).toHaveLength(count))
  }
  time(500)
  const [some, all] = [time(2500), time(5000)]
  // Ten times the second it is to take on an idle machine, and the growth with room for a noisy one.
  expect(all).toBeLessThan(10_000)
  expect(all / some).toBeLessThan(5)
})
