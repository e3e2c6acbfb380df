import {
  differenceCiede2000,
  filterDeficiencyDeuter,
  filterDeficiencyProt,
  filterDeficiencyTrit,
  parse,
  wcagContrast,
  type Color,
} from 'culori'
import { describe, expect, it } from 'vitest'
import { palette } from './palette'

const views: Readonly<Record<string, (colour: Color) => Color | undefined>> = {
  'full colour': (colour: Color) => colour,
  deuteranopia: filterDeficiencyDeuter(1),
  protanopia: filterDeficiencyProt(1),
  tritanopia: filterDeficiencyTrit(1),
}
const difference = differenceCiede2000()
/** Blocks on the board: their text in the light and in the dark theme. */
const inks = { light: '#ffffff', dark: '#10171f' } as const
/** A CIEDE2000 difference of 2 to 3 is just seen side by side; common practice, no source: three times that across a page. */
const APART = 9

describe.each(['light', 'dark'] as const)('the palette, %s', (theme) => {
  it.each(Object.keys(views))('its colours are told apart with %s', (name) => {
    const seen = palette[theme].map((colour) => {
      const parsed = parse(colour)
      return parsed && views[name]?.(parsed)
    })
    const pairs = seen.flatMap((a, i) =>
      seen
        .slice(i + 1)
        .map((b, j) => ({ pair: `${palette[theme][i]} ${palette[theme][i + j + 1]}`, apart: a && b ? difference(a, b) : 0 })),
    )
    expect(pairs.filter(({ apart }) => apart < APART)).toEqual([])
  })
  // WCAG 2.2, success criterion 1.4.3: 4.5 : 1 for text.
  it('carries its text at 4.5 : 1', () => {
    for (const colour of palette[theme]) expect([colour, wcagContrast(colour, inks[theme]) >= 4.5]).toEqual([colour, true])
  })
})
