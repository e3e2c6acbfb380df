import { shippedPlatforms, shippedWorkloads } from '@insel/core'
import { idOf } from '@insel/core/testing'
import { screen, waitFor } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { leavePage, openPage, press, type } from '../../testing/open-page'

afterEach(leavePage)

describe('the setup', () => {
  it('shows every policy with its value and what it is for', async () => {
    await openPage('setup')
    expect(screen.getByText('Store warning').nextElementSibling?.textContent).toMatch(/^\d+\s%$/)
  })

  it('takes a platform that ships with Insel, and no longer offers it', async () => {
    const { view } = await openPage('setup', [{ type: 'platform.update', id: idOf('marram'), changes: { name: 'Marram 1' } }])
    const open = shippedPlatforms.find(({ name }) => view().estate.byKey('platform', { name }).length === 0)
    if (!open) throw new Error('all are recorded already')
    await press(`Use profile ${open.name}`)
    await waitFor(() => expect(view().estate.byKey('platform', { name: open.name })).toHaveLength(1))
    await waitFor(() => expect(screen.queryByRole('button', { name: `Use profile ${open.name}` })).toBeNull())
  })
})

describe('a policy', () => {
  const path = `records/policy/${idOf('policy')}`

  it('is changed in its form, with its effect before it is recorded', async () => {
    const { view } = await openPage(path)
    await type('Store warning', '5')
    expect(await screen.findByText(/nvme-1 is \d+ % in use/)).toBeDefined()
    await press(/^Save changes/)
    await waitFor(() => expect(view().estate.find('policy', idOf('policy'))?.storeWarnPercent).toBe(5))
  })

  it('that no number is says so at the field, and is not recorded', async () => {
    const { api } = await openPage(path)
    await type('Store warning', 'often')
    await press(/^Save changes/)
    expect((await screen.findByText(/“often”/)).className).toContain('text-error')
    expect(api.revision).toBe(1)
  })
})

describe('a record that goes', () => {
  it('names what goes with it first, and is kept by who thinks better of it', async () => {
    const { view } = await openPage(`records/network/${idOf('studio')}`)
    await press('Remove…')
    expect(await screen.findByText('Also affected, removed or with the reference cleared:')).toBeDefined()
    await press('Cancel')
    expect(view().estate.find('network', idOf('studio'))).toBeDefined()
    await press('Remove…')
    await waitFor(() => expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Remove' }).disabled).toBe(false))
    await press('Remove')
    await waitFor(() => expect(view().estate.find('network', idOf('studio'))).toBeUndefined())
    expect(view().estate.find('guest', idOf('playout'))).toBeDefined()
  })
})

describe('workload profiles', () => {
  it('that ship with Insel become records of the estate once somebody changes them', async () => {
    const { view } = await openPage('guests/systems')
    const [first] = shippedWorkloads
    await press(new RegExp(`^Change\\s*${first?.name ?? ''}$`))
    await waitFor(() => expect(view().estate.byKey('workload', { name: first?.name ?? '' })).toHaveLength(1))
    expect(await screen.findByText(/^elsewhere: records\/workload\//)).toBeDefined()
  })
})
