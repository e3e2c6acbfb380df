import { recordTitle, type DriveArray } from '../../estate/index.js'
import { arrayOf, uncutBytes } from '../../hosts/index.js'
import { formatBytes } from '../../units/index.js'
import { defineRule } from '../rule.js'

/** An array that cannot be built, or whose stores take more than it holds; or one that deserves a second look. */
export const arrayPlanned = defineRule({
  id: 'array.unsound',
  title: 'Array unsound',
  appliesTo: 'array',
  reads: ['< drive.arrayId', '< store.arrayId'],
  check(estate, array: DriveArray) {
    const plan = arrayOf(estate, array)
    const title = recordTitle(estate, 'array', array)
    const evidence = [
      { label: 'members', value: plan.members },
      { label: 'usable', value: plan.usable.value, unit: 'bytes' as const },
    ]
    if (plan.problem)
      return [
        {
          severity: 'error',
          sentence: `${title} cannot be built: ${plan.problem}`,
          evidence,
          remedy: 'Add members, or choose another level.',
        },
      ]
    const uncut = uncutBytes(estate, array)
    if (uncut < 0)
      return [
        {
          severity: 'error',
          sentence: `The stores in ${title} take ${formatBytes(-uncut)} more than its ${formatBytes(plan.usable.value)}.`,
          evidence: [...evidence, { label: 'too much', value: -uncut, unit: 'bytes' as const }],
          remedy: 'Make a store smaller, or the array larger.',
        },
      ]
    const [caution] = plan.cautions
    return caution
      ? [
          {
            severity: 'notice',
            sentence: `${title}, level ${array.level}: ${caution}`,
            evidence,
            remedy: 'Review the level on the drives page.',
          },
        ]
      : []
  },
})
