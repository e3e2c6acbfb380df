import { derivedId, type Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { leavePage, openPage, press, type } from '../../testing/open-page'

afterEach(leavePage)

const MOVE = '01890000-0000-7000-8000-00000000aa01'
const begin: Command = {
  type: 'migration.begin',
  id: MOVE,
  guestId: idOf('playout'),
  toHostId: idOf('fulmar'),
  stores: { [idOf('playoutDisk')]: idOf('nvme2') },
  totalBytes: 80_000_000_000,
}
const stop: Command = { type: 'guest.power', guestId: idOf('playout'), state: 'stopped' }
const settled = (...keys: readonly string[]): readonly Command[] =>
  keys.map((step, index) => ({
    type: 'step.add',
    record: {
      id: `01890000-0000-7000-8000-00000000ab0${index}`,
      sheetId: derivedId(MOVE, 'sheet'),
      step,
      state: 'done',
      note: '2027-01-18',
      personId: idOf('ola'),
      at: '2027-01-18T07:00:00.000Z',
    },
  }))

/** The page of the move, as far as it is begun; and how it stands in the record. */
async function openMove(...more: readonly Command[]) {
  const page = await openPage(`migrations/${MOVE}`, [begin, ...more])
  const move = () => page.view().recorded.find('migration', MOVE)
  return { ...page, move }
}
const check = async (title: RegExp) => within(await screen.findByRole('listitem', { name: title }))

describe('a move that was begun', () => {
  it('says what is in the way, and is not copied before that is settled or accepted', async () => {
    const { move } = await openMove()
    expect(await screen.findByText(/playout-1 boots, and somebody logged in/)).toBeDefined()
    await press('Start copying')
    expect(await screen.findByText(/is recorded as running; stop it before its disks are copied/)).toBeDefined()
    await press(/^Record playout-1 as stopped/)
    await press('Start copying')
    expect(await screen.findByText(/^Source works: .*Settle it, or accept it with a reason/)).toBeDefined()
    expect(move()?.state).toBe('begun')
    fireEvent.click((await check(/^Source works/)).getByRole('button', { name: /^Done/ }))
    fireEvent.click((await check(/^Backup/)).getByRole('button', { name: /^Accept/ }))
    await type('Why backup is accepted', 'Its data is on the archive.')
    await press('Accept')
    expect(await screen.findByText(/Accepted: Its data is on the archive/)).toBeDefined()
    await press('Start copying')
    await waitFor(() => expect(move()?.state).toBe('copying'))
  })

  it('is cancelled with the reason, and what is lost is said first', async () => {
    const { move } = await openMove()
    await press(/^Cancel…/)
    expect(screen.getByText(/Nothing: the source is as it was/)).toBeDefined()
    await type('Why', 'No window.')
    await press('Cancel')
    await waitFor(() => expect(move()?.state).toBe('cancelled'))
    expect(await screen.findByText(/No window/)).toBeDefined()
  })
})

describe('a move that copies', () => {
  const copying = () => openMove(stop, ...settled('check-source-works', 'check-backup'), { type: 'migration.copy', migrationId: MOVE })

  it('takes readings typed and pasted, and says when it ends', async () => {
    const { api } = await copying()
    expect(await screen.findByText('No readings yet.')).toBeDefined()
    await type('How far it is now', 'soon')
    await press('Add reading')
    expect(await screen.findByText(/Write how far it is, such as 43 % or 4.2 GiB/)).toBeDefined()
    await type('How far it is now', '10 %')
    await press('Add reading')
    expect(await screen.findByText('1 reading taken.')).toBeDefined()
    expect(api.readings.get(MOVE)?.[0]?.bytes).toBe(8_000_000_000)
    const lines = Array.from(
      { length: 30 },
      (_, index) =>
        `2027-01-18T${String(8 + Math.floor(index / 60)).padStart(2, '0')}:${String(index % 60).padStart(2, '0')}:00Z ${index} %`,
    )
    api.readings.delete(MOVE)
    await type('What the tool prints', [...lines, 'not progress'].join('\n'))
    await press('Read lines')
    expect(await screen.findByText('30 readings taken; 1 line without progress left out.')).toBeDefined()
    await waitFor(() => expect(document.body.textContent).toMatch(/\d+ %, (ends|nothing)/))
    expect(document.body.textContent).toContain('29 %, ends')
    expect(screen.getByText(/elapsed over fraction would say/)).toBeDefined()
  })

  it('asks which of two numbers is meant, and takes nothing before it is said', async () => {
    const { api } = await copying()
    // Of 80 GB, it may be either.
    await type('What the tool prints', '12,345 MB')
    await press('Read lines')
    expect(await screen.findByText(/may be 12345 MB or 12.345 MB; say which/)).toBeDefined()
    expect(api.readings.get(MOVE) ?? []).toEqual([])
    await press('12345 MB')
    expect(await screen.findByText('1 reading taken.')).toBeDefined()
    expect(api.readings.get(MOVE)?.map(({ bytes }) => bytes)).toEqual([12_345_000_000])
  })

  it('whose last reading is old says how old it is, and no end in the past', async () => {
    const { api } = await copying()
    const start = Date.now() - 3_600_000
    api.readings.set(
      MOVE,
      Array.from({ length: 30 }, (_, index) => ({ at: start + index * 10_000, bytes: index * 1e9 })),
    )
    await type('What the tool prints', `${new Date(start + 300_000).toISOString()} 30 GB`)
    await press('Read lines')
    expect(await screen.findByText(/the last reading is 55 min old. It was to be over by now/)).toBeDefined()
    expect(document.body.textContent).not.toMatch(/, ends/)
  })

  it('counts many readings once they are shown', async () => {
    const { api } = await copying()
    api.readings.set(
      MOVE,
      Array.from({ length: 2000 }, (_, index) => ({ at: Date.UTC(2027, 0, 18, 8) + index * 1000, bytes: index * 9e6 })),
    )
    await type('How far it is now', '30 %')
    await press('Add reading')
    await waitFor(() => expect(document.body.textContent).toMatch(/, 2,?001 readings/), { timeout: 4000 })
  })

  it('is cut over, verified, and closed by its typed name', async () => {
    const { move, view } = await copying()
    await press('Cut over')
    await waitFor(() => expect(move()?.state).toBe('cut over'))
    expect(view().recorded.find('guest', idOf('playout'))?.hostId).toBe(idOf('fulmar'))
    await press('Verified')
    expect(await screen.findByText(/it is verified once it runs/)).toBeDefined()
    await press(/^Record playout-1 as running/)
    await press('Verified')
    await waitFor(() => expect(move()?.state).toBe('verified'))
    await press(/^Close…/)
    const close = screen.getByRole<HTMLButtonElement>('button', { name: 'Removed, close' })
    expect(close.disabled).toBe(true)
    await type(/^Type playout-1/, 'playout-1')
    expect(close.disabled).toBe(false)
    await press('Removed, close')
    await waitFor(() => expect(move()?.state).toBe('closed'))
    expect(view().recorded.count('leftover')).toBe(0)
    expect(screen.getByRole('heading', { name: 'Outcome' })).toBeDefined()
  })

  it('is rolled back after its cut-over, with what is to be done by hand', async () => {
    const { move, view } = await copying()
    await press('Cut over')
    await waitFor(() => expect(move()?.state).toBe('cut over'))
    await press(/^Roll back…/)
    expect(screen.getByText(/Start playout-1 on gannet/)).toBeDefined()
    expect(screen.getByText(/Everything written to the target since the cut-over/)).toBeDefined()
    await type('Why', 'It does not boot.')
    await press('Roll back')
    await waitFor(() => expect(move()?.state).toBe('rolled back'))
    expect(view().recorded.find('guest', idOf('playout'))?.hostId).toBe(idOf('gannet'))
  })
})

describe('moves under way', () => {
  it('are on one page, with what is open and what is next, and those of plans beside them', async () => {
    const PLAN = '01890000-0000-7000-8000-00000000aa05'
    await openPage('migrations', [
      begin,
      { type: 'plan.add', record: { id: PLAN, name: 'Saturday' } },
      {
        type: 'item.write',
        planId: PLAN,
        kind: 'move',
        title: 'Move newsroom',
        commands: [
          { type: 'guest.migrate', guestId: idOf('news'), toHostId: idOf('gannet'), stores: { [idOf('newsDisk')]: idOf('nvme1') } },
        ],
      } as unknown as Command,
    ])
    expect(screen.getByRole('heading', { name: 'Under way, 1' })).toBeDefined()
    expect(await screen.findByText(/^Checks: 2 errors/)).toBeDefined()
    expect(screen.getByText('Next: Note what it is')).toBeDefined()
    expect(screen.getAllByText('Move newsroom').length).toBeGreaterThan(0)
    expect(await screen.findByText(/checks: \d errors/)).toBeDefined()
    await type('Group by', 'method')
    expect(screen.getByRole('heading', { name: 'cold copy, 1' })).toBeDefined()
  })
})

describe('a physical machine', () => {
  it('is typed, with disks and volumes, and what cannot be read says so', async () => {
    const { view } = await openPage('migrations/machine')
    await type('Name', 'auk')
    await type('Processors', '4')
    await type('Memory', '8 GiB')
    await type(/^Disks, a size each/, '250 GB, large')
    expect(screen.getByText(/“large” is not a size/)).toBeDefined()
    await type(/^Disks, a size each/, '250 GB')
    await type(/^Volumes, as df/, '1 / ext4 80G 19G\n1 /old ext3 20G 4G leave')
    expect(screen.getByText(/Volume \/old on disk 1: 20 GiB, 4 GiB used, left/)).toBeDefined()
    await type('Serial number (optional)', 'SC-0031')
    await press(/^Add physical machine/)
    await waitFor(() => expect(view().recorded.byKey('guest', { name: 'auk' })).toHaveLength(1))
    const auk = view().recorded.byKey('guest', { name: 'auk' })[0]
    expect(auk).toMatchObject({ kind: 'external', memoryMiB: 8192 })
    expect(
      view()
        .recorded.all('disk')
        .find(({ guestId }) => guestId === auk?.id)?.sizeBytes,
    ).toBe(250e9)
    expect(view().recorded.count('volume')).toBe(2)
  })
})
