import { readFileSync } from 'node:fs'
import { wcagContrast } from 'culori'
import { describe, expect, it } from 'vitest'

const sheet = readFileSync('apps/web/src/index.css', 'utf8')
/** The colours of a theme as the style sheet has them; what a theme does not set is as in the light one. */
function coloursAfter(selector: string): Readonly<Record<string, string>> {
  const start = sheet.indexOf(selector)
  const block = sheet.slice(start, sheet.indexOf('}', start))
  return Object.fromEntries([...block.matchAll(/--([\w-]+): (#[0-9a-f]{6});/g)].map(([, name, value]) => [String(name), String(value)]))
}
const light = coloursAfter(':root {\n  --paper')
const themes = {
  light,
  dark: { ...light, ...coloursAfter("[data-theme='dark'] {\n  --paper") },
  paper: { ...light, ...coloursAfter("[data-theme='dark'] {\n    --paper") },
} as const

const grounds = ['paper', 'sheet', 'track', 'accent-wash', 'sand-wash', 'error-wash'] as const
/** WCAG 2.2, 1.4.3: text at 4.5 : 1 on whatever ground it may have. */
const texts = ['ink', 'soft', 'faint', 'accent', 'notice', 'warning', 'error'] as const
/** Text on what is filled with a colour. */
const filled = [
  ['accent-ink', 'accent'],
  ['paper', 'ink'],
  ['paper', 'fill'],
  ['paper', 'error'],
] as const
/** WCAG 2.2, 1.4.11: what one must see to know that something is a control, or what a drawing says, at 3 : 1. */
const shapes = ['edge', 'accent', 'fill', 'error', 'warning', 'notice'] as const

describe.each(Object.keys(themes) as (keyof typeof themes)[])('contrast, %s', (theme) => {
  const colours = themes[theme]
  const contrast = (a: string, b: string) => Math.round(wcagContrast(colours[a] ?? '', colours[b] ?? '') * 100) / 100
  it('every text is read on every ground', () =>
    expect(
      texts
        .flatMap((text) => grounds.map((ground) => [text, ground, contrast(text, ground)] as const))
        .filter(([, , ratio]) => !(ratio >= 4.5)),
    ).toEqual([]))
  it('text on what is filled, too', () =>
    expect(
      filled.map(([text, ground]) => [text, ground, contrast(text, ground)] as const).filter(([, , ratio]) => !(ratio >= 4.5)),
    ).toEqual([]))
  it('edges of fields and what drawings are made of are seen', () =>
    expect(
      shapes
        .flatMap((shape) => (['paper', 'sheet', 'track'] as const).map((ground) => [shape, ground, contrast(shape, ground)] as const))
        .filter(([, , ratio]) => !(ratio >= 3)),
    ).toEqual([]))
})
