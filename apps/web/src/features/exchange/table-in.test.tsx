import { act, cleanup, fireEvent, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { stubServer } from '../../testing/api-stand-in'
import { renderPlace } from '../../testing/render-place'
import { press } from '../../testing/open-page'

beforeEach(() => localStorage.clear())
afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

const TABLE = 'name,host,vCPU,memory,disks\nweb-1,gannet,2,4G,40G\nplayout-1,gannet,6,8G,\nlost,nowhere,1,1G,\n'

async function open(text = TABLE) {
  const api = stubServer()
  const page = await renderPlace('guests/exchange')
  const area = await screen.findByLabelText<HTMLTextAreaElement>('Table of guests')
  act(() => void fireEvent.change(area, { target: { value: text } }))
  const posted = () => api.asked.filter(({ method }) => method === 'POST')
  return { api, area, posted, ...page }
}

describe('a table of guests', () => {
  it('says what it holds and which lines cannot be taken, before anything is recorded', async () => {
    const { posted } = await open()
    expect(await screen.findByText(/1 new, 1 changed, 0 as they are, 1 line not taken/)).toBeDefined()
    expect(screen.getByText(/^Line 4:/).textContent).toContain('nowhere')
    expect(posted()).toEqual([])
  })

  it('is recorded as one change by the server, which reads the text itself', async () => {
    const { api, area, posted, view } = await open()
    await press('Record them')
    await waitFor(() => expect(view().recorded.byKey('guest', { name: 'web-1' })).toHaveLength(1))
    expect(
      posted().map(({ path, body }) => [path.split('/').slice(-2).join('/'), body['kind'], body['text'], body['expectedRevision']]),
    ).toEqual([['imports/apply', 'guests', TABLE, 1]])
    expect(view().recorded.byKey('guest', { name: 'playout-1' })[0]?.vcpu).toBe(6)
    expect([api.revision, area.value]).toEqual([2, ''])
    expect(screen.getByText('1 guest added and 1 changed from a table.')).toBeDefined()
  })

  it('is refused when the estate changed since, and stays to be looked at again', async () => {
    const { api, area } = await open()
    await screen.findByText(/1 new/)
    api.change([{ type: 'network.add', record: { name: 'elsewhere' } }])
    await press('Record them')
    expect((await screen.findAllByRole('alert')).map(({ textContent }) => textContent).join(' ')).toContain('changed since the preview')
    expect([area.value, api.revision]).toEqual([TABLE, 2])
  })

  it('goes into the plan as its commands', async () => {
    const { api, view } = await open()
    const before = view().recorded.all('guest').length
    await press('Add to plan')
    await waitFor(() =>
      expect(
        view()
          .recorded.all('item')[0]
          ?.commands.map(({ type }) => type),
      ).toContain('guest.add'),
    )
    expect([api.revision, view().recorded.all('guest').length]).toEqual([2, before])
  })

  it('that is no table is said to be none', async () => {
    await open('nothing at all')
    expect((await screen.findByRole('alert')).textContent).not.toBe('')
    expect(screen.queryByRole('button', { name: 'Record them' })).toBeNull()
  })
})
