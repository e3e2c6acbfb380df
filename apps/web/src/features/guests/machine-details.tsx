import { disksOf, formatBytes, isOpenMove, kinds, migrationNames, type Field, type Guest } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { Ledger } from '../../ui/ledger'
import { Part } from '../../ui/page'

/** What matters of a machine when it is moved: how its disks are laid out, what is tied to it, and the moves it has been through. */
export function MachineDetails({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const hardware = estate.referring('hardware', 'guestId', guest.id)[0]
  const disks = disksOf(estate, guest.id)
  const volumes = disks.flatMap((disk) => estate.referring('volume', 'diskId', disk.id).map((volume) => ({ disk, volume })))
  const moves = [...estate.referring('migration', 'guestId', guest.id), ...estate.referring('migration', 'becomesId', guest.id)]
  const open = moves.filter(isOpenMove)
  if (guest.kind !== 'external' && !hardware && volumes.length === 0 && moves.length === 0) return null
  const facts = Object.entries(kinds.hardware.fields as Readonly<Record<string, Field>>).flatMap(([name, field]) => {
    const value = (hardware as Readonly<Record<string, unknown>> | undefined)?.[name]
    return name === 'guestId' || value === null || value === undefined || value === '' || value === 'unknown'
      ? []
      : [[field.label, String(value)] as const]
  })
  return (
    <>
      <Part
        title="Details for a move"
        aside={
          <ButtonLink
            look="quiet"
            className="!min-h-7"
            to={to(hardware ? `records/hardware/${hardware.id}` : `records/hardware/new?guestId=${guest.id}`)}
          >
            {hardware ? 'Change' : 'Add details'}
          </ButtonLink>
        }
      >
        {facts.length === 0 && (
          <p className="text-soft py-1">Nothing recorded: serial number, partition table, controller, what is tied to it.</p>
        )}
        <dl className="facts text-dense">
          {facts.map(([label, value]) => (
            <div key={label} className="contents">
              <dt>{label}</dt>
              <dd className="wrap-anywhere">{value}</dd>
            </div>
          ))}
        </dl>
      </Part>
      {disks.length > 0 && (
        <Part
          title="Volumes"
          aside={
            <ButtonLink look="quiet" className="!min-h-7" to={to(`records/volume/new?diskId=${disks[0]?.id ?? ''}`)}>
              Add volume
            </ButtonLink>
          }
        >
          {volumes.length === 0 && <p className="text-soft py-1">None recorded: a disk is moved whole.</p>}
          {volumes.length > 0 && (
            <Ledger headings={['volume', 'disk', 'file system', 'size', 'used', 'moved', '.change']}>
              {volumes.map(({ disk, volume }) => (
                <tr key={volume.id}>
                  <td className="font-medium break-words">{volume.name}</td>
                  <td>{disk.position}</td>
                  <td>{volume.fileSystem}</td>
                  <td className="font-mono whitespace-nowrap">{formatBytes(volume.sizeBytes)}</td>
                  <td className="font-mono whitespace-nowrap">{volume.usedBytes === null ? '' : formatBytes(volume.usedBytes)}</td>
                  <td>{volume.isTaken ? 'yes' : 'left'}</td>
                  <td>
                    <Link className="link target" to={to(`records/volume/${volume.id}`)}>
                      change<span className="sr-only"> {volume.name}</span>
                    </Link>
                  </td>
                </tr>
              ))}
            </Ledger>
          )}
        </Part>
      )}
      {moves.length > 0 && (
        <Part title={open.length > 0 ? 'Moves, one under way' : 'Moves'}>
          <ul>
            {moves.map((move) => {
              const { guest: from, to: target, becomes } = migrationNames(estate, move)
              return (
                <li key={move.id} className="border-t border-line first:border-0 py-1 text-dense">
                  <Link className="link" to={to(`migrations/${move.id}`)}>
                    {from} to {becomes ?? target}
                  </Link>
                  , {move.method}, {move.state}
                </li>
              )
            })}
          </ul>
        </Part>
      )}
    </>
  )
}
