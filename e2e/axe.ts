import Axe from 'axe-core'
import type { Page } from '@playwright/test'

/**
 * What axe finds, as lines that say where to look. The program of axe stays in the page for the next look.
 *
 * @param within a selector of what is looked at; without one, the whole page
 * @param rules only these; without them, all
 */
export async function axeFinds(
  page: Page,
  where: string,
  { within, rules }: { within?: string; rules?: string[] } = {},
): Promise<readonly string[]> {
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(Axe.source)
  const violations = await page.evaluate(
    async ({ within, rules }) => {
      const { violations } = await axeOf(window).run(within ?? document, {
        resultTypes: ['violations'],
        // Off in axe itself as long as few pages pass it.
        rules: { 'target-size': { enabled: true } },
        ...(rules && { runOnly: rules }),
      })
      return violations.map(({ id, nodes }) => ({ id, nodes: nodes.map(({ html }) => html.slice(0, 120)) }))
      function axeOf(page: unknown) {
        return (page as { axe: typeof Axe }).axe
      }
    },
    { within, rules },
  )
  return violations.map(({ id, nodes }) => `${where}: ${id} at ${nodes.slice(0, 3).join(' | ')}`)
}
