import { buildSheet, isToCome, sheetOf, type Host } from '@insel/core'
import { useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { SheetView } from '../sheets/sheet-view'
import { HostFrame } from './host-frame'
import { StepTool } from './step-tool'

/** The build sheet of a host: derived from its plan, ticked off over days, printed on a page or two. */
export function BuildPage() {
  return (
    <HostFrame
      actions={() => (
        <Button className="print:hidden" onClick={() => window.print()}>
          Print
        </Button>
      )}
    >
      {(host) => <BuildSheet key={host.id} host={host} />}
    </HostFrame>
  )
}

function BuildSheet({ host }: { host: Host }) {
  const { estate } = useEstate()
  const sheet = sheetOf(estate, 'hostId', host.id)
  return (
    <SheetView
      sheet={sheet}
      built={buildSheet(estate, host, sheet)}
      work={{
        of: 'hostId',
        id: host.id,
        name: host.name,
        title: 'Build sheet',
        words: { done: 'Built', doing: 'Building', start: 'Start the build', work: 'Build', again: 'Start a new build' },
        next: isToCome(host)
          ? { label: `Put ${host.name} in service`, commands: [{ type: 'host.update', id: host.id, changes: { state: 'in service' } }] }
          : undefined,
        tool: (tool, allow) => <StepTool host={host} tool={tool} allow={allow} />,
      }}
    />
  )
}
