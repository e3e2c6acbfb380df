import { idOf } from '@insel/core/testing'
import { screen } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { leavePage, openPage, tick } from '../../testing/open-page'

afterEach(leavePage)

describe('how long a move takes', () => {
  it('is said with what it passes, and how many own moves stand behind it', async () => {
    await openPage(`guests/${idOf('playout')}/migrate`, [
      {
        type: 'migration.add',
        record: {
          guestId: idOf('news'),
          toHostId: idOf('gannet'),
          method: 'export and import',
          startedAt: '2027-01-10T08:00:00.000Z',
          endedAt: '2027-01-10T08:09:04.000Z',
          movedBytes: 8_976_000_000,
        },
      },
    ])
    await tick(/^fulmar/)
    expect(await screen.findByRole('heading', { name: 'How long' })).toBeDefined()
    expect(screen.getByText(/No own move by this method says what it moved yet.*Slowest: link of gannet, 119 MB\/s/)).toBeDefined()
    await tick(/^export and import/)
    expect(screen.getByText(/1 own move by this method stands behind it.*Slowest: method, 80 MB\/s/)).toBeDefined()
    await tick(/^live/)
    expect(screen.getByText(/one time in ten longer than/)).toBeDefined()
  })
})
