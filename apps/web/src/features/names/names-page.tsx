import { counted, dhcpReservations, fileName, importNames, nameTable, zonesOf, type Differing, type Zone } from '@insel/core'
import { useMemo, useState } from 'react'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { DiffersMark } from '../../ui/differs'
import { Ledger } from '../../ui/ledger'
import { Empty, Page, Part } from '../../ui/page'
import { restOf } from '../../ui/use-line'
import { NetworksNav } from '../frames/networks-nav'

const link = 'link target'

/** Names out, as zone files, hosts lines and DHCP reservations; names in, from a pasted text, by way of a preview. */
export function NamesPage() {
  const { estate, recorded, estateId, basis } = useEstate()
  const zones = useMemo(() => zonesOf(estate), [estate])
  const before = useMemo(
    () => (recorded === estate ? undefined : new Map(zonesOf(recorded).map((zone) => [zone.name, JSON.stringify(zone.names)]))),
    [recorded, estate],
  )
  const howDiffers = (zone: Zone): Differing | undefined =>
    before === undefined || before.get(zone.name) === JSON.stringify(zone.names) ? undefined : before.has(zone.name) ? 'changed' : 'new'
  const { names, unnamed } = useMemo(() => nameTable(estate), [estate])
  const base = `/api/v1/estates/${estateId}/exports`
  const hasDomain = zones.length > 0 || names.some(({ zone }) => zone !== undefined)
  return (
    <Page
      title="DNS"
      about={
        <>
          {counted(names.length, 'name')} in {counted(zones.length, 'zone')}.
          {basis.on === 'item' && ' Files hold what is recorded, not the plan.'}
          <NetworksNav />
        </>
      }
    >
      <div className="grid lg:grid-cols-2 gap-x-10">
        <div>
          <Part title="Zone files">
            {!hasDomain && (
              <Empty>The estate has no domain yet, and no network has a search domain. Add one under Setup, and addresses get names.</Empty>
            )}
            {zones.length > 0 && (
              <Ledger headings={['zone', 'direction', 'names', '.file']}>
                {zones
                  .map((zone) => ({ ...zone, how: howDiffers(zone) }))
                  .map(({ name, kind, names: list, part, how }) => (
                    <tr key={name}>
                      <td className="font-mono wrap-anywhere">
                        {name}
                        {how && <DiffersMark how={how} className="ml-1.5" />}
                      </td>
                      <td>
                        {kind}
                        {part && <span className="block text-faint">part of a /24, RFC 2317</span>}
                      </td>
                      <td>{list.length}</td>
                      <td className="whitespace-nowrap">
                        <a
                          className={link}
                          href={`${base}/zones/${encodeURIComponent(name)}`}
                          download={fileName(name, 'zone')}
                          aria-label={`Zone file of ${name}`}
                        >
                          Zone file
                        </a>
                      </td>
                    </tr>
                  ))}
              </Ledger>
            )}
            <p className="text-dense text-soft mt-1.5">
              Form RFC 1035; the serial is the day and the number of the change, and only grows (RFC 1912).
            </p>
          </Part>
          <Part title="Other formats">
            <ul className="text-dense grid gap-2.5 pt-2">
              <li>
                <a className={link} href={`${base}/hosts.txt`} download="hosts">
                  Lines for hosts(5)
                </a>
              </li>
              <li>
                <a className={link} href={`${base}/addresses.csv`} download="addresses.csv">
                  Address plan, CSV
                </a>
              </li>
              <li>
                {dhcpReservations(estate).length} DHCP reservations:{' '}
                <a className={link} href={`${base}/dhcp.csv`} download="dhcp.csv">
                  CSV
                </a>
                ,{' '}
                <a className={link} href={`${base}/dhcp.json`} download="dhcp.json">
                  JSON
                </a>
                ,{' '}
                <a className={link} href={`${base}/dhcp/dnsmasq.conf`} download="dnsmasq.conf">
                  lines for dnsmasq
                </a>
                ,{' '}
                <a className={link} href={`${base}/dhcp/kea.json`} download="kea.json">
                  JSON for Kea
                </a>
              </li>
            </ul>
          </Part>
          {unnamed.length > 0 && (
            <Part title="Without a name">
              <ul className="text-dense">
                {unnamed.map(({ what, reason }) => (
                  <li key={`${what} ${reason}`} className="border-t border-line first:border-0 py-1">
                    <b className="font-medium">{what}</b> {reason}
                  </li>
                ))}
              </ul>
            </Part>
          )}
        </div>
        <Import />
      </div>
    </Page>
  )
}

function Import() {
  const { estate, basis, submitImport } = useEstate()
  const [text, setText] = useState('')
  const read = useMemo(() => (text.trim() === '' ? undefined : importNames(estate, text, newId)), [estate, text])
  const says = `${read?.commands.length ?? 0} names taken over`
  const forget = () => setText((now) => restOf(now, text))
  const proposal = useProposal({
    commands: read?.commands,
    says,
    ...(basis.on === 'recorded' ? { recordBy: (commands) => submitImport({ kind: 'names', text }, commands, says) } : {}),
    recorded: forget,
    planned: forget,
  })
  return (
    <div>
      <Part title="Import of names">
        <label className="block pt-1">
          <span className="text-soft text-dense">
            Paste hosts(5) lines, a zone file, or CSV with the headings ip and name (mac if you like)
          </span>
          <textarea
            className="field font-mono text-small min-h-40"
            value={text}
            spellCheck={false}
            onChange={(event) => setText(event.target.value)}
          />
        </label>
        {read && (
          <div aria-live="polite">
            <p className="my-1.5">
              Read as {read.form}: {read.commands.length} to record, {read.known} known already, {read.rejected.length} not taken.
            </p>
            {read.rejected.length > 0 && (
              <Ledger headings={['line', 'text', 'why not']}>
                {read.rejected.slice(0, 50).map(({ line, text: said, reason }) => (
                  <tr key={`${line} ${said}`}>
                    <td>{line}</td>
                    <td className="font-mono wrap-anywhere">{said.slice(0, 80)}</td>
                    <td>{reason}</td>
                  </tr>
                ))}
              </Ledger>
            )}
            {read.rejected.length > 50 && <p className="text-faint text-dense">and {read.rejected.length - 50} more</p>}
            {read.commands.length > 0 && (
              <>
                <ProposalFooter proposal={proposal} label={`Record ${read.commands.length}`} />
                <Effect commands={read.commands} />
              </>
            )}
          </div>
        )}
      </Part>
    </div>
  )
}
