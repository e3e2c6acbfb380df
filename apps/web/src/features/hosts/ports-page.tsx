import {
  alikePorts,
  counted,
  formatMbps,
  type Host,
  inNameOrder,
  managementPlan,
  type Port,
  portRoles,
  portsOf,
  proposeRoles,
  rolePlan,
} from '@insel/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { ids } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../estate/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { Ledger } from '../../ui/ledger'
import { Mark } from '../../ui/mark'
import { Empty, Part, Trouble } from '../../ui/page'
import { Tick } from '../../ui/tick'
import { AlikeLine } from './alike-line'
import { HostFrame } from './host-frame'
import { ManagementCheck } from './management-check'
import { PortMap } from './port-map'
import { Differs } from '../../ui/differs'

/** Which port of a host carries what, drawn and listed; and the check of what an installer shows of its network. */
export function PortsPage() {
  const { to } = usePaths()
  return (
    <HostFrame
      actions={(host) => (
        <ButtonLink look="primary" to={to(`records/port/new?hostId=${host.id}`)}>
          Add port
        </ButtonLink>
      )}
    >
      {(host) => (
        <div className="beside [--beside:420px]">
          <div>
            <Ports host={host} />
            <Switches host={host} />
          </div>
          <div>
            <Roles host={host} />
            <Part title="Installer screen">
              <ManagementCheck host={host} />
            </Part>
          </div>
        </div>
      )}
    </HostFrame>
  )
}

