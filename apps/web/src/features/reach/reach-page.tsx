import { protocols, readEnd, type Protocol, type ReachQuestion } from '@insel/core'
import { useSearchParams } from 'react-router'
import { useReach } from '../../estate/checks'
import { useEstate } from '../../estate'
import { useSetQueryParam } from '../../lib/query-param'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { useTyped } from '../../lib/use-typed'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { Empty, Page, Part, Trouble } from '../../ui/page'
import { AttachmentChooser } from '../networks/attachment-chooser'
import { EndInput } from './end-input'
import { NetworksNav } from '../frames/networks-nav'
import { PathView } from './path-view'
import { PingPanel } from './ping-panel'
import { ReachMatrix } from './reach-matrix'
import { TrafficRules } from './traffic-rules'

/** Who reaches whom: one question with its path, all groups against each other, ping as a machine would see it, which attachment. */
export function ReachPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  return (
    <Page
      title="Reachability"
      about={
        <>
          Computed from segments, attachments, routers and filters. Where cabling is not recorded, a bridged network is assumed to leave its
          host.
          <NetworksNav />
        </>
      }
      isWide
    >
      {estate.count('network') === 0 ? (
        <Empty action={<ButtonLink to={to('records/network/new')}>Add network</ButtonLink>}>No network is recorded yet.</Empty>
      ) : (
        <>
          <Question />
          <ReachMatrix />
          <div className="grid lg:grid-cols-2 gap-x-10 max-w-[1240px]">
            <PingPanel />
            <AttachmentChooser />
          </div>
          <TrafficRules />
        </>
      )}
    </Page>
  )
}

/** The question that the page's address holds; undefined while a part of it cannot be read. */
function useQuestion() {
  const { estate } = useEstate()
  const [params] = useSearchParams()
  const setParam = useSetQueryParam()
  const [from, to, port] = [params.get('from') ?? '', params.get('to') ?? '', params.get('port') ?? '']
  const wanted = params.get('protocol') ?? 'icmp'
  const protocol: Protocol = protocols.find((one) => one === wanted) ?? 'icmp'
  const ends = [readEnd(estate, from), readEnd(estate, to)] as const
  const isPortRead = protocol === 'icmp' || (/^\d+$/.test(port) && Number(port) >= 1 && Number(port) <= 65535)
  const question: ReachQuestion | undefined =
    ends[0] && ends[1] && isPortRead
      ? { from: ends[0].id, to: ends[1].id, protocol, ...(protocol === 'icmp' ? {} : { port: Number(port) }) }
      : undefined
  return { from, to, port, protocol, isPortRead, question, setParam }
}

function Question() {
  const { from, to, port, protocol, isPortRead, question, setParam } = useQuestion()
  const typedPort = useTyped(port, (text) => setParam('port', text))
  const asked = useReach(question)
  const data = question ? asked.data : undefined
  const answer = data?.ok ? data.answer : undefined
  const fix = answer?.failure?.fix
  const proposal = useProposal({ commands: fix })
  return (
    <Part title="From … to …">
      <div className="flex flex-wrap gap-3 items-start pt-2 max-w-[1100px]">
        <EndInput label="From" value={from} onChange={(value) => setParam('from', value)} />
        <EndInput label="To" value={to} onChange={(value) => setParam('to', value)} />
        <label className="block w-28">
          <span className="text-soft text-dense">With</span>
          <select className="field" value={protocol} onChange={(event) => setParam('protocol', event.target.value)}>
            {protocols.map((one) => (
              <option key={one} value={one}>
                {one === 'icmp' ? 'ping' : one}
              </option>
            ))}
          </select>
        </label>
        {protocol !== 'icmp' && (
          <label className="block w-24">
            <span className="text-soft text-dense">Port</span>
            <input className="field font-mono" inputMode="numeric" {...typedPort.field} aria-invalid={!isPortRead} />
            {!isPortRead && <span className="text-small text-error">1 to 65535</span>}
          </label>
        )}
      </div>
      <div aria-live="polite" className="max-w-[1100px]">
        {data && !data.ok && <Trouble>{data.sentence}</Trouble>}
        {answer && (
          <>
            <p className={`my-2 text-lead font-medium ${answer.reaches ? 'text-notice' : 'text-error'}`} role="status">
              {answer.reaches ? `Reaches ${answer.target ?? ''}, and the answer comes back.` : 'Does not reach.'}
            </p>
            <div className="grid md:grid-cols-2 gap-x-10 gap-y-4">
              <PathView hops={answer.there} title="There" failure={answer.failure?.direction === 'there' ? answer.failure : undefined} />
              {(answer.back.length > 0 || answer.failure?.direction === 'back') && (
                <PathView hops={answer.back} title="Back" failure={answer.failure?.direction === 'back' ? answer.failure : undefined} />
              )}
            </div>
            {answer.remarks.map((remark) => (
              <p key={remark} className="text-warning text-dense my-1">
                {remark}
              </p>
            ))}
            {answer.failure && (
              <div className="border-l-2 border-error pl-3 my-2">
                <p>
                  <b className="font-medium">How to fix it:</b> {answer.failure.mend}
                </p>
                {fix && fix.length > 0 && <ProposalFooter proposal={proposal} label="Apply fix" />}
              </div>
            )}
          </>
        )}
      </div>
    </Part>
  )
}
