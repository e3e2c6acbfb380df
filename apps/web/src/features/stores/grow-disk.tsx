import { counted, formatBytes, parseSize, reprovision, storeBudget, type Disk, type Guest } from '@insel/core'
import { Popover } from 'radix-ui'
import { useState } from 'react'
import { useEstate } from '../../estate'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Trouble } from '../../ui/page'

/** Extends a disk, with what has to be done inside the guest after it, as a larger disk alone gives no room; or makes it thick or thin. */
export function GrowDisk({ disk, guest }: { disk: Disk; guest: Guest }) {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  const [text, setText] = useState('')
  const [isOpen, setOpen] = useState(false)
  const reading = text.trim() === '' ? undefined : parseSize(text, 'disk')
  const bytes = reading?.ok ? reading.bytes : undefined
  const store = estate.find('store', disk.storeId)
  const family = estate.find('system', guest.systemId)?.family ?? 'linux'
  const snapshots = estate.referring('snapshot', 'guestId', guest.id).length
  const more = bytes === undefined ? 0 : bytes - disk.sizeBytes
  const exposure = store ? storeBudget(estate, store).exposure.value + (disk.provisioning === 'thin' ? more : 0) : 0
  const extend = async () => {
    if (bytes === undefined) return
    if (await record([{ type: 'guest.resize', guestId: guest.id, diskId: disk.id, sizeBytes: bytes }])) setOpen(false)
  }
  return (
    <Popover.Root open={isOpen} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button look="quiet" className="!min-h-7 !px-1">
          Extend<span className="sr-only"> disk {disk.position}</span>
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={`Extend disk ${disk.position}`}
          align="end"
          sideOffset={4}
          className="z-30 bg-sheet border border-rule rounded-md shadow-lg p-4 w-[420px] max-w-[95vw] text-dense"
        >
          <form
            className="flex gap-2 items-center"
            onSubmit={(event) => {
              event.preventDefault()
              void extend()
            }}
          >
            <label className="inline-flex gap-2 items-center">
              New size
              <input
                className="field font-mono !w-28"
                value={text}
                placeholder={formatBytes(disk.sizeBytes)}
                onChange={(event) => setText(event.target.value)}
              />
            </label>
            <Button type="submit" look="primary" className="!min-h-7" disabled={bytes === undefined || more <= 0}>
              Record the new size
            </Button>
          </form>
          {reading && !reading.ok && <p className="text-error mt-1">{reading.sentence}</p>}
          {bytes !== undefined && more <= 0 && (
            <p className="text-error mt-1">A disk only grows; it has {formatBytes(disk.sizeBytes)} now.</p>
          )}
          {more > 0 && store && exposure > 0 && (
            <p className="text-warning mt-1">
              If every thin disk on {store.name} fills, it is short of {formatBytes(exposure)} then.
            </p>
          )}
          {snapshots > 0 && (
            <p className="text-warning mt-1">
              {guest.name} has {counted(snapshots, 'snapshot')}: many platforms cannot extend a disk that has one. Remove it first.
            </p>
          )}
          <h3 className="font-bold mt-3 mb-1">In this order</h3>
          <ol className="list-decimal pl-5 grid gap-1 text-soft">
            <li>Take a backup: a partitioning mistake can destroy the data.</li>
            <li>Extend the disk on the platform, here recorded.</li>
            {/linux|bsd/i.test(family) ? (
              <>
                <li>
                  Inside: check that the disk grew (<span className="font-mono">lsblk</span>); if not, rescan or restart.
                </li>
                <li>
                  Extend the partition, it has to be the last one: <span className="font-mono">growpart</span> or{' '}
                  <span className="font-mono">parted resizepart</span>. With volumes: <span className="font-mono">pvresize</span>, then{' '}
                  <span className="font-mono">lvextend</span>.
                </li>
                <li>
                  Extend the file system: <span className="font-mono">resize2fs</span> or <span className="font-mono">xfs_growfs</span>; it
                  stays mounted.
                </li>
                <li>
                  <span className="font-mono">df -h</span> shows the new size.
                </li>
              </>
            ) : (
              <>
                <li>Inside: let its disk management rescan the disks; the new space shows as unallocated.</li>
                <li>Extend the volume beside it. A recovery partition in between is in the way and has to be moved or removed first.</li>
                <li>The volume shows the new size.</li>
              </>
            )}
            <li>A new backup.</li>
          </ol>
          <Provision disk={disk} done={() => setOpen(false)} />
          {trouble && <Trouble>{trouble}</Trouble>}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

/** A thin disk made thick, or the other way round, with what that does to its store. */
function Provision({ disk, done }: { disk: Disk; done: () => void }) {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  const made = reprovision(estate, disk)
  const store = estate.find('store', disk.storeId)
  if (!made || !store) return null
  return (
    <>
      <h3 className="font-bold mt-3 mb-1">{made.to === 'thick' ? 'Or make it thick' : 'Or make it thin'}</h3>
      <p className="text-soft">
        {made.to === 'thick'
          ? made.freeBytes < 0
            ? `It would take ${formatBytes(made.takesBytes)} more of ${store.name} at once, which is short of ${formatBytes(-made.freeBytes)}.`
            : `It takes ${formatBytes(made.takesBytes)} more of ${store.name} at once; ${formatBytes(made.freeBytes)} stay free.`
          : `It then only grows. What it takes of ${store.name} comes back when the platform copies it or reclaims what is empty; record what it uses then.`}
      </p>
      <Button
        className="!min-h-7 mt-1"
        disabled={made.freeBytes < 0 && made.to === 'thick'}
        onClick={() => void record(made.commands).then((isDone) => isDone && done())}
      >
        Record it as {made.to}
      </Button>
      {trouble && <Trouble>{trouble}</Trouble>}
    </>
  )
}
