import { Dialog } from 'radix-ui'
import { matchPath, useLocation } from 'react-router'
import { places, sections } from '../lib/places'
import { keysOfPlaces, type KeyHelp } from './page-keys'
import { Key } from '../ui/button'

const everywhere: readonly KeyHelp[] = [
  ...sections.map(({ label, key }) => [`g ${key}`, `Go to ${label}`] as const),
  ['Ctrl K', 'Find a record, or do something'],
  ['n', 'New guest, host or network, after the section'],
  ['/', 'Go to the filter'],
  ['p', 'Show the record, or the estate after the plan used last'],
  ['u', 'Undo the change named under the bar'],
  ['?', 'Show these keys'],
  ['Esc', 'Close'],
]

/** The keys of the page that is open, by its path within the estate. */
function keysHere(path: string): readonly KeyHelp[] {
  const exact = places.find((place) => place.path === path)
  const place = exact ?? places.find((one) => matchPath(`/${one.path}`, `/${path}`))
  return (place && keysOfPlaces[place.path]) ?? []
}

/** The page that lists the keys. */
export function KeysDialog({ isOpen, setOpen }: { isOpen: boolean; setOpen: (isOpen: boolean) => void }) {
  const { pathname } = useLocation()
  const here = keysHere(pathname.split('/').slice(3).join('/') || 'board')
  return (
    <Dialog.Root open={isOpen} onOpenChange={setOpen}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30 dark:bg-black/50" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed z-50 left-1/2 top-16 -translate-x-1/2 w-[min(560px,92vw)] max-h-[80vh] overflow-auto bg-sheet border border-rule rounded-md shadow-lg p-5"
        >
          <Dialog.Title className="font-bold text-lead mb-3">Keys</Dialog.Title>
          {here.length > 0 && <KeyList title="On this page" keys={here} />}
          <KeyList title="Everywhere" keys={everywhere} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}

function KeyList({ title, keys }: { title: string; keys: readonly KeyHelp[] }) {
  return (
    <>
      <h3 className="font-bold mt-3 mb-1.5">{title}</h3>
      <dl className="facts [--label:120px] gap-y-1.5">
        {keys.map(([pressed, what]) => (
          <div key={pressed + what} className="contents">
            <dt>
              <Key>{pressed}</Key>
            </dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </>
  )
}
