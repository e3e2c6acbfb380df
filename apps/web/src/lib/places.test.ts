import { matchPath } from 'react-router'
import { describe, expect, it } from 'vitest'
import { allPlaceViews } from './place-views'
import { allPlaces, sections } from './places'

describe('the places', () => {
  it('each have a path, what the command field calls them, and pictures of their own', () => {
    for (const of of [
      allPlaces.map(({ path }) => path),
      allPlaces.flatMap(({ find }) => find ?? []),
      allPlaceViews.flatMap(({ pictures }) => pictures ?? []),
    ])
      expect(new Set(of).size).toBe(of.length)
  })

  it('are looked at where they are: each view leads to its place and to no other', () => {
    for (const { path, views } of allPlaceViews) {
      expect(views.length).toBeGreaterThan(0)
      for (const view of views) {
        const at = `/${(view.split('?')[0] ?? '').replaceAll(/\{[^}]*\}/g, 'x')}`
        // The router prefers a path in words to one with an id in it.
        const found = allPlaces
          .filter((place) => matchPath(`/${place.path}`, at))
          .sort((a, b) => a.path.split(':').length - b.path.split(':').length)[0]
        expect([view, found?.path]).toEqual([view, path])
      }
    }
  })

  it('belong to a section by the first part of their path, and each section has one key and one way in', () => {
    for (const { path, section } of allPlaces) expect(path.split('/')[0]).toBe(section)
    expect(new Set(sections.map(({ key }) => key)).size).toBe(sections.length)
    expect(sections.map(({ label }) => label)).toEqual(sections.map(({ path }) => path.slice(0, 1).toUpperCase() + path.slice(1)))
  })
})
