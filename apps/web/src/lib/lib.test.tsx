import { cleanup, fireEvent, render } from '@testing-library/react'
import { MemoryRouter, Route, Routes } from 'react-router'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { api, Unreachable } from './api'
import { useGoKeys, useKey } from './keys'
import { usePaths } from './paths'
import { readStored, store } from './storage'
import { setTheme, useTheme } from './theme'

afterEach(cleanup)
beforeEach(() => localStorage.clear())

describe('what the browser remembers', () => {
  it('comes back as it was, and is gone when taken away', () => {
    store('plan.x', [{ type: 'guest.power' }])
    expect(readStored('plan.x')).toEqual([{ type: 'guest.power' }])
    store('plan.x', undefined)
    expect(readStored('plan.x')).toBeUndefined()
  })
  it('what cannot be read is dropped, not thrown at the page', () => {
    localStorage.setItem('insel.plan.x', '{half')
    expect(readStored('plan.x')).toBeUndefined()
    expect(localStorage.getItem('insel.plan.x')).toBeNull()
  })
})

describe('keys', () => {
  function Page({ onKey, onGo, onMod }: { onKey: () => void; onGo: (key: string) => void; onMod: () => void }) {
    useKey('n', onKey)
    useKey('mod+k', onMod)
    useGoKeys(onGo)
    return <input aria-label="field" />
  }
  function page() {
    const [onKey, onGo, onMod] = [vi.fn(), vi.fn(), vi.fn()]
    const { getByLabelText } = render(<Page onKey={onKey} onGo={onGo} onMod={onMod} />)
    return { onKey, onGo, onMod, field: getByLabelText('field') }
  }
  const press = (key: string, more: object = {}, target: Element = document.body) =>
    fireEvent.keyDown(target, { key, bubbles: true, ...more })

  it('a letter works on the page, and is only a letter in a field', () => {
    const { onKey, field } = page()
    press('n')
    press('n', {}, field)
    press('n', { ctrlKey: true })
    press('n', { altKey: true })
    expect(onKey).toHaveBeenCalledTimes(1)
  })
  it('a key with Ctrl or Command works in fields, too', () => {
    const { onMod, field } = page()
    press('k', { ctrlKey: true }, field)
    press('k', { metaKey: true })
    press('k')
    expect(onMod).toHaveBeenCalledTimes(2)
  })
  it('g and a letter goes, once, and the letter does nothing else', () => {
    const { onKey, onGo, field } = page()
    press('g')
    press('n')
    expect([onGo.mock.calls, onKey.mock.calls.length]).toEqual([[['n']], 0])
    press('n')
    expect([onGo.mock.calls.length, onKey.mock.calls.length]).toEqual([1, 1])
    press('g', {}, field)
    press('n')
    expect([onGo.mock.calls.length, onKey.mock.calls.length]).toEqual([1, 2])
  })
  it('a g that is not followed soon is forgotten', () => {
    vi.useFakeTimers()
    const { onKey, onGo } = page()
    press('g')
    vi.setSystemTime(Date.now() + 2000)
    press('n')
    vi.useRealTimers()
    expect([onGo.mock.calls.length, onKey.mock.calls.length]).toEqual([0, 1])
  })
  it('nothing happens behind an open dialog', () => {
    const { onKey, onGo } = page()
    const dialog = document.body.appendChild(document.createElement('div'))
    dialog.setAttribute('role', 'dialog')
    press('n')
    press('g')
    press('n')
    dialog.remove()
    expect([onGo.mock.calls.length, onKey.mock.calls.length]).toEqual([0, 0])
  })
})

describe('paths', () => {
  function pathsAt(address: string) {
    let paths: ReturnType<typeof usePaths> | undefined
    const Probe = () => {
      paths = usePaths()
      return null
    }
    render(
      <MemoryRouter initialEntries={[address]}>
        <Routes>
          <Route path="/estates/:estateId/*" element={<Probe />} />
        </Routes>
      </MemoryRouter>,
    )
    if (!paths) throw new Error('no route')
    return paths
  }
  it('stay inside the estate, and keep the plan in view', () => {
    expect(pathsAt('/estates/e1/board').to('hosts/new?line=a%20b')).toBe('/estates/e1/hosts/new?line=a+b')
    cleanup()
    expect(pathsAt('/estates/e1/board?basis=change-4').to('guests')).toBe('/estates/e1/guests?basis=change-4')
  })
  it('a record has a page of its own, or the form of its kind', () => {
    const { ofRecord } = pathsAt('/estates/e1/board')
    expect([ofRecord('guest', 'g'), ofRecord('disk', 's')]).toEqual(['/estates/e1/guests/g', '/estates/e1/records/disk/s'])
  })
})

describe('the theme', () => {
  it('is followed by what shows it, and remembered', () => {
    const Probe = () => <output>{useTheme()}</output>
    setTheme('light')
    const { container } = render(<Probe />)
    expect(container.textContent).toBe('light')
    setTheme('dark')
    cleanup()
    expect(render(<Probe />).container.textContent).toBe('dark')
    expect([localStorage.getItem('insel.theme'), document.documentElement.dataset['theme']]).toEqual(['dark', 'dark'])
  })
})

describe('an answer that is not the server’s', () => {
  const answer = (response: Response | Error) =>
    vi.stubGlobal('fetch', () => (response instanceof Error ? Promise.reject(response) : Promise.resolve(response)))
  afterEach(() => vi.unstubAllGlobals())

  it.each([
    ['nothing at all', new TypeError('Failed to fetch'), /^The server does not answer\. What you entered/],
    ['a page of a proxy', new Response('<html>Bad gateway</html>', { status: 502, headers: { 'content-type': 'text/html' } }), /\(502\)/],
    ['a page to sign in at', new Response('<html></html>', { headers: { 'content-type': 'text/html' } }), /\(200\)/],
    ['half of one', new Response('{"revision": 4', { headers: { 'content-type': 'application/json' } }), /cut off/],
  ])('%s is told as such, and nothing is lost', async (_, response, sentence) => {
    answer(response)
    const error: unknown = await api.server().catch((reason: unknown) => reason)
    expect(error).toBeInstanceOf(Unreachable)
    expect((error as Error).message).toMatch(sentence)
    expect((error as Error).message).toContain('What you entered is still here')
  })
})
