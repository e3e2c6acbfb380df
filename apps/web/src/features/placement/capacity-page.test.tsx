import { screen, within } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { leavePage, openPage, type } from '../../testing/open-page'

afterEach(leavePage)

const counts = () =>
  within(screen.getAllByRole('table')[0] as HTMLElement)
    .getAllByRole('row')
    .slice(1)
    .map((row) => [...row.querySelectorAll('td')].map((cell) => cell.textContent))

describe('what still fits', () => {
  it('is counted by host, with what ends it', async () => {
    await openPage('hosts/capacity?size=2cpu%208G%2040G')
    await screen.findByText(/more, each host by itself/)
    const byHost = Object.fromEntries(counts().map(([host = '', , count, limit]) => [host, [count, limit]]))
    // 32 GiB less 1.4 GiB of the platform's own and what its guest takes, by 8 GiB and 146 MiB each.
    expect(byHost['gannet']?.[0]).toBe('2')
    expect(byHost['gannet']?.[1]).toMatch(/^memory/)
    expect(byHost['tern']?.[0]).toBe('0')
  })

  it('follows the line as it is typed, and asks for what is missing', async () => {
    await openPage('hosts/capacity')
    await type('A guest of this size', '2cpu')
    expect(screen.getByText(/Enter at least vCPUs and memory/)).toBeDefined()
    await type('A guest of this size', '2cpu 1G net studio')
    await screen.findByText(/more, each host by itself/)
    expect(counts().find(([host]) => host === 'tern')?.[3]).toBe('studio is not attached')
  })
})
