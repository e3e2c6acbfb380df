import { act, cleanup, render, screen } from '@testing-library/react'
import { createMemoryRouter, RouterProvider } from 'react-router'
import { afterEach, expect, it } from 'vitest'
import { AppRouter, useGo } from './use-go'

afterEach(cleanup)

/** A page that goes on to `/done`, and another that is fetched as long as one likes. */
function open() {
  const seen: { go?: ReturnType<typeof useGo>; fetched?: () => void } = {}
  function Form() {
    seen.go = useGo()
    return <p>the form</p>
  }
  const router = createMemoryRouter(
    [
      { path: '/', Component: Form },
      { path: '/done', Component: () => <p>the list</p> },
      {
        path: '/other',
        lazy: () =>
          new Promise((resolve) => {
            seen.fetched = () => resolve({ Component: () => <p>the other page</p> })
          }),
      },
    ],
    { initialEntries: ['/'] },
  )
  render(
    <AppRouter value={router}>
      <RouterProvider router={router} />
    </AppRouter>,
  )
  return { router, seen }
}

it('goes on when the change is recorded', async () => {
  const { seen } = open()
  await act(async () => seen.go?.('/done'))
  expect(screen.getByText('the list')).toBeDefined()
})

it('takes nobody back who is on the way to a page that is still being fetched', async () => {
  const { router, seen } = open()
  const go = seen.go
  // The page does not know yet: the click and the server's answer come in one breath.
  const going = router.navigate('/other')
  await go?.('/done')
  expect(router.state.navigation.location?.pathname).toBe('/other')
  await act(async () => {
    seen.fetched?.()
    await going
  })
  expect(screen.getByText('the other page')).toBeDefined()
})

it('takes nobody back who has left', async () => {
  const { router, seen } = open()
  const go = seen.go
  await act(() => router.navigate('/done'))
  await act(async () => go?.('/'))
  expect(screen.getByText('the list')).toBeDefined()
})
