import {
  docOf,
  composeMachine,
  formatBytes,
  formatMiB,
  integer,
  kinds,
  readVolumes,
  type Command,
  type Field,
  type FoundHost,
  type Guest,
  type MachineDraft,
} from '@insel/core'
import { useMemo, useState } from 'react'
import { useFoundReading } from '../../estate/checks'
import { useEstate } from '../../estate'
import { ids } from '../../lib/context'
import { useKey } from '../../lib/keys'
import { usePaths } from '../../lib/paths'
import { useGo } from '../../lib/use-go'
import { Page, Part } from '../../ui/page'
import { Reading } from '../found/reading'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { FieldLine } from '../records/field-input'
import { inputText, inputValue } from '../records/field-text'

const OF_MACHINE = ['name', 'purpose', 'systemId', 'vcpu', 'memoryMiB', 'firmware', 'secureBoot', 'trustedModule'] as const
const OF_HARDWARE = [
  'serial',
  'partitionTable',
  'sectorSize',
  'controller',
  'clock',
  'services',
  'licences',
  'devices',
  'encryption',
  'recoveryKeyAt',
  'data',
  'drivers',
] as const
const NOTHING: FoundHost = { modules: [], drives: [], ports: [], addresses: [], fileSystems: [] }
type Texts = Readonly<Record<string, string>>

const guestFields = kinds.guest.fields as Readonly<Record<string, Field>>
const hardwareFields = kinds.hardware.fields as Readonly<Record<string, Field>>

