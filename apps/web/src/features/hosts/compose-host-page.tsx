import type { Estate } from '@insel/core'
import {
  applyAll,
  chosenFields,
  CommandError,
  fieldsOfLike,
  partsOfLike,
  partsOfNewHost,
  memoryBudget,
  platformOf,
  readHostLine,
  storesOfNewHost,
  surveyHost,
  vcpuBudget,
  type Command,
  type Host,
  type HostSpec,
  type NewRecord,
} from '@insel/core'
import { useMemo, useState } from 'react'
import { useSearchParams } from 'react-router'
import { useEstate } from '../../estate'
import { ids, newId } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { useGo } from '../../lib/use-go'
import { now } from '../../lib/time'
import { useToday } from '../../estate/today'
import { ButtonLink } from '../../ui/button'
import { Effect } from '../proposals/effect'
import { Working } from '../figures/figure-view'
import { Empty, Page, Part } from '../../ui/page'
import { SpecInput } from '../lines/spec-input'
import { RecordForm } from '../records/record-form'
import { ShippedPlatforms } from '../setup/shipped-platforms'
import { SurveyLines, VerdictWord } from './survey-view'

const FIELDS = chosenFields('host')(
  [
    'name',
    'kind',
    'outerGuestId',
    'site',
    'state',
    'platformId',
    'model',
    'processorModel',
    'cpuFlags',
    'sockets',
    'coresPerSocket',
    'threadsPerCore',
    'memoryMiB',
    'failoverReserveMiB',
    'firmware',
    'drawWatts',
    'managementMac',
    'tags',
    'note',
  ],
  [
    // Of what is in it and around it: the hardware page.
    'clockMHz',
    'memorySlots',
    'controllers',
    'mounting',
    'powerSupplies',
    'circuit',
    'circuitVolts',
    'circuitAmps',
    'serial',
    'assetTag',
    'rack',
    'heightUnit',
    'purchasedOn',
    'warrantyEndsOn',
    'controllerAddress',
    // Of its build and its checks, once it is there.
    'secureBoot',
    'imageId',
    'stickBytes',
    'stickMayBeErased',
    'atHand',
    'fingerprint',
    'trialEndsOn',
    'isRouter',
  ],
)

/** A new host on one page: the line on top, the fields filled from it, what it could carry beside them. */
export function ComposeHostPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const [line, setLine] = useState('')
  const [id] = useState(newId)
  const names = useMemo(
    () => ({ platforms: estate.all('platform').map((one) => one.name), networks: estate.all('network').map((one) => one.name) }),
    [estate],
  )
  const { spec, parts } = useMemo(() => readHostLine(line, names), [line, names])
  const [params] = useSearchParams()
  const like = estate.find('host', params.get('like'))
  const record = useMemo(() => recordOf(estate, spec, like), [estate, spec, like])
  if (estate.count('platform') === 0)
    return (
      <Page title="New host">
        <Empty
          action={
            <>
              <ShippedPlatforms />
              <ButtonLink to={to('records/platform/new')}>Add platform</ButtonLink>
            </>
          }
        >
          A host runs a platform: use one of the two profiles that come with Insel, or add one with its overheads and limits.
        </Empty>
      </Page>
    )
  return (
    <Page
      title={like ? `New host like ${like.name}` : 'New host'}
      about={
        like &&
        `It gets what ${like.name} has: modules (planned), drives without serials, arrays, ports without MACs and cables, switches, networks and stores of its own.`
      }
    >
      <SpecInput
        value={line}
        onChange={setLine}
        parts={parts}
        label="The host in a line"
        placeholder={
          like ? 'the name of the new host' : 'kittiwake 2x16 4x32G drives 6x3.84T ports 4x10G at studio runs Brackwater-5 net mgmt,office'
        }
        hint="Name, sockets x cores, memory (4x32G for modules), +store, drives 6x4T, ports 4x10G:eno1, at SITE, runs PLATFORM, net A,B, ordered. Or fill the fields."
      />
      <div className="mt-4">
        <RecordForm
          kind="host"
          fieldNames={FIELDS}
          record={record}
          saveLabel="Add host"
          beside={{ text: line, take: setLine }}
          commandsOf={(values) => commandsFor(estate, id, spec, values, like)}
          unread={parts.find(({ problem }) => problem)?.problem}
          recorded={() => go(to(`hosts/${id}`))}
          planAt="board"
          aside={(commands) => (
            <>
              <WhatItCarries commands={commands} />
              <WillItDo commands={commands} />
              <Effect commands={commands} withDifference={false} />
            </>
          )}
        />
      </div>
    </Page>
  )
}

