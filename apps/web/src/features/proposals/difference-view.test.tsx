import { apply, type Difference, type Estate } from '@insel/core'
import { cleanup, render, screen } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { idOf, smallEstate, testContext } from '@insel/core/testing'
import { DifferenceView } from './difference-view'

afterEach(cleanup)

describe('a difference', () => {
  const estate = smallEstate()
  const lines = (difference: Difference, at: Estate = estate) => {
    render(<DifferenceView estate={at} difference={difference} />)
    return screen.queryAllByRole('listitem').map((item) => item.textContent)
  }
  it('says what is added, changed from what to what, and removed', () => {
    const resized = apply(estate, { type: 'guest.resize', guestId: idOf('news'), vcpu: 6 }, testContext(2)).difference
    expect(lines(resized)).toEqual(['±guest newsroomProcessors: 2 vCPU → 6 vCPU', expect.stringMatching(/^Power newsroom off and on/)])
    expect(screen.getByText('Then by hand:')).toBeDefined()
    cleanup()
    const gone = apply(estate, { type: 'guest.remove', id: idOf('news'), withReferring: true }, testContext(2)).difference
    expect(lines(gone).sort()).toEqual(['−adapter 1 of newsroom', '−disk 1 (system) of newsroom', '−guest newsroom'])
    cleanup()
    const cloned = apply(estate, { type: 'guest.clone', guestId: idOf('template'), name: 'web-1' }, testContext(2)).difference
    expect(lines(cloned)[0]).toBe(
      '+guest web-1Host gannet · State stopped · Processors 2 vCPU · Memory 2 GiB · Identity removed · Cloned from tpl-server · From version 12',
    )
  })
  it('of nothing says so', () => {
    lines({ added: {}, updated: {}, removed: {} })
    expect(screen.getByText('Nothing would change.')).toBeDefined()
  })
})
