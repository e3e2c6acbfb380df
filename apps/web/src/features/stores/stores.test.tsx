import type { Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { screen, waitFor } from '@testing-library/react'
import { afterEach, beforeAll, describe, expect, it, vi } from 'vitest'
import { machinesApi } from '../../lib/machines-api'
import { giveSizes } from '../../testing/layout'
import { leavePage, openPage, press, rowOf, rows } from '../../testing/open-page'

beforeAll(giveSizes)
afterEach(leavePage)

describe('the list of stores', () => {
  it('says what each holds and has promised', async () => {
    await openPage('guests/stores')
    const byName = new Map(rows().map((cells) => [cells[0]?.split(' ')[0], cells]))
    // 200 GiB of playout-1 and 40 GiB of the template, thin, of which 84 GiB were seen, on 1000 GiB.
    expect(byName.get('nvme-1')?.slice(4, 7)).toEqual([expect.stringMatching(/^84\sGiB$/), expect.stringMatching(/^916\sGiB$/), '24 %'])
    expect(byName.get('nvme-1')?.[7]).toBe('nothing')
  })

  it('is short where all thin disks together are larger than the store', async () => {
    await openPage('guests/stores', [
      { type: 'guest.resize', guestId: idOf('playout'), diskId: idOf('playoutDisk'), sizeBytes: 1200 * 2 ** 30 },
    ])
    expect(rowOf('nvme-1').getByText(/^240\sGiB$/)).toBeDefined()
  })
})

describe('when a store is full', () => {
  afterEach(() => vi.restoreAllMocks())

  // 495 GiB, and 10 more a day for 30 days, of which the last, with 785, is 10 days ago: 215 of 1000 GiB are left then, for 21.5 days.
  it('is said alike in the list and on its page, counted from today where its last observation is old', async () => {
    const ago = (days: number) => new Date(Date.now() - days * 86_400_000).toISOString().slice(0, 10)
    const seen = Array.from({ length: 30 }, (_, n) => [ago(39 - n), (495 + n * 10) * 2 ** 30] as const)
    vi.spyOn(machinesApi, 'daily').mockResolvedValue({ daily: { [idOf('nvme1')]: seen } })
    await openPage('guests/stores')
    await screen.findByText(new RegExp(`^11 days, ${ago(-11)}`))
    leavePage()
    await openPage(`guests/stores/${idOf('nvme1')}`)
    expect(await screen.findByText(`Full in 11 days, about ${ago(-11)}`)).toBeDefined()
  })
})

describe('the library of images', () => {
  const image: readonly Command[] = [
    { type: 'image.add', record: { id: idOf('image'), name: 'text-server-12.iso', storeId: idOf('nvme1'), sizeBytes: 2 ** 30 } },
    { type: 'guest.update', id: idOf('playout'), changes: { mediumId: idOf('image'), bootFirst: 'medium' } },
  ]

  it('ejects an image from what is in service, and from nothing else', async () => {
    const { view } = await openPage('guests/images', [
      ...image,
      { type: 'guest.update', id: idOf('news'), changes: { state: 'stopped' } },
      { type: 'guest.update', id: idOf('news'), changes: { mediumId: idOf('image') } },
    ])
    await press('Eject from those in service')
    await waitFor(() => expect(view().estate.find('guest', idOf('playout'))).toMatchObject({ mediumId: null, bootFirst: 'disk' }))
  })

  it('says that a checksum is not recorded, and where it lies', async () => {
    await openPage('guests/images', image)
    expect(rowOf('text-server-12.iso').getByText('not recorded')).toBeDefined()
    expect(rowOf('text-server-12.iso').getByText('nvme-1')).toBeDefined()
  })

  it('is empty at first, and says what to record', async () => {
    await openPage('guests/images')
    expect(screen.getByText(/^No image is recorded yet/)).toBeDefined()
  })
})