/** The fields as the line fills them; a single platform is taken without being named. */
function recordOf(estate: Estate, spec: HostSpec, like: Host | undefined): object {
  const platforms = estate.all('platform')
  const platform = platforms.find((one) => one.name === spec.platform) ?? (platforms.length === 1 ? platforms[0] : undefined)
  const { networks: _, stores: _s, platform: _p, modules: _m, drives: _d, ports: _o, ...fields } = spec
  return { ...(like ? { ...fieldsOfLike(like), state: 'on order' } : {}), ...fields, ...(platform ? { platformId: platform.id } : {}) }
}

function commandsFor(
  estate: Estate,
  hostId: string,
  spec: HostSpec,
  values: Readonly<Record<string, unknown>>,
  like: Host | undefined,
): readonly Command[] {
  const host = { ...(like ? fieldsOfLike(like) : {}), ...(values as NewRecord<'host'>), id: hostId }
  const attached = new Set(like ? estate.referring('attachment', 'hostId', like.id).map(({ networkId }) => networkId) : [])
  const networks = estate.all('network').filter(({ id, name }) => spec.networks.includes(name) && !attached.has(id))
  return [
    { type: 'host.add', record: host },
    ...(like ? partsOfLike(estate, like, { id: hostId, name: String(values['name']) }, ids, spec) : []),
    ...partsOfNewHost({ id: hostId, memorySlots: host.memorySlots ?? null }, spec, ids),
    ...storesOfNewHost(estate, { id: hostId, name: String(values['name']) }, spec.stores, ids),
    ...networks.map((network): Command => ({ type: 'attachment.add', record: { hostId, networkId: network.id } })),
  ]
}

/** The estate with what is to be recorded; as it is where that cannot be recorded yet. */
function withCommands(estate: Estate, commands: readonly Command[]): Estate {
  try {
    return applyAll(estate, commands, { newId, now: now(), revision: 0 }).estate
  } catch (error) {
    if (error instanceof CommandError) return estate
    throw error
  }
}

/** The host as it would be, alone, for a first verdict before it is bought. */
function WillItDo({ commands }: { commands: readonly Command[] | undefined }) {
  const { estate } = useEstate()
  const today = useToday()
  const add = commands?.[0]
  const survey = useMemo(
    () => (commands && add?.type === 'host.add' ? surveyHost(withCommands(estate, commands), add.record as Host, today) : undefined),
    [estate, commands, add, today],
  )
  if (!survey) return null
  return (
    <Part title="Compatibility" aside={<VerdictWord survey={survey} />}>
      <SurveyLines survey={survey} />
    </Part>
  )
}

/** What the host would have to give, before any guest is on it. */
function WhatItCarries({ commands }: { commands: readonly Command[] | undefined }) {
  const { estate } = useEstate()
  const add = commands?.[0]
  if (add?.type !== 'host.add') return null
  const host = add.record as Host
  const platform = estate.find('platform', host.platformId)
  if (!platform) return null
  const alone = estate.with({ added: { [host.id]: { kind: 'host', record: host } }, updated: {}, removed: {} })
  const processors = vcpuBudget(alone, host)
  return (
    <Part title="Capacity">
      <div className="py-2">
        <Working figure={memoryBudget(alone, host).availableForGuests} title={`Memory for guests, with ${platformOf(alone, host).name}`} />
        <p className="mt-3 text-dense">
          {processors.cores} cores, {processors.logical} logical CPUs: up to {processors.ceilingVcpu} general vCPU.
        </p>
      </div>
    </Part>
  )
}
