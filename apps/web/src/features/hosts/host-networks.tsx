import { kinds, optionLabel, type Host } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../estate/use-record'
import { Part, Trouble } from '../../ui/page'
import { byName, Choice } from '../../ui/choice'
import { Differs } from '../../ui/differs'

export function Networks({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const attachments = estate.referring('attachment', 'hostId', host.id)
  const names = attachments
    .map((attachment) => ({ attachment, network: estate.find('network', attachment.networkId) }))
    .sort((a, b) => (a.network?.vlanId ?? 0) - (b.network?.vlanId ?? 0))
  const others = estate.all('network').filter((network) => !attachments.some((attachment) => attachment.networkId === network.id))
  const carry = (networkId: string) => record([{ type: 'attachment.add', record: { hostId: host.id, networkId } }])
  return (
    <Part title="Attached networks">
      {names.length === 0 && <p className="text-soft py-1">None: its guests cannot reach anything.</p>}
      <ul className="text-dense">
        {names.map(({ attachment, network }) => (
          <li key={attachment.id} className="flex gap-3 py-1 border-t border-line first:border-0">
            <Link className="font-medium name-link w-24 truncate" to={to(`networks/${attachment.networkId}`)}>
              {network?.name}
            </Link>
            <span className="font-mono text-faint w-20">{network?.vlanId ? `VLAN ${network.vlanId}` : 'untagged'}</span>
            <Link className="name-link" to={to(`records/attachment/${attachment.id}`)}>
              {optionLabel(kinds.attachment.fields.kind, attachment.kind)}
            </Link>
            <Differs id={attachment.id} className="ml-1.5" />
          </li>
        ))}
      </ul>
      {others.length > 0 && (
        <Choice
          aria-label="Attach network"
          className="mt-2 !w-56"
          value=""
          choose={(networkId) => void carry(networkId)}
          none="attach network…"
          options={byName(others)}
        />
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}
