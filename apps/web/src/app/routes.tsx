import { createBrowserRouter, type RouteObject } from 'react-router'
import { allPlaces, places, type PlacePath } from '../lib/places'
import { onceThere } from '../lib/on-demand'
import { pages } from './pages'
import { ErrorPage } from './error-page'
import { EstatePage } from './estate-page'
import { BoardPage } from '../features/board/board-page'

const routeOf = (path: PlacePath): RouteObject => {
  const shown = pages[path]
  return 'now' in shown ? { path, Component: shown.now } : { path, lazy: async () => ({ Component: await onceThere(shown.load) }) }
}

/** Lists that are beside their things on a wide screen, with the pages of a thing. */
const listPlaces = allPlaces.filter(({ hasPanes }) => hasPanes)
const isOfThing = (list: string, path: string) => path.startsWith(`${list}/:id`)

const withPanes = listPlaces.map(({ path: list }): RouteObject => {
  const shown = pages[list as PlacePath]
  return {
    lazy: async () => {
      const [List, { TwoPanes }] = await onceThere(() => Promise.all(['now' in shown ? shown.now : shown.load(), import('./two-panes')]))
      return { Component: () => <TwoPanes section={list} List={List} /> }
    },
    children: places.filter(({ path }) => path === list || isOfThing(list, path)).map(({ path }) => routeOf(path)),
  }
})
const alone = places
  .filter(({ path }) => !listPlaces.some((list) => list.path === path || isOfThing(list.path, path)))
  .map(({ path }) => routeOf(path))

export const router = createBrowserRouter([
  { path: '/', lazy: async () => ({ Component: (await onceThere(() => import('./first-page'))).FirstPage }), ErrorBoundary: ErrorPage },
  {
    path: '/estates',
    lazy: async () => ({ Component: (await onceThere(() => import('../features/estates/estates-page'))).EstatesPage }),
    ErrorBoundary: ErrorPage,
  },
  {
    path: '/estates/:estateId',
    Component: EstatePage,
    ErrorBoundary: ErrorPage,
    children: [{ index: true, Component: BoardPage }, ...withPanes, ...alone],
  },
  { path: '*', Component: ErrorPage },
])