/** A physical machine, typed or read from what its own tools print: disks, volumes, adapters, and what is tied to it. */
export function MachinePage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const [texts, setTexts] = useState<Texts>({})
  const [pasted, setPasted] = useState({ text: '', taking: 0 })
  const [volumeLines, setVolumeLines] = useState('')
  const [diskLines, setDiskLines] = useState('')
  const reading = useFoundReading(pasted.taking, pasted.text, undefined).data
  const found = reading?.found ?? NOTHING
  const volumes = useMemo(() => readVolumes(volumeLines), [volumeLines])
  const typedDisks = useMemo(() => readDisks(diskLines), [diskLines])
  const foundTexts: Texts = useMemo(
    () => ({
      ...(found.name ? { name: found.name.split('.')[0] ?? '' } : {}),
      ...(found.memoryMiB ? { memoryMiB: `${found.memoryMiB} MiB` } : {}),
      ...(found.coresPerSocket ? { vcpu: String((found.sockets ?? 1) * found.coresPerSocket * (found.threadsPerCore ?? 1)) } : {}),
      ...(found.firmware ? { firmware: found.firmware } : {}),
      ...(found.secureBoot ? { secureBoot: String(found.secureBoot === 'on') } : {}),
    }),
    [found],
  )
  const textOf = (name: string, fields: Readonly<Record<string, Field>>) => {
    const field = fields[name]
    return texts[name] ?? foundTexts[name] ?? (field && 'default' in field ? inputText(field, field.default) : '')
  }
  const drives = typedDisks.disks.length > 0 ? typedDisks.disks : found.drives
  const { values, problems } = useMemo(() => {
    const read: Record<string, unknown> = {}
    const wrong: Record<string, string> = {}
    for (const [names, fields] of [
      [OF_MACHINE, guestFields],
      [OF_HARDWARE, hardwareFields],
    ] as const)
      for (const name of names) {
        const field = fields[name]
        if (!field) continue
        const one = inputValue(field, texts[name] ?? foundTexts[name] ?? ('default' in field ? inputText(field, field.default) : ''))
        if ('value' in one) read[name] = one.value
        else wrong[name] = one.sentence
      }
    return { values: read, problems: wrong }
  }, [texts, foundTexts])
  const isReadable = Object.keys(problems).length === 0 && volumes.problems.length === 0 && typedDisks.problems.length === 0
  const commands = useMemo((): readonly Command[] | undefined => {
    if (!isReadable) return undefined
    const of = (names: readonly string[]) => Object.fromEntries(names.map((name) => [name, values[name]]))
    const draft = {
      guest: of(OF_MACHINE),
      hardware: of(OF_HARDWARE),
      drives,
      ports: found.ports,
      addresses: found.addresses,
      volumes: volumes.volumes,
    } as unknown as MachineDraft
    return composeMachine(estate, draft, ids)
  }, [estate, isReadable, values, drives, found, volumes])
  const machineId = (list: readonly Command[] | undefined) => (list?.[0] as { record?: Pick<Guest, 'id'> } | undefined)?.record?.id ?? ''
  const proposal = useProposal({ commands, recorded: (recorded) => go(to(`guests/${machineId(recorded)}`)), planAt: 'board' })
  useKey('mod+Enter', () => void proposal.record())
  const line = (name: string, fields: Readonly<Record<string, Field>>) => {
    const field = fields[name]
    return (
      field && (
        <FieldLine
          key={name}
          className="first:border-0"
          name={name}
          estate={estate}
          field={field}
          doc={docOf(fields === guestFields ? 'guest' : 'hardware', name)}
          text={textOf(name, fields)}
          problem={(texts[name] ?? '') === '' && !(name in foundTexts) ? undefined : problems[name]}
          setText={(text) => setTexts((before) => ({ ...before, [name]: text }))}
        />
      )
    )
  }
  return (
    <Page
      title="Add physical machine"
      about="A machine outside any host that is to become a guest, or that a guest is to go to. Type it, or paste what its own tools print."
    >
      <form
        className="beside"
        noValidate
        onSubmit={(event) => {
          event.preventDefault()
          void proposal.record()
        }}
      >
        <div>
          <Part title="What its tools print">
            <label htmlFor="machine-text" className="text-dense text-soft">
              Paste the output of lscpu, lsblk, ip, free, df, dmidecode or lshw, several one after the other
            </label>
            <textarea
              id="machine-text"
              className="field font-mono text-small mt-1 !h-28 w-full"
              spellCheck={false}
              placeholder={'lsblk --json --bytes -o +MODEL,SERIAL,TYPE,ROTA\nip -json address'}
              value={pasted.text}
              onChange={(event) => setPasted(({ taking }) => ({ text: event.target.value, taking: taking + 1 }))}
            />
            {reading && pasted.text.trim() !== '' && <Reading reading={reading} />}
          </Part>
          <Part title="Machine">{OF_MACHINE.map((name) => line(name, guestFields))}</Part>
          <Part title="Disks and volumes">
            <label className="block text-dense my-1">
              <span className="text-soft">Disks, a size each; those that were read above are taken where this is empty</span>
              <input
                className="field font-mono"
                value={diskLines}
                placeholder="250 GB, 1 TB"
                onChange={(event) => setDiskLines(event.target.value)}
              />
            </label>
            {typedDisks.problems.map((sentence) => (
              <p key={sentence} role="alert" className="text-error text-dense">
                {sentence}
              </p>
            ))}
            <label className="block text-dense my-1">
              <span className="text-soft">
                Volumes, as df -T prints them or a line each: disk, name, file system, size, used; “leave” at the end for one that is not
                moved
              </span>
              <textarea
                className="field font-mono !h-20 w-full"
                placeholder={'1 / ext4 80G 19G\n1 /srv ext4 120G 42G\n1 /old ext3 30G 21G leave'}
                value={volumeLines}
                onChange={(event) => setVolumeLines(event.target.value)}
              />
            </label>
            {volumes.problems.map(({ line: number, sentence }) => (
              <p key={number} role="alert" className="text-error text-dense">
                Line {number}: {sentence}
              </p>
            ))}
          </Part>
          <Part title="Details for a move">{OF_HARDWARE.map((name) => line(name, hardwareFields))}</Part>
          <ProposalFooter proposal={proposal} label="Add physical machine" isReady={commands !== undefined} isForm />
        </div>
        <div>
          <Part title="Read">
            <ul className="text-dense">
              {drives.map((drive, index) => (
                <li key={`${drive.name} ${index}`}>
                  Disk {index + 1}: {formatBytes(drive.bytes)} {drive.kind} {drive.serial && `serial ${drive.serial}`}
                </li>
              ))}
              {found.ports.map((port) => (
                <li key={port.name}>
                  Adapter {port.name}: <span className="font-mono">{port.mac ?? 'MAC unknown'}</span>{' '}
                  {found.addresses
                    .filter((address) => address.port === port.name)
                    .map(({ ip }) => ip)
                    .join(', ')}
                </li>
              ))}
              {volumes.volumes.map((volume) => (
                <li key={`${volume.disk} ${volume.name}`}>
                  Volume {volume.name} on disk {volume.disk}: {formatBytes(volume.sizeBytes)}
                  {volume.usedBytes !== null && `, ${formatBytes(volume.usedBytes)} used`}
                  {!volume.isTaken && ', left'}
                </li>
              ))}
              {found.memoryMiB && <li>Memory {formatMiB(found.memoryMiB)}</li>}
            </ul>
            {drives.length === 0 && <p className="text-soft text-dense">No disk yet: without one nothing can be copied.</p>}
          </Part>
          {commands && <Effect commands={commands} withDifference={false} />}
        </div>
      </form>
    </Page>
  )
}

/** Disks typed by their sizes, as they are on their labels. */
function readDisks(text: string): { readonly disks: FoundHost['drives']; readonly problems: readonly string[] } {
  const parts = text
    .split(/[,;]/)
    .map((part) => part.trim())
    .filter((part) => part !== '')
  const readings = parts.map((part) => inputValue(diskField, part))
  return {
    disks: readings.flatMap((reading, index) => ('value' in reading ? [{ name: `disk ${index + 1}`, bytes: Number(reading.value) }] : [])),
    problems: readings.flatMap((reading) => ('sentence' in reading ? [reading.sentence] : [])),
  }
}
const diskField: Field = integer({ label: 'Disks', doc: 'Sizes as on the labels.', unit: 'bytes', min: 1, isLabel: true })
