import { createBrowserRouter, type RouteObject } from 'react-router'
import { places, type PlacePath } from '../lib/places'
import { pages } from './pages'
import { Broken } from './broken'
import { EstatePage } from './estate-page'
import { BoardPage } from '../features/board/board-page'

const routeOf = (path: PlacePath): RouteObject => {
  const shown = pages[path]
  return 'now' in shown ? { path, Component: shown.now } : { path, lazy: async () => ({ Component: await shown.load() }) }
}
const inEstate: RouteObject[] = [{ index: true, Component: BoardPage }, ...places.map(({ path }) => routeOf(path))]

export const router = createBrowserRouter([
  { path: '/', lazy: async () => ({ Component: (await import('./first-page')).FirstPage }), ErrorBoundary: Broken },
  { path: '/estates/:estateId', Component: EstatePage, ErrorBoundary: Broken, children: inEstate },
  { path: '*', Component: Broken },
])
