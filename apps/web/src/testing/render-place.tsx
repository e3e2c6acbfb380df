import { act } from '@testing-library/react'
import { matchPath, Route, Routes, useLocation } from 'react-router'
import { pages } from '../app/pages'
import { places } from '../lib/places'
import { renderInEstate } from './api-stand-in'

const Elsewhere = () => <p>elsewhere: {useLocation().pathname.split('/').slice(3).join('/')}</p>

/** The place that a path leads to: one in words before one with an id in it. */
function placeAt(at: string) {
  const path = `/${at.split('?')[0] ?? ''}`
  const [found] = places
    .filter((place) => matchPath(`/${place.path}`, path))
    .sort((a, b) => a.path.split(':').length - b.path.split(':').length)
  if (!found) throw new Error(`There is no place at ${at}.`)
  return found.path
}

/** Renders the page of a place, as the routes would; where it leads to another, `elsewhere:` and the way there. */
export async function renderPlace(at: string, options: Omit<NonNullable<Parameters<typeof renderInEstate>[1]>, 'at'> = {}) {
  const path = placeAt(at)
  const shown = pages[path]
  const Page = 'now' in shown ? shown.now : await shown.load()
  let page: ReturnType<typeof renderInEstate> | undefined
  await act(() => {
    page = renderInEstate(
      <Routes>
        <Route path={path} element={<Page />} />
        <Route path="*" element={<Elsewhere />} />
      </Routes>,
      { ...options, at },
    )
    return Promise.resolve()
  })
  if (!page) throw new Error('nothing was rendered')
  return page
}
