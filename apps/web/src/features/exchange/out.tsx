import {
  type Guest,
  guestMarkdown,
  guestsCsv,
  guestTableLeavesOut,
  inNameOrder,
  kinds,
  ovfVersions,
  recordsCsv,
  recordTables,
  writeOvf,
} from '@insel/core'
import { useEstate } from '../../estate'
import { download, fileName } from '../../lib/files'
import { usePaths } from '../../lib/paths'
import { useQueryParam } from '../../lib/query-param'
import { Button, ButtonLink } from '../../ui/button'
import { Part } from '../../ui/page'
import { byName, Choice } from '../../ui/choice'

/** Guests, out: descriptors, tables, sheets. */
export function Out() {
  const { estate, estateId, revision } = useEstate()
  const { to } = usePaths()
  const [id, setId] = useQueryParam('guest')
  const guests = inNameOrder(estate.all('guest'))
  const guest = estate.find('guest', id) ?? guests[0]
  const save = (of: Guest, ending: string, text: string, type: string) => download(fileName(of.name, ending), text, type)
  return (
    <>
      <Part title="Export a guest">
        {!guest && <p className="text-soft py-1">No guest is recorded yet.</p>}
        {guest && (
          <div className="grid gap-2 py-2 text-dense">
            <label className="inline-flex items-center gap-2">
              Guest
              <Choice className="!w-64" value={guest.id} choose={setId} options={byName(guests)} />
            </label>
            <span className="flex flex-wrap gap-2">
              {ovfVersions.map((version) => (
                <Button key={version} onClick={() => save(guest, 'ovf', writeOvf(estate, guest, version), 'application/xml')}>
                  OVF descriptor {version}
                </Button>
              ))}
              <Button onClick={() => save(guest, 'md', guestMarkdown(estate, guest), 'text/markdown')}>Sheet as Markdown</Button>
              <ButtonLink to={to(`guests/${guest.id}/install`)}>Sheet to print</ButtonLink>
            </span>
            <p className="text-faint">
              A descriptor describes the machine, not the content of its disks. Fields the standard lacks go in a section other tools
              ignore.
            </p>
          </div>
        )}
      </Part>
      <Part title="Export tables">
        <div className="my-2 flex flex-wrap gap-2">
          <Button onClick={() => download('guests.csv', guestsCsv(estate), 'text/csv')}>Guests as CSV</Button>
          {recordTables.map((kind) => (
            <Button key={kind} onClick={() => download(fileName(kinds[kind].plural, 'csv'), recordsCsv(estate, kind), 'text/csv')}>
              {`${kinds[kind].plural.charAt(0).toUpperCase()}${kinds[kind].plural.slice(1)} as CSV`}
            </Button>
          ))}
        </div>
        <p className="text-faint text-dense mb-1">
          The table of guests leaves out: {guestTableLeavesOut().join('; ')}. The whole estate as a file has everything.
        </p>
        <p className="text-faint text-dense">
          For scripts: <span className="font-mono break-all">/api/v1/estates/{estateId}/exports/guests.csv</span>, hosts.csv, networks.csv,
          stores.csv, addresses.csv; revision {revision}.
        </p>
      </Part>
      <ForTools />
    </>
  )
}

const TOOLS = [
  ['ssh_config', 'for ssh to include, ssh_config(5)'],
  ['inventory.yaml', 'an Ansible inventory, in groups by kind, site, group, role and tag'],
  ['targets.json', 'targets that Prometheus discovers in a file; port=9200 for another port'],
  ['ethers', 'MACs for /etc/ethers, ethers(5)'],
] as const

/** The record at stable addresses, for the tools around it. */
function ForTools() {
  const { estateId } = useEstate()
  const base = `/api/v1/estates/${estateId}/exports`
  return (
    <Part title="For other tools">
      <p className="text-soft text-dense py-1">
        The machines in service, always as they are recorded now, at addresses that stay. Each has an ETag; filters are those of any list,
        such as <span className="font-mono">?of=guests&amp;tags=web</span>.
      </p>
      <ul className="text-dense">
        {TOOLS.map(([name, what]) => (
          <li key={name} className="py-0.5">
            <a className="link font-mono" href={`${base}/${name}`}>
              {name}
            </a>{' '}
            <span className="text-soft">{what}</span>
          </li>
        ))}
      </ul>
    </Part>
  )
}
