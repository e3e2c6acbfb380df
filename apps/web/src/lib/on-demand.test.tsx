import { cleanup, render, screen } from '@testing-library/react'
import { Component, type ReactNode } from 'react'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { onDemand } from './on-demand'

/** What stands where the page would have gone with the part. */
class Caught extends Component<{ readonly children: ReactNode }, { readonly error?: Error }> {
  override state: { error?: Error } = {}
  static getDerivedStateFromError(error: Error) {
    return { error }
  }
  override render() {
    return this.state.error ? <p>Lost: {this.state.error.message}</p> : this.props.children
  }
}

/** A part whose code fails to come so many times, and a server that answers, or not, as listed. */
function partThatFails(times: number, answers: readonly boolean[]) {
  let asked = 0
  const isReady = [...answers]
  vi.stubGlobal('fetch', () => {
    const ok = isReady.shift() ?? true
    return ok ? Promise.resolve(new Response('ok')) : Promise.reject(new TypeError('Failed to fetch'))
  })
  const Part = onDemand(() => {
    asked += 1
    if (asked <= times) return Promise.reject(new Error(`not fetched, ${asked}`))
    return Promise.resolve(() => <p>The part</p>)
  })
  vi.spyOn(console, 'error').mockReturnValue(undefined)
  render(
    <Caught>
      <Part meanwhile={<p>Wait</p>} />
    </Caught>,
  )
}

beforeEach(() => void vi.useFakeTimers({ shouldAdvanceTime: true, advanceTimeDelta: 200 }))
afterEach(() => {
  cleanup()
  vi.useRealTimers()
  vi.restoreAllMocks()
  vi.unstubAllGlobals()
})

it('waits for a server that does not answer', async () => {
  partThatFails(3, [false, false])
  expect(screen.getByText('Wait')).toBeTruthy()
  expect(await screen.findByText('The part')).toBeTruthy()
})

it('asks once more when the server came back between the part and the question', async () => {
  partThatFails(1, [true])
  expect(await screen.findByText('The part')).toBeTruthy()
})

it('says so when a server that answers does not have it', async () => {
  partThatFails(9, [true])
  expect(await screen.findByText('Lost: not fetched, 2')).toBeTruthy()
})
