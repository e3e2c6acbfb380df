import { dayOf, recordTitle } from '../../estate/index.js'
import { defineRule } from '../rule.js'

/** Something found on a host or in a guest that is not as planned. */
export const deviationOpen = defineRule({
  id: 'host.not-as-planned',
  title: 'Differs from the record',
  appliesTo: 'deviation',
  check: (estate, deviation) => [
    {
      severity: 'warning',
      sentence: `${estate.find('host', deviation.hostId)?.name ?? estate.find('guest', deviation.guestId)?.name ?? ''}: ${deviation.about} is ${deviation.found}, planned is ${deviation.planned}.`,
      evidence: [
        { label: 'planned', value: deviation.planned },
        { label: 'found', value: deviation.found },
        { label: 'seen', value: `${dayOf(estate, deviation.seenAt)}, ${deviation.source}` },
      ],
      remedy: 'Correct the machine and remove the note, or update the record.',
    },
  ],
  fix: (_, deviation) => [{ type: 'deviation.remove', id: deviation.id }],
})

/** A step of a build or install sheet that failed and was left so. */
export const stepFailed = defineRule({
  id: 'sheet.step-failed',
  title: 'Step of a sheet failed',
  appliesTo: 'step',
  reads: ['> sheetId'],
  check(estate, step) {
    if (step.state !== 'failed') return []
    const sheet = estate.find('sheet', step.sheetId)
    const guest = estate.find('guest', sheet?.guestId)
    const copy = estate.find('copy', sheet?.copyId)
    const work = copy
      ? `making the copy ${recordTitle(estate, 'copy', copy)}`
      : guest
        ? `${sheet?.work === 'renewal' ? 'renewing' : 'installing'} ${guest.name}`
        : `building ${estate.find('host', sheet?.hostId)?.name ?? ''}`
    return [
      {
        severity: 'warning',
        sentence: `The step ${step.step.replaceAll('-', ' ')} of ${work} failed: ${step.note}`,
        evidence: [{ label: 'when', value: dayOf(estate, step.at) }],
        remedy: 'Fix the cause and repeat the step on the sheet.',
      },
    ]
  },
})
