import type { Command } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { screen, waitFor } from '@testing-library/react'
import { afterEach, beforeAll, describe, expect, it } from 'vitest'
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