function Ports({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const ports = portsOf(estate, host)
  const proposal = proposeRoles(estate, host)
  const setRole = (port: Port, role: string) =>
    record([{ type: 'port.update', id: port.id, changes: { role: role === '' ? null : (role as NonNullable<Port['role']>) } }])
  const [isShown, setShown] = useState(false)
  const takeProposal = async () => {
    const commands = [...proposal].map(([id, role]) => ({ type: 'port.update' as const, id, changes: { role } }))
    if (await record(commands, 'Roles as proposed')) setShown(false)
  }
  const several = (
    <AlikeLine label="Several ports alike" placeholder="4 x 10G fibre ens1f0" read={(text) => alikePorts(estate, host, text, ids)} />
  )
  if (ports.length === 0)
    return (
      <>
        <Empty action={<ButtonLink to={to(`hosts/${host.id}/found`)}>Collect from the machine</ButtonLink>}>
          No port is recorded yet. Add each with its speed and whether a cable is in it, or collect them with a script.
        </Empty>
        {several}
      </>
    )
  return (
    <>
      <Part
        title="Port map"
        aside={
          proposal.size > 0 ? (
            <Button look="quiet" className="!min-h-7" onClick={() => setShown(true)}>
              Propose roles for {counted(proposal.size, 'port')}
            </Button>
          ) : undefined
        }
      >
        {isShown && proposal.size > 0 && (
          <div className="border-l-2 border-accent pl-3 my-2 text-dense" role="group" aria-label="Proposed roles">
            <ul>
              {ports.flatMap(({ id, name, speedMbps }) => {
                const role = proposal.get(id)
                return role === undefined ? [] : [<li key={id}>{`${name} (${formatMbps(speedMbps)}): ${role}`}</li>]
              })}
            </ul>
            <span className="flex gap-2 mt-1">
              <Button look="primary" className="!min-h-7" onClick={() => void takeProposal()}>
                Record these roles
              </Button>
              <Button className="!min-h-7" onClick={() => setShown(false)}>
                Leave them
              </Button>
            </span>
          </div>
        )}
        <PortMap host={host} />
      </Part>
      <Part title={`Ports, ${ports.length}`}>
        <Ledger headings={['name', 'carries', 'cable', 'speed', 'medium', 'MAC', 'driver']}>
          {ports.map((port) => (
            <tr key={port.id}>
              <td>
                <Link className="font-mono name-link" to={to(`records/port/${port.id}`)}>
                  {port.name}
                </Link>
                <Differs id={port.id} className="ml-1.5" />
              </td>
              <td>
                <select
                  className="field !min-h-7 !py-0 !w-36"
                  aria-label={`What ${port.name} carries`}
                  value={port.role ?? ''}
                  onChange={(event) => void setRole(port, event.target.value)}
                >
                  <option value="">nothing yet</option>
                  {portRoles.map((role) => (
                    <option key={role}>{role}</option>
                  ))}
                </select>
              </td>
              <td>
                <label className="inline-flex items-center gap-1.5 min-h-7">
                  <Tick
                    isTicked={port.cable === 'present'}
                    onTick={(isTicked) =>
                      record([{ type: 'port.update', id: port.id, changes: { cable: isTicked ? 'present' : 'missing' } }])
                    }
                  />
                  {port.cable}
                  <span className="sr-only"> in {port.name}</span>
                </label>
              </td>
              <td className="font-mono whitespace-nowrap">{formatMbps(port.speedMbps)}</td>
              <td className={port.medium === 'wireless' ? 'text-error' : ''}>{port.medium === 'wireless' ? 'Wi-Fi' : port.medium}</td>
              <td className="font-mono">{port.mac ?? ''}</td>
              <td className="font-mono">{port.driver ?? ''}</td>
            </tr>
          ))}
        </Ledger>
        {several}
        {trouble && <Trouble>{trouble}</Trouble>}
      </Part>
    </>
  )
}

/** The virtual switches of a host: their uplinks, what they carry here and at the far end. */
function Switches({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const switches = inNameOrder(estate.referring('switch', 'hostId', host.id))
  return (
    <Part
      title="Switches"
      aside={
        <ButtonLink look="quiet" className="!min-h-7" to={to(`records/switch/new?hostId=${host.id}`)}>
          Add switch
        </ButtonLink>
      }
    >
      {switches.length === 0 ? (
        <p className="text-soft text-dense py-1">
          None is recorded: bridged networks are taken to leave {host.name}. Record them, and VLANs, MTU and uplinks are checked at both
          ends.
        </p>
      ) : (
        <Ledger headings={['switch', 'uplinks', 'bond', 'VLANs', 'MTU', 'networks']}>
          {switches.map((one) => (
            <tr key={one.id}>
              <td>
                <Link className="font-mono name-link" to={to(`records/switch/${one.id}`)}>
                  {one.name}
                </Link>
              </td>
              <td>
                {estate.referring('port', 'switchId', one.id).map((port) => (
                  <span key={port.id} className="block">
                    <Link className="font-mono name-link" to={to(`records/port/${port.id}`)}>
                      {port.name}
                    </Link>
                    <Differs id={port.id} className="ml-1.5" />
                    <span className="text-faint">
                      {' '}
                      {port.farEnd ? `to ${port.farEnd}` : ''}
                      {port.farVlans ? `, there ${port.farVlans}` : ''}
                    </span>
                  </span>
                ))}
                {estate.referring('port', 'switchId', one.id).length === 0 && <span className="text-warning">none</span>}
              </td>
              <td>{one.bond}</td>
              <td className="font-mono">
                {one.taggedVlans ?? ''}
                {one.nativeVlan === null ? '' : ` native ${one.nativeVlan}`}
              </td>
              <td>{one.mtu}</td>
              <td>
                {estate
                  .referring('attachment', 'switchId', one.id)
                  .map(({ networkId }) => estate.find('network', networkId)?.name ?? '')
                  .join(', ')}
              </td>
            </tr>
          ))}
        </Ledger>
      )}
    </Part>
  )
}

function Roles({ host }: { host: Host }) {
  const { estate } = useEstate()
  const plan = managementPlan(estate, host)
  const roles = rolePlan(estate, host)
  return (
    <Part title="Port roles">
      <ul>
        {roles.map(({ role, ports, wanted, remarks }) => (
          <li key={role} className="py-1.5 border-t border-line first:border-0 text-dense">
            <p className="flex gap-3">
              <b className="font-medium w-28 shrink-0">{role}</b>
              <span className="font-mono flex-1">{ports.map(({ name }) => name).join(', ') || 'no port'}</span>
              <span className="text-faint">{wanted > ports.length ? `usual: ${wanted}` : ''}</span>
            </p>
            {remarks.map((remark) => (
              <p key={remark} className="flex gap-2 mt-0.5">
                <span className="pt-0.5">
                  <Mark of="remark" />
                </span>
                {remark}
              </p>
            ))}
          </li>
        ))}
      </ul>
      <p className="text-dense text-soft mt-1">
        {plan.ip ? (
          <>
            Management is planned at <span className="font-mono text-ink">{`${plan.ip}/${plan.length ?? ''}`}</span>
          </>
        ) : (
          'No address is planned for management'
        )}
        {plan.networkName && ` in ${plan.networkName}, ${plan.vlanId ? `VLAN ${plan.vlanId}` : 'untagged'}`}, as{' '}
        <span className="font-mono text-ink">{plan.fullName}</span>.
      </p>
    </Part>
  )
}
