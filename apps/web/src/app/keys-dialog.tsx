import { Dialog } from 'radix-ui'
import { sections } from '../lib/places'
import { Key } from '../ui/button'

const help: readonly (readonly [string, string])[] = [
  ...sections.map(({ label, key }) => [`g ${key}`, `Go to ${label}`] as const),
  ['Ctrl K', 'Find a record, or do something'],
  ['n', 'New guest, host or network, after the section'],
  ['/', 'Go to the filter'],
  ['p', 'Show the record, or the plan'],
  ['u', 'Undo the change named under the bar'],
  ['?', 'Show these keys'],
  ['Esc', 'Close'],
  ['← → ↑ ↓', 'On the board: from guest to guest, from host to host'],
  ['Enter', 'On the board: open the guest'],
  ['m', 'On the board: move the guest; ↑ ↓ choose the host, Enter drafts the migration'],
  ['Ctrl Enter', 'Save the form'],
]

/** The page that lists the keys. */
export function KeysDialog({ isOpen, setOpen }: { isOpen: boolean; setOpen: (isOpen: boolean) => void }) {
  return (
    <Dialog.Root open={isOpen} onOpenChange={setOpen}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30 dark:bg-black/50" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed z-50 left-1/2 top-16 -translate-x-1/2 w-[min(560px,92vw)] max-h-[80vh] overflow-auto bg-sheet border border-rule rounded-md shadow-lg p-5"
        >
          <Dialog.Title className="font-bold text-lead mb-3">Keys</Dialog.Title>
          <dl className="facts [--label:110px] gap-y-1.5">
            {help.map(([keys, what]) => (
              <div key={keys + what} className="contents">
                <dt>
                  <Key>{keys}</Key>
                </dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
