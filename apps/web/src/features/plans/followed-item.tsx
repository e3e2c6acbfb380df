import { commandsOf, counted, migrationNames, type Command, type Item } from '@insel/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { useGo } from '../../lib/use-go'
import { Button } from '../../ui/button'

/** What follows an item that was begun: the batch of its copies, or its move. */
export function useFollowing({ id }: Pick<Item, 'id'>) {
  const { recorded } = useEstate()
  return (
    recorded.referring('batch', 'itemId', id)[0] ??
    recorded.referring('migration', 'itemId', id).findLast(({ state }) => state !== 'cancelled' && state !== 'rolled back')
  )
}

/** For an item of copies or of a move: what follows them, or the way to begin it. */
export function FollowedItem({
  item,
  record,
  className = '!min-h-7',
}: {
  item: Item
  record: (commands: readonly Command[]) => Promise<boolean>
  className?: string
}) {
  const { recorded } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const [id] = useState(newId)
  const batch = recorded.referring('batch', 'itemId', item.id)[0]
  if (item.kind === 'move') return <MoveOfItem item={item} record={record} className={className} />
  if (item.kind !== 'copies') return null
  if (batch) {
    const copies = recorded.referring('copy', 'batchId', batch.id)
    const up = copies.filter(({ state }) => state === 'in service').length
    return (
      <p className="text-dense my-1">
        Followed in batch{' '}
        <Link className="link target" to={to(`clones/${batch.id}`)}>
          {batch.name}
        </Link>
        : {up} of {counted(copies.length, 'copy', 'copies')} in service.
      </p>
    )
  }
  const begin = async () => {
    if (await record([{ type: 'batch.begin', id, name: item.title.slice(0, 120), itemId: item.id }])) await go(to(`clones/${id}`))
  }
  return (
    <Button className={className} onClick={() => void begin()}>
      Begin, and follow each copy<span className="sr-only"> of {item.title}</span>
    </Button>
  )
}

/** For an item of one move: the move that follows it, or the way to begin it. */
function MoveOfItem({
  item,
  record,
  className,
}: {
  item: Item
  record: (commands: readonly Command[]) => Promise<boolean>
  className: string
}) {
  const { recorded } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const [id] = useState(newId)
  const moves = recorded.referring('migration', 'itemId', item.id)
  const move = moves.findLast(({ state }) => state !== 'cancelled' && state !== 'rolled back')
  if (move)
    return (
      <p className="text-dense my-1">
        Followed as{' '}
        <Link className="link target" to={to(`migrations/${move.id}`)}>
          migration of {migrationNames(recorded, move).guest}
        </Link>
        : {move.state}.
      </p>
    )
  // Several moves in one item are carried out in one go.
  if (commandsOf(item).filter(({ type }) => type === 'guest.migrate').length !== 1) return null
  const begin = async () => {
    const previousId = moves.at(-1)?.id ?? null
    if (await record([{ type: 'migration.begin', id, itemId: item.id, previousId }])) await go(to(`migrations/${id}`))
  }
  return (
    <Button className={className} onClick={() => void begin()}>
      Begin, and follow the move<span className="sr-only"> of {item.title}</span>
    </Button>
  )
}
