import type { Estate } from '@insel/core'
import {
  chosenFields,
  memoryBudget,
  platformOf,
  readHostLine,
  surveyHost,
  vcpuBudget,
  type Command,
  type Host,
  type HostSpec,
  type NewRecord,
} from '@insel/core'
import { useMemo, useState } from 'react'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { useGo } from '../../lib/use-go'
import { useToday } from '../../lib/today'
import { ButtonLink } from '../../ui/button'
import { Effect } from '../proposals/effect'
import { Working } from '../figures/figure-view'
import { Empty, Page, Part } from '../../ui/page'
import { SpecInput } from '../compose/spec-input'
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
  const record = useMemo(() => recordOf(estate, spec), [estate, spec])
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
    <Page title="New host">
      <SpecInput
        value={line}
        onChange={setLine}
        parts={parts}
        label="The host in a line"
        placeholder="kittiwake 2x16 128G +7.68T at studio runs Brackwater-5 net mgmt,office"
        hint="Name, sockets x cores, memory, +store, at SITE, runs PLATFORM, net A,B; ordered for one on order. Or fill the fields."
      />
      <div className="mt-4">
        <RecordForm
          kind="host"
          fieldNames={FIELDS}
          record={record}
          saveLabel="Add host"
          commandsOf={(values) => commandsFor(estate, id, spec, values)}
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
function recordOf(estate: Estate, spec: HostSpec): object {
  const platforms = estate.all('platform')
  const platform = platforms.find((one) => one.name === spec.platform) ?? (platforms.length === 1 ? platforms[0] : undefined)
  const { networks: _, stores: __, platform: ___, ...fields } = spec
  return { ...fields, ...(platform ? { platformId: platform.id } : {}) }
}

function commandsFor(estate: Estate, hostId: string, spec: HostSpec, values: Readonly<Record<string, unknown>>): readonly Command[] {
  const networks = estate.all('network').filter((network) => spec.networks.includes(network.name))
  const taken = new Set(estate.all('store').map((store) => store.name))
  const storeName = (index: number) => {
    const base = `${String(values['name'])}-${index + 1}`
    return taken.has(base) ? `${base}-store` : base
  }
  return [
    { type: 'host.add', record: { ...(values as NewRecord<'host'>), id: hostId } },
    ...spec.stores.map((capacityBytes, index): Command => ({
      type: 'store.add',
      record: { name: storeName(index), hostId, capacityBytes },
    })),
    ...networks.map((network): Command => ({ type: 'attachment.add', record: { hostId, networkId: network.id } })),
  ]
}

/** The host as it would be, alone, for a first verdict before it is bought. */
function WillItDo({ commands }: { commands: readonly Command[] | undefined }) {
  const { estate } = useEstate()
  const today = useToday()
  const add = commands?.[0]
  if (add?.type !== 'host.add') return null
  const survey = surveyHost(estate, add.record as Host, today)
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
