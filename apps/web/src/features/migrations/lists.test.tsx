import type { Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { cleanup, screen } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { leavePage, openPage } from '../../testing/open-page'
import { renderPlace } from '../../testing/render-place'

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
    const { view } = await openPage('migrations/history', migrated)
    expect(screen.getByText('1 recorded.')).toBeDefined()
    cleanup()
    await renderPlace(`migrations/${view().estate.all('migration')[0]?.id ?? ''}`)
    expect(screen.getByRole('heading', { level: 1, name: 'playout-1 to fulmar' })).toBeDefined()
    expect(document.body.textContent).toContain('gannet → fulmar, by live.')
  })

  it('keeps the names of what was removed since', async () => {
    const { view } = await openPage('migrations/history', [...migrated, { type: 'guest.remove', id: idOf('playout'), withReferring: true }])
    cleanup()
    await renderPlace(`migrations/${view().estate.all('migration')[0]?.id ?? ''}`)
    expect(document.body.textContent).toContain('playout-1 removed, gannet → fulmar')
  })

  it('says at first how one comes about', async () => {
    await openPage('migrations')
    expect(screen.getByText(/^No migration is under way/)).toBeDefined()
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
