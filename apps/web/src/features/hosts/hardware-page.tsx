import { formatField, kinds, rackPlace, type Field, type Host } from '@insel/core'
import { Fragment } from 'react'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { Part } from '../../ui/page'
import { HostFrame } from './host-frame'
import { Materials } from './host-materials'
import { Nesting } from './host-nesting'
import { Power } from './host-power'
import { Processor } from './host-processor'
import { Verdict } from './host-verdict'
import { Modules } from './memory-modules'

/** A host's hardware in full, beside whether it will do for its platform and what the build still needs. */
export function HardwarePage() {
  const { to } = usePaths()
  return (
    <HostFrame actions={(host) => <ButtonLink to={to(`records/host/${host.id}`)}>Change</ButtonLink>}>
      {(host) => (
        <div className="beside [--beside:420px]">
          <div>
            <Processor host={host} />
            <Modules host={host} />
            <Boards host={host} />
            <Inventory host={host} />
            <Power host={host} />
          </div>
          <div>
            <Verdict host={host} />
            <Materials host={host} />
            <Nesting host={host} />
          </div>
        </div>
      )}
    </HostFrame>
  )
}

/** What identifies the machine itself, where it stands, and until when its maker answers for it. */
function Inventory({ host }: { host: Host }) {
  const { estate } = useEstate()
  const fields = kinds.host.fields as Readonly<Record<string, Field>>
  const names = ['serial', 'assetTag', 'rack', 'purchasedOn', 'warrantyEndsOn', 'controllerAddress'] as const
  return (
    <Part title="Inventory">
      <dl className="facts [--label:176px] gap-y-1 text-dense py-1">
        {names.map((name) => {
          const field = fields[name]
          const value = name === 'rack' ? rackPlace(host) || null : host[name]
          return (
            field && (
              <Fragment key={name}>
                <dt className="text-faint">{field.label}</dt>
                <dd className="break-all">{value === null ? 'not recorded' : formatField(estate, field, value)}</dd>
              </Fragment>
            )
          )
        })}
      </dl>
    </Part>
  )
}

function Boards({ host }: { host: Host }) {
  return (
    <Part title="Firmware and controllers">
      <dl className="facts [--label:176px] gap-y-1 text-dense py-1">
        <dt className="text-faint">Firmware mode</dt>
        <dd>{host.firmware ?? 'not recorded'}</dd>
        <dt className="text-faint">Secure boot</dt>
        <dd>{host.secureBoot ?? 'not recorded'}</dd>
        <dt className="text-faint">Storage controllers</dt>
        <dd className="font-mono">{host.controllers ?? 'not recorded'}</dd>
      </dl>
    </Part>
  )
}
