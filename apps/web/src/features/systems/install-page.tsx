import {
  devicePlanOf,
  checkDevices,
  finishInstall,
  installSheet,
  sheetOf,
  statesAfter,
  type Command,
  type Estate,
  type Guest,
  type StepTool,
} from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Empty, Trouble } from '../../ui/page'
import { ImageChoice } from '../sheets/image-choice'
import { SheetView } from '../sheets/sheet-view'
import { GuestFrame } from '../frames/guest-frame'

/** The install sheet of a guest: derived from its plan, ticked off, printed; it ends with the guest’s verification. */
export function InstallPage() {
  return (
    <GuestFrame
      actions={() => (
        <Button className="print:hidden" onClick={() => window.print()}>
          Print
        </Button>
      )}
    >
      {(guest) =>
        guest.kind === 'external' ? (
          <Empty>An external machine has no install sheet; add the guest it will become, and install that.</Empty>
        ) : (
          <InstallSheet key={guest.id} guest={guest} />
        )
      }
    </GuestFrame>
  )
}

function InstallSheet({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const sheet = sheetOf(estate, 'guestId', guest.id)
  const canInstall = statesAfter(guest.state).includes('being installed')
  const needsPower = guest.kind === 'machine' && canInstall
  return (
    <>
      {!sheet && guest.state === 'running' && (
        <p className="text-soft text-dense mb-2 max-w-[70ch]">
          {guest.name} is running already. You can still use the sheet: skip past steps with a reason; its verification counts.
        </p>
      )}
      <SheetView
        sheet={sheet}
        built={installSheet(estate, guest, sheet)}
        work={{
          of: 'guestId',
          id: guest.id,
          name: guest.name,
          title: 'Install sheet',
          words: {
            done: guest.verifiedAt ? 'Installed and verified' : 'Installed, not verified',
            doing: 'Installing',
            start: 'Start the install',
            work: 'Install',
            again: 'Start a new install',
          },
          onStart: needsPower ? [{ type: 'guest.update', id: guest.id, changes: { state: 'being installed' } }] : [],
          onFinish: (of, states, at) => finishInstall(guest, of, states, at),
          tool: (tool) => <GuestTool guest={guest} tool={tool} />,
        }}
      />
    </>
  )
}

/** The commands that put every device right that its system has no driver for. */
function mends(estate: Estate, guest: Guest): readonly Command[] {
  const plan = devicePlanOf(estate, guest)
  const host = estate.find('host', guest.hostId)
  const ids = { disk: plan.disks as readonly { id?: string }[], adapter: plan.adapters as readonly { id?: string }[] }
  return checkDevices(plan, estate.find('system', guest.systemId), estate.find('platform', host?.platformId), host)
    .filter(({ severity }) => severity === 'error')
    .flatMap(({ mend }): readonly Command[] => {
      if (mend?.what === 'guest') return [{ type: 'guest.update', id: guest.id, changes: mend.changes }]
      if (mend?.what === 'disk') return [{ type: 'disk.update', id: ids.disk[mend.at]?.id ?? '', changes: mend.changes }]
      return mend ? [{ type: 'adapter.update', id: ids.adapter[mend.at]?.id ?? '', changes: mend.changes }] : []
    })
}

/** What a step of the install sheet needs besides being ticked. */
function GuestTool({ guest, tool }: { guest: Guest; tool: StepTool }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const press = (label: string, commands: readonly Command[]) => (
    <Button className="!min-h-7 my-1" disabled={commands.length === 0} onClick={() => void record(commands)}>
      {label}
    </Button>
  )
  const update = (changes: Partial<Omit<Guest, 'id'>>): readonly Command[] => [{ type: 'guest.update', id: guest.id, changes }]
  const body = () => {
    switch (tool) {
      case 'guest image':
        return <ImageOfGuest guest={guest} record={record} />
      case 'devices': {
        const commands = mends(estate, guest)
        return commands.length > 0 ? press('Use the working devices', commands) : null
      }
      case 'attach':
        return guest.mediumId && (!guest.mediumConnected || guest.bootFirst === 'disk')
          ? press('Record it as attached, connected and first', update({ mediumConnected: true, bootFirst: 'medium' }))
          : null
      case 'eject':
        return guest.mediumId || guest.bootFirst !== 'disk'
          ? press('Record it as ejected, disk first', update({ mediumId: null, bootFirst: 'disk' }))
          : null
      case 'state':
        return (
          <span className="flex flex-wrap gap-3 text-dense items-center">
            <Link className="link" to={to(`records/guest/${guest.id}`)}>
              Change the plan
            </Link>
            {guest.state === 'planned' && press('Record it as being installed', update({ state: 'being installed' }))}
          </span>
        )
      default:
        return null
    }
  }
  return (
    <>
      {body()}
      {trouble && <Trouble>{trouble}</Trouble>}
    </>
  )
}

function ImageOfGuest({ guest, record }: { guest: Guest; record: ReturnType<typeof useRecord>['record'] }) {
  const { estate } = useEstate()
  return (
    <ImageChoice
      chosen={estate.find('image', guest.mediumId)}
      images={estate.all('image').filter(({ platformId }) => platformId === null)}
      strange={({ systemId }) => (systemId && systemId !== guest.systemId ? 'of another system' : undefined)}
      newImage={guest.systemId ? `?systemId=${guest.systemId}` : ''}
      choose={(mediumId) =>
        void record([
          {
            type: 'guest.update',
            id: guest.id,
            changes: { mediumId, ...(mediumId ? { mediumConnected: true, bootFirst: 'medium' as const } : {}) },
          },
        ])
      }
    />
  )
}
