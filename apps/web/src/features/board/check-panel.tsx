import { useEstate } from '../../estate'
import { Key } from '../../ui/button'
import { Mark } from '../findings/mark'
import type { Carrying } from './use-carrying'

/** While a guest is carried: what fits on the host under it, what does not, and by how much, in words. */
export function CheckPanel({ carrying }: { carrying: Carrying }) {
  const { estate } = useEstate()
  const guest = estate.find('guest', carrying.guestId)
  const host = estate.find('host', carrying.overHostId)
  return (
    <div role="status" aria-live="polite">
      {guest && (
        <div className="fixed bottom-4 left-1/2 -translate-x-1/2 z-30 w-[min(520px,calc(100vw-32px))] bg-sheet border border-accent rounded-md shadow-lg p-4">
          <h2 className="mb-2">
            {guest.name} {host ? `to ${host.name}` : 'is carried'}
          </h2>
          {!host && <p className="text-soft">Not over a host. Release to leave it where it is.</p>}
          {host && host.id === guest.hostId && <p className="text-soft">It is on this host already. Choose another.</p>}
          {carrying.proposal?.fit.lines.map((line) => (
            <p key={line.sentence} className="flex gap-2 items-baseline py-0.5 text-dense">
              <Mark of={line.verdict} /> {line.sentence}
            </p>
          ))}
          <p className="text-faint text-small mt-2">
            Release, or press <Key>Enter</Key>, to add it to the plan; <Key>Esc</Key> cancels. The record does not change.
          </p>
        </div>
      )}
    </div>
  )
}
