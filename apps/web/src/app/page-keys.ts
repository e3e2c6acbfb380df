import type { PlacePath } from '../lib/places'

/** Keys, and what they do. */
export type KeyHelp = readonly [keys: string, what: string]

const FORM_KEYS: readonly KeyHelp[] = [['Ctrl Enter', 'Save the form']]
const LINE_KEYS: readonly KeyHelp[] = [['Tab', 'In the line: take the suggestion'], ...FORM_KEYS]
const LIST_KEYS: readonly KeyHelp[] = [
  ['↑ ↓', 'From row to row; a thing that is open beside the list follows'],
  ['Enter', 'Open the thing'],
  ['Esc', 'Close the thing beside the list'],
]

/** What keys do on a page, beyond those that work everywhere. */
export const keysOfPlaces: Readonly<Partial<Record<PlacePath, readonly KeyHelp[]>>> = {
  board: [
    ['← → ↑ ↓', 'From guest to guest, from host to host'],
    ['Enter', 'Open the guest'],
    ['m', 'Move the guest: ↑ ↓ choose the host, Enter drafts the migration, Esc cancels'],
  ],
  hosts: LIST_KEYS,
  'hosts/new': LINE_KEYS,
  networks: LIST_KEYS,
  'networks/reach': [['← → ↑ ↓', 'In the table: from group to group']],
  'networks/plan': [
    ['← → ↑ ↓', 'Move the segment to the next place, to the one before'],
    ['+ -', 'Make the segment larger, smaller'],
    ['s m', 'Split the segment in two, merge it with its neighbour'],
  ],
  'networks/macs': LIST_KEYS,
  'networks/:id': [
    ['← → ↑ ↓', 'From address to address'],
    ['Shift ← → ↑ ↓', 'Select a run of addresses'],
    ['Home End', 'To the first address, to the last'],
    ['Esc', 'Let go of the run'],
  ],
  guests: LIST_KEYS,
  'guests/new': LINE_KEYS,
  'guests/:id/clone': [...FORM_KEYS, ['↑ ↓', 'From copy to copy in a column'], ['Ctrl D', 'Fill a cell down']],
  'guests/:id/migrate': FORM_KEYS,
  'records/:kind/new': FORM_KEYS,
  'records/:kind/:id': FORM_KEYS,
}
