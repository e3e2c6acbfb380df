import {
  optionLabel,
  kinds,
  counted,
  addressOwner,
  compareIps,
  fixedInPool,
  formatNumber,
  nextFree,
  prefixOf,
  usableCount,
  type Subnet,
} from '@insel/core'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../estate/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { Ledger } from '../../ui/ledger'
import { Empty, Page, Part, Trouble } from '../../ui/page'
import { RemovedPage } from '../records/removed'
import { AddressMap } from '../addresses/address-map'
import { SeenPanel } from './seen-panel'
import { FindingsOf } from '../findings/findings-of'
import { DiffersNote } from '../proposals/differs-note'
import { History } from '../logbook/history'
import { Differs } from '../../ui/differs'

/** One network: its subnets with DHCP ranges and addresses, who carries it, findings and history. */
export function NetworkPage() {
  const { id = '' } = useParams()
  const { estate } = useEstate()
  const { to } = usePaths()
  const network = estate.find('network', id)
  if (!network) return <RemovedPage kind="network" id={id} />
  const subnets = [...estate.referring('subnet', 'networkId', id)].sort(
    (a, b) => prefixOf(a).family - prefixOf(b).family || (prefixOf(a).first < prefixOf(b).first ? -1 : 1),
  )
  const attachments = estate.referring('attachment', 'networkId', id)
  const addressIds = subnets.flatMap((subnet) => estate.referring('address', 'subnetId', subnet.id).map((address) => address.id))
  return (
    <Page
      title={network.name}
      of={network.id}
      about={`Network for ${network.role}, ${network.vlanId ? `VLAN ${network.vlanId}` : 'untagged'}, MTU ${network.mtu}${network.site ? `, at ${network.site}` : ''}`}
      isWide
      actions={
        <>
          <ButtonLink look="primary" to={to(`records/subnet/new?networkId=${id}`)}>
            Add subnet
          </ButtonLink>
          <ButtonLink to={to(`networks/reach?from=${encodeURIComponent(`network ${network.name}`)}&to=outside`)}>Who it reaches</ButtonLink>
          <ButtonLink to={to(`records/network/${id}`)}>Change</ButtonLink>
        </>
      }
    >
      <DiffersNote of={network.id} />
      <div className="beside [--beside:320px]">
        <div className="min-w-0">
          {subnets.length === 0 && <Empty>It has no subnet yet, so no address can be assigned on it.</Empty>}
          {subnets.map((subnet) => (
            <SubnetPart key={subnet.id} subnet={subnet} />
          ))}
          <History id={id} />
        </div>
        <div>
          <FindingsOf ids={[id, ...subnets.map((subnet) => subnet.id), ...addressIds]} />
          <SeenPanel />
          <Part title="Attached hosts">
            {attachments.length === 0 && <p className="text-soft py-1">No host is attached yet. Attach it on a host’s page.</p>}
            <ul className="text-dense max-h-96 overflow-y-auto">
              {attachments.map((attachment) => (
                <li key={attachment.id} className="flex gap-3 py-1 border-t border-line first:border-0">
                  <Link className="font-medium name-link w-32 truncate" to={to(`hosts/${attachment.hostId}`)}>
                    {estate.find('host', attachment.hostId)?.name}
                  </Link>
                  <Link className="name-link" to={to(`records/attachment/${attachment.id}`)}>
                    {optionLabel(kinds.attachment.fields.kind, attachment.kind)}
                    {attachment.switchId && ` by ${estate.find('switch', attachment.switchId)?.name ?? ''}`}
                  </Link>
                  <Differs id={attachment.id} className="ml-1.5" />
                </li>
              ))}
            </ul>
          </Part>
        </div>
      </div>
    </Page>
  )
}

function SubnetPart({ subnet }: { subnet: Subnet }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  // Hundreds of rows that nobody sees would be worked out again with every change.
  const [isListed, setListed] = useState(false)
  const pools = estate.referring('pool', 'subnetId', subnet.id)
  const addresses = [...estate.referring('address', 'subnetId', subnet.id)].sort((a, b) => compareIps(a.ip, b.ip))
  const usable = usableCount(prefixOf(subnet))
  return (
    <Part
      title={subnet.prefix}
      aside={
        <>
          <ButtonLink look="quiet" className="!min-h-7" to={to(`records/pool/new?subnetId=${subnet.id}`)}>
            Add DHCP range
          </ButtonLink>
          <ButtonLink
            look="quiet"
            className="!min-h-7"
            to={to(`records/address/new?subnetId=${subnet.id}&kind=reserved&ip=${nextFree(estate, subnet) ?? ''}`)}
          >
            Reserve an address
          </ButtonLink>
          <ButtonLink look="quiet" className="!min-h-7" to={to(`records/subnet/${subnet.id}`)}>
            Change
          </ButtonLink>
        </>
      }
    >
      <p className="text-dense text-soft py-1.5">
        {usable < 10n ** 9n ? `${formatNumber(Number(usable), 0)} usable, ` : ''}
        {addresses.length} recorded, next free {subnet.handOut}, gateway{' '}
        <span className="font-mono text-ink">{subnet.gateway ?? 'none'}</span>, name servers{' '}
        <span className="font-mono text-ink">{subnet.nameServers ?? 'none'}</span>
        {pools.map((pool) => (
          <span key={pool.id}>
            , DHCP range{' '}
            <Link className="font-mono text-ink hover:underline" to={to(`records/pool/${pool.id}`)}>
              {pool.first} to {pool.last}
            </Link>
          </span>
        ))}
      </p>
      <AddressMap subnet={subnet} />
      {addresses.length > 0 && (
        <details className="mt-3" onToggle={(event) => setListed(event.currentTarget.open)}>
          <summary className="text-accent min-h-7">{counted(addresses.length, 'address', 'addresses')} as a list</summary>
          <Ledger headings={['address', 'of', 'kind', '.release']}>
            {(isListed ? addresses : []).map((address) => (
              <tr key={address.id}>
                <td className="font-mono">
                  <Link className="name-link" to={to(`records/address/${address.id}`)}>
                    {address.ip}
                  </Link>
                  <Differs id={address.id} className="ml-1.5" />
                </td>
                <td>{addressOwner(estate, address)}</td>
                <td className={fixedInPool(estate, address) ? 'text-error' : ''}>
                  {address.kind}
                  {fixedInPool(estate, address) ? ', in a DHCP range' : ''}
                </td>
                <td>
                  <Button
                    look="quiet"
                    className="!min-h-7"
                    aria-label={`Release ${address.ip} from the list`}
                    onClick={() => void record([{ type: 'address.release', addressId: address.id }])}
                  >
                    Release
                  </Button>
                </td>
              </tr>
            ))}
          </Ledger>
        </details>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}
