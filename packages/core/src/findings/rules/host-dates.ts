import { counted } from '../../units/index.js'
import { daysBetween, type Estate, type Host, platformOf, type Policy } from '../../estate/index.js'
import { defineRule, type CheckResult } from '../rule.js'

/** A date that comes due: an error once past, a warning when it is close; one less each where nothing stops because of it. */
function due(
  what: string,
  on: string | null,
  today: string,
  { reminderDays }: Policy,
  remedy: string,
  [past, soon]: readonly [past: CheckResult['severity'], soon: CheckResult['severity']] = ['error', 'warning'],
): readonly CheckResult[] {
  if (!on) return []
  const days = daysBetween(today, on)
  if (days > reminderDays) return []
  const when =
    days < 0
      ? `ended ${-days === 1 ? 'yesterday' : `${counted(-days, 'day')} ago`}`
      : days === 0
        ? 'ends today'
        : `ends in ${days === 1 ? '1 day' : counted(days, 'day')}`
  return [
    {
      severity: days < 0 ? past : soon,
      sentence: `${what} ${when}, on ${on}.`,
      evidence: [
        { label: 'ends', value: on },
        { label: 'days left', value: days, unit: 'days' },
      ],
      remedy,
    },
  ]
}

const isUsed = (host: Host) => host.state !== 'retired'

/** A trial or licence that ends soon, or has ended. */
export const hostTrialEnds = defineRule({
  id: 'host.licence-ends',
  title: 'Trial or licence ends',
  appliesTo: 'host',
  check: (_: Estate, host, policy, today) =>
    isUsed(host)
      ? due(
          `The trial or licence of ${host.name}`,
          host.trialEndsOn,
          today,
          policy,
          'Buy or renew the licence, note the new date, or move the guests before then.',
        )
      : [],
})

/** A warranty that ends soon, or has ended. */
export const hostWarrantyEnds = defineRule({
  id: 'host.warranty-ends',
  title: 'Warranty ends',
  appliesTo: 'host',
  check: (_: Estate, host, policy, today) =>
    isUsed(host)
      ? due(
          `The warranty of ${host.name}`,
          host.warrantyEndsOn,
          today,
          policy,
          'Extend it, plan the replacement, or accept that parts are bought from now on.',
          ['warning', 'notice'],
        )
      : [],
})

/** A host on a platform that is out of support, or soon will be. */
export const hostSupportEnds = defineRule({
  id: 'host.platform-support-ends',
  title: 'Platform out of support',
  appliesTo: 'host',
  reads: ['> platformId'],
  check(estate, host, policy, today) {
    if (!isUsed(host)) return []
    const platform = platformOf(estate, host)
    return due(
      `Support of ${platform.name}, which ${host.name} runs,`,
      platform.supportedUntil,
      today,
      policy,
      'Plan the upgrade: see which hosts can take the next release.',
    )
  },
})

/** A host in service whose certificate nobody could check. */
export const hostFingerprint = defineRule({
  id: 'host.fingerprint-missing',
  title: 'Certificate fingerprint missing',
  appliesTo: 'host',
  check: (_, host) =>
    host.state === 'in service' && !host.fingerprint
      ? [
          {
            severity: 'notice',
            sentence: `No certificate fingerprint is recorded for ${host.name}: its certificate cannot be verified.`,
            evidence: [{ label: 'fingerprint', value: 'not recorded' }],
            remedy: 'Read the fingerprint on the host’s own console and record it.',
          },
        ]
      : [],
})
