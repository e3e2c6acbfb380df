import { screen, waitFor } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { leavePage, openPage, press, type } from '../../testing/open-page'

afterEach(leavePage)

const paste = (text: string) => type(/^Paste hosts/, text)

describe('names out', () => {
  it('are in a zone of the estate’s domain, and in the reverse ones', async () => {
    await openPage('networks/names')
    expect(screen.getByText('skerry.example')).toBeDefined()
    // RFC 1035, section 3.5: the reverse of 10.61.40.0/24.
    expect(screen.getByText('40.61.10.in-addr.arpa')).toBeDefined()
    expect(screen.getByLabelText('Zone file of skerry.example').getAttribute('href')).toMatch(/exports\/zones\/skerry\.example$/)
  })
})

describe('names in', () => {
  it('are read by line, with the reason for each that is not taken', async () => {
    await openPage('networks/names')
    await paste('10.61.30.77 weather\n300.1.1.1 nowhere\n')
    expect(screen.getByText(/1 to record, 0 known already, 1 not taken/)).toBeDefined()
    expect(screen.getByText('300.1.1.1 nowhere')).toBeDefined()
  })

  it('are recorded by the server from the same text, and the field is empty then', async () => {
    const { view, api } = await openPage('networks/names')
    await paste('10.61.30.77 weather\n')
    await press('Record 1')
    await waitFor(() => expect(view().estate.byKey('address', { ip: '10.61.30.77' })[0]?.name).toBe('weather'))
    expect(api.asked.some(({ route }) => route.endsWith('/imports/apply'))).toBe(true)
    await waitFor(() => expect(screen.getByLabelText<HTMLTextAreaElement>(/^Paste hosts/).value).toBe(''))
  })

  it('stay typed when the estate changed since the preview', async () => {
    const { api } = await openPage('networks/names')
    await paste('10.61.30.77 weather\n')
    api.change([{ type: 'network.add', record: { name: 'ring', vlanId: 90 } }])
    await press('Record 1')
    expect((await screen.findByRole('alert')).textContent).toContain('changed since')
    expect(screen.getByLabelText<HTMLTextAreaElement>(/^Paste hosts/).value).toContain('weather')
  })
})
