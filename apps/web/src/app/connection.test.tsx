import { act, cleanup, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { AWAY } from '../lib/api'
import { renderInEstate, stubServer } from '../testing/api-stand-in'
import { Connection } from './connection'

beforeEach(() => {
  localStorage.clear()
  vi.useFakeTimers({ shouldAdvanceTime: true })
})
afterEach(() => {
  cleanup()
  vi.useRealTimers()
  vi.unstubAllGlobals()
})
const pass = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms))
const bar = () => screen.queryByText('The server does not answer.')

it('the bar comes when the server goes, by itself or at once when something is asked, and goes when it is back', async () => {
  const api = stubServer()
  renderInEstate(<Connection />)
  await pass(100)
  expect(bar()).toBeNull()
  api.isDown = true
  await pass(11_000)
  expect(bar()).not.toBeNull()
  api.isDown = false
  await pass(2500)
  await waitFor(() => expect(bar()).toBeNull())
  // What is shown is asked for again.
  expect(api.asked.filter(({ path }) => path.includes('/records')).length).toBeGreaterThan(1)

  api.isDown = true
  await act(async () => {
    dispatchEvent(new Event(AWAY))
    await vi.advanceTimersByTimeAsync(50)
  })
  expect(bar()).not.toBeNull()
})
