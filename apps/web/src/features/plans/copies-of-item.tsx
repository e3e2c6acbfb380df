import { counted, type Command, type Item } from '@insel/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { useGo } from '../../lib/use-go'
import { Button } from '../../ui/button'

/** The batch in which the copies of an item are followed. */
export const useBatchOf = ({ id }: Pick<Item, 'id'>) => useEstate().recorded.referring('batch', 'itemId', id)[0]

/** For an item of copies: the batch that follows them, or the way to begin one. */
export function CopiesOfItem({
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
  const batch = useBatchOf(item)
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
