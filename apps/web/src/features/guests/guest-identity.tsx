import { sayIdentity, sharersOf, type Guest } from '@insel/core'
import { useEstate } from '../../estate'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { byName, Choice } from '../../ui/choice'
import { Part, Trouble } from '../../ui/page'
import { Mark } from '../../ui/mark'
import { GuestLinks } from './guest-links'

/** Whose identity a guest has, who shares it, and recording that it changed. */
export function GuestIdentity({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  const sharers = sharersOf(estate, guest)
  const set = (identity: Guest['identity'], fromId?: string) =>
    void record([{ type: 'guest.identity', guestId: guest.id, identity, ...(fromId ? { fromId } : {}) }])
  const others = byName(estate.all('guest').filter(({ id, identity }) => id !== guest.id && identity !== 'removed'))
  return (
    <Part title="Identity">
      <p className="text-dense py-1 flex gap-2 items-baseline">
        {guest.identity === 'copied' && <Mark of="warning" />}
        <span className="first-letter:uppercase">{sayIdentity(estate, guest)}.</span>
      </p>
      {sharers.length > 0 && (
        <p className="text-dense break-words">
          Shared with <GuestLinks guests={sharers} />.
        </p>
      )}
      <details className="text-dense mt-1">
        <summary className="text-accent min-h-7 content-center">Record another</summary>
        <div className="flex flex-wrap gap-2 items-center my-1">
          {(guest.identity !== 'its own' || sharers.length > 0) && <Button onClick={() => set('its own')}>It has its own now</Button>}
          {guest.identity !== 'removed' && <Button onClick={() => set('removed')}>It was removed</Button>}
          <Choice
            options={others}
            none="copied from …"
            value=""
            choose={(id: string) => id !== '' && set('copied', id)}
            aria-label="Its identity is copied from"
            className="!w-44"
          />
        </div>
      </details>
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}
