import { checkIntent } from '../../reach/index.js'
import type { RecheckOn } from '../paths.js'
import { defineRule } from '../rule.js'
import { allWhen } from './again.js'

const whenever = () => 'all' as const
/** Nearly everything about networks decides who reaches whom. Where nobody recorded an intention, this costs nothing. */
const again: RecheckOn = {
  network: whenever,
  attachment: whenever,
  subnet: whenever,
  pool: whenever,
  address: whenever,
  adapter: whenever,
  guest: allWhen<'guest'>('name', 'kind', 'state', 'isRouter', 'hostId'),
  host: whenever,
  switch: whenever,
  port: whenever,
  platform: whenever,
  forward: whenever,
  route: whenever,
  filter: whenever,
  lease: whenever,
  estate: whenever,
}

/** From so many adapters on, to follow every path takes longer than a command may. */
const LATE_FROM_ADAPTERS = 2000

/** What is meant to reach and does not, or is not meant to and does. */
export const intentNotMet = defineRule({
  id: 'intent.not-met',
  title: 'Reachability differs from the intention',
  appliesTo: 'intent',
  again,
  isLate: (estate) => estate.count('intent') > 0 && estate.count('adapter') >= LATE_FROM_ADAPTERS,
  check(estate, intent) {
    const { isMet, found, example, title } = checkIntent(estate, intent)
    if (isMet || !example) return []
    const { failure } = example.answer
    const asked = intent.protocol === 'icmp' ? '' : ` (${intent.protocol} port ${intent.port ?? ''})`
    return [
      {
        severity: 'error',
        sentence:
          intent.wanted === 'must reach'
            ? `${title}${asked}, and ${found.reaching === 0 ? 'does not' : 'does so only in part'}: ${failure?.sentence ?? 'no answer.'}`
            : `${title}${asked}, and ${found.reaching === found.pairs ? 'does' : 'does in part'}.`,
        evidence: [
          { label: 'reach', value: `${found.reaching} of ${found.pairs}` },
          ...(failure ? [{ label: 'first place', value: failure.at.name }] : []),
        ],
        remedy:
          intent.wanted === 'must reach'
            ? (failure?.mend ?? 'See the path.')
            : 'Add a line to the filter of the router between them, or change the intention.',
      },
    ]
  },
  fix(estate, intent) {
    const { example } = checkIntent(estate, intent)
    return intent.wanted === 'must reach' ? example?.answer.failure?.fix : undefined
  },
})
