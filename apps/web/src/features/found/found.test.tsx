import { idOf } from '@insel/core/testing'
import { act, fireEvent, screen, waitFor } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { problem } from '../../testing/api-stand-in'
import { leavePage, openPage, press, rowOf, tick, type } from '../../testing/open-page'

afterEach(leavePage)

const paste = (text: string) => type(/^Paste or drop/, text)
/** What `free -b` prints, as in its manual page; the values are invented. @see free(1), procps */
const free = (bytes: number) =>
  `               total        used        free      shared  buff/cache   available\nMem:     ${bytes}  4000000000  1000000000   100000  2000000000  3000000000\nSwap:             0           0           0\n`
const GiB = 2 ** 30

describe('what was found of a host', () => {
  it('is held beside the plan, and taken over where it is chosen', async () => {
    const { view } = await openPage(`hosts/${idOf('gannet')}/found`)
    await paste(free(48 * GiB))
    expect(await screen.findByText(/^Different/)).toBeDefined()
    const about = screen.getAllByRole('checkbox').map((box) => box.getAttribute('aria-label') ?? '')
    await tick(about[0] ?? '')
    await press(/^Update record 1/)
    await waitFor(() => expect(view().estate.find('host', idOf('gannet'))?.memoryMiB).toBe(48 * 1024))
    expect(await screen.findByText('As recorded')).toBeDefined()
  })

  it('is kept as a finding where nobody can say yet which is right', async () => {
    const { view } = await openPage(`hosts/${idOf('gannet')}/found`)
    await paste(free(48 * GiB))
    await screen.findByText(/^Different/)
    await tick(screen.getAllByRole('checkbox')[0]?.getAttribute('aria-label') ?? '')
    await press('Keep as findings')
    await waitFor(() => expect(view().estate.all('deviation')).toHaveLength(1))
    expect(view().estate.find('host', idOf('gannet'))?.memoryMiB).toBe(32768)
  })

  it('shows what is as planned when asked, and nothing to choose there', async () => {
    await openPage(`hosts/${idOf('gannet')}/found`)
    await paste(free(32 * GiB))
    expect(await screen.findByText('As recorded')).toBeDefined()
    await press(/^Show all/)
    expect(rowOf(/memory/i).queryByRole('checkbox')).toBeNull()
  })

  it('is read from a file as from the field, up to a size', async () => {
    await openPage(`hosts/${idOf('gannet')}/found`)
    const input = screen.getByLabelText(/^or a file/)
    const drop = (file: File) => act(() => Promise.resolve(fireEvent.change(input, { target: { files: [file] } })))
    const large = new File(['x'], 'dump.txt')
    Object.defineProperty(large, 'size', { value: 900e6 })
    await drop(large)
    expect((await screen.findByRole('alert')).textContent).toContain('dump.txt has 900 MB')
    await drop(new File([free(48 * GiB)], 'free.txt'))
    expect(await screen.findByText(/^Different/)).toBeDefined()
  })

  it('of a controller that does not answer is said where it was asked', async () => {
    const { api } = await openPage(`hosts/${idOf('gannet')}/found`)
    api.instead.set(`/api/v1/estates/01890000-0000-7000-8000-00000000e000/redfish`, () =>
      problem(502, 'unreachable', 'Nothing answers at 10.61.10.207.'),
    )
    await type('Address', 'https://10.61.10.207')
    await press('Read controller')
    expect((await screen.findByRole('alert')).textContent).toBe('Nothing answers at 10.61.10.207.')
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Read controller' }).disabled).toBe(false)
  })
})
