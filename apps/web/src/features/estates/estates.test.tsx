import { idOf } from '@insel/core/testing'
import { screen, waitFor } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { leavePage, openPage, press, type } from '../../testing/open-page'

afterEach(leavePage)

describe('an estate, under setup', () => {
  it('is archived and taken out again; every page says that it is archived', async () => {
    const { view } = await openPage('setup')
    await press('Archive')
    await waitFor(() => expect(view().estate.find('estate', idOf('estate'))?.archivedAt).not.toBeNull())
    await press('Take it out of the archive')
    await waitFor(() => expect(view().estate.find('estate', idOf('estate'))?.archivedAt).toBeNull())
  })

  it('that is archived refuses a change in a sentence', async () => {
    const archived = { type: 'estate.update', id: idOf('estate'), changes: { archivedAt: '2027-01-01T00:00:00.000Z' } } as const
    const { api } = await openPage(`records/policy/${idOf('policy')}`, [archived])
    const { revision } = api
    await type('Store warning', '5')
    await press(/^Save changes/)
    expect((await screen.findAllByText(/is archived: take it out of the archive/)).length).toBeGreaterThan(0)
    expect(api.revision).toBe(revision)
  })

  it('is removed only once its name is typed, and a copy is offered first', async () => {
    const { view } = await openPage('setup')
    await press('Remove the estate…')
    const remove = () => screen.getByRole<HTMLButtonElement>('button', { name: 'Remove the estate' })
    expect(screen.getByRole('link', { name: 'the estate as JSON' }).getAttribute('href')).toContain('/exports/estate.json')
    expect(remove().disabled).toBe(true)
    await type('Its name, to remove it', 'skerry sound')
    expect(remove().disabled).toBe(true)
    await type('Its name, to remove it', view().estate.find('estate', idOf('estate'))?.name ?? '')
    expect(remove().disabled).toBe(false)
    await press('Cancel')
    expect(screen.queryByLabelText('Its name, to remove it')).toBeNull()
  })
})
