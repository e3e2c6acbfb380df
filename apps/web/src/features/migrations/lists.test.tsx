import type { Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { screen } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { leavePage, openPage, rows } from '../../testing/open-page'

afterEach(leavePage)

const migrated: readonly Command[] = [
  {
    type: 'guest.migrate',
    guestId: idOf('playout'),
    toHostId: idOf('fulmar'),
    method: 'live',
    stores: { [idOf('playoutDisk')]: idOf('nvme2') },
  },
]
const cloned: Command = { type: 'guest.clone', guestId: idOf('template'), name: 'server-1', hostId: idOf('gannet') }

describe('the list of migrations', () => {
  it('says who went from where to where, and how', async () => {
    await openPage('migrations', migrated)
    expect(rows()[0]?.slice(0, 4)).toEqual(['playout-1', 'gannet', 'fulmar', 'live'])
  })

  it('keeps the names of what was removed since', async () => {
    await openPage('migrations', [...migrated, { type: 'guest.remove', id: idOf('playout'), withReferring: true }])
    expect(rows()[0]?.slice(0, 3)).toEqual(['playout-1 removed', 'gannet', 'fulmar'])
  })

  it('says at first how one comes about', async () => {
    await openPage('migrations')
    expect(screen.getByText(/^No migration is recorded yet/)).toBeDefined()
  })
})

describe('the list of clones', () => {
  it('has each copy under what it came from, and warns of what is not generalised', async () => {
    await openPage('clones', [cloned, { type: 'guest.clone', guestId: idOf('news'), name: 'newsroom-2', hostId: idOf('fulmar') }])
    const text = document.body.textContent
    expect(text.indexOf('server-1')).toBeGreaterThan(text.indexOf('tpl-server, template'))
    expect(screen.getByText('newsroom, original')).toBeDefined()
    expect(screen.getAllByText(/identity copied from newsroom/).length).toBeGreaterThan(0)
  })
})
