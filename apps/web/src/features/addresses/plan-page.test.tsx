import { idOf, smallEstate } from '@insel/core/testing'
import { screen, waitFor } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { leavePage, openPage, press, tick, type } from '../../testing/open-page'
import { firstBlock, usual, workOut } from './sketch'

afterEach(leavePage)

describe('a sketch', () => {
  const estate = smallEstate()

  it('begins in the /16 around what is recorded', () => expect(firstBlock(estate)).toBe('10.61.0.0/16'))

  it('places the usual five without touching what is recorded, each as large as it needs', () => {
    const { made, problems } = workOut(estate, { block: '10.61.0.0/16', drafts: usual, hosts: [] })
    expect(problems.every((problem) => problem === undefined)).toBe(true)
    // RFC 4632: a prefix of n bits has 2^(32-n) addresses; a segment of 100 machines and half as many more takes a /24.
    expect(made?.segments.map(({ want, prefix }) => [want.name, prefix.bits])).toEqual([
      ['management', 26],
      ['store', 27],
      ['servers', 24],
      ['moves', 27],
      ['trial', 26],
    ])
    const taken = ['10.61.30.0/24', '10.61.40.0/28']
    expect(made?.segments.some(({ prefix }) => taken.includes(prefix.text))).toBe(false)
  })

  it.each([
    [{ name: 'no good' }, /no good/],
    [{ machines: 'many' }, /Machines must be a whole number/],
    [{ growth: '-1' }, /Growth must be a whole percentage/],
    [{ vlan: '4095' }, /IEEE 802.1Q/],
    [{ name: 'store' }, /appears twice/],
  ])('says what is wrong with a row: %o', (wrong, sentence) => {
    const [first, ...others] = usual
    const { problems } = workOut(estate, {
      block: '10.61.0.0/16',
      drafts: [{ ...usual[0], ...first, ...wrong } as never, ...others],
      hosts: [],
    })
    expect(problems[0]).toMatch(sentence)
  })
})

describe('the plan of a block', () => {
  it('records its segments and carries them to the hosts that are ticked', async () => {
    const { view } = await openPage('networks/plan')
    await press('Add the usual five')
    await tick('gannet')
    await press('Record 5 segments')
    await waitFor(() => expect(view().estate.byKey('network', { name: 'servers' })).toHaveLength(1))
    const [servers] = view().estate.byKey('network', { name: 'servers' })
    expect(
      view()
        .estate.referring('attachment', 'networkId', servers?.id ?? '')
        .map(({ hostId }) => hostId),
    ).toEqual([idOf('gannet')])
    expect(view().estate.referring('subnet', 'networkId', servers?.id ?? '')).toHaveLength(1)
    expect(await screen.findByText('elsewhere: networks')).toBeDefined()
  })

  it('records nothing while a row is wrong, and keeps what was typed for the next time', async () => {
    await openPage('networks/plan')
    await press('Add the usual five')
    await type('Machines on servers', 'lots')
    expect(screen.getByText('Machines must be a whole number, at least 1.')).toBeDefined()
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Record \d segments/ }).disabled).toBe(true)
    expect(Object.keys(localStorage).some((key) => localStorage.getItem(key)?.includes('lots'))).toBe(true)
  })

  it('says of a block that cannot be read what is wrong with it', async () => {
    await openPage('networks/plan')
    await type(/^Block/, '10.61.0.0/99')
    expect(screen.getByLabelText(/^Block/).getAttribute('aria-invalid')).toBe('true')
    expect(screen.getByText(/10\.61\.0\.0\/99/)).toBeDefined()
  })
})
