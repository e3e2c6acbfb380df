import type { Host } from '@insel/core'
import { useState } from 'react'
import { useEstate } from '../../estate'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Part, Trouble } from '../../ui/page'
import { Choice } from '../../ui/choice'

export function Addresses({ host }: { host: Host }) {
  const { estate } = useEstate()
  const [subnetId, setSubnetId] = useState('')
  const { record, trouble } = useRecord()
  const addresses = estate.referring('address', 'hostId', host.id)
  const management = estate.all('network').find((network) => network.role === 'management')
  const subnets = [...estate.all('subnet')].sort((a, b) => Number(b.networkId === management?.id) - Number(a.networkId === management?.id))
  const chosen = subnetId || subnets[0]?.id
  const assign = async () => {
    if (chosen) await record([{ type: 'address.assign', hostId: host.id, subnetId: chosen, kind: 'fixed' }])
  }
  const release = (addressId: string) => record([{ type: 'address.release', addressId }])
  return (
    <Part title="Management addresses">
      {addresses.map((address) => (
        <p key={address.id} className="flex items-center gap-3 text-dense">
          <span className="font-mono">{address.ip}</span> <span className="text-faint">{address.kind}</span>
          <Button look="quiet" className="!min-h-7" onClick={() => void release(address.id)} aria-label={`Release ${address.ip}`}>
            Release
          </Button>
        </p>
      ))}
      {addresses.length === 0 && <p className="text-soft py-1">None recorded.</p>}
      {subnets.length > 0 && (
        <div className="flex flex-wrap gap-2 mt-2">
          <Choice
            className="!w-56"
            aria-label="Subnet for a management address"
            value={chosen ?? ''}
            choose={setSubnetId}
            options={subnets.map(({ id, prefix, networkId }) => [id, `${prefix} ${estate.find('network', networkId)?.name ?? ''}`])}
          />
          <Button onClick={() => void assign()}>Assign next free</Button>
        </div>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}
