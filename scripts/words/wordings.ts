/** A wording that is not used, and what is written instead. */
export interface Wording {
  readonly no: RegExp
  readonly better: string
  /** It is not used in comments either. */
  readonly isEverywhere?: true
}

/** Wordings that have to be decoded, each with the plain one. */
export const wordings: readonly Wording[] = [
  { no: /\bCompose an? (host|guest)\b/, better: 'Add host, Add guest' },
  { no: /\b(take|taken|takes) back\b/i, better: 'Undo (just now), Revert (in the logbook)' },
  { no: /\bfold\b|\bunfold\b/i, better: 'Hide, Show, Collapse, Expand' },
  { no: /make (it|an array) at (a )?level/i, better: 'Create RAID 10, Create array' },
  { no: /\bcut (from|a store)\b|not cut yet/i, better: 'Add store, unallocated' },
  { no: /\bto mind\b/i, better: 'Notes' },
  { no: /Will it do\?/, better: 'Compatibility' },
  { no: /planned against found/i, better: 'Inventory check' },
  { no: /let the machine tell/i, better: 'Collect with a script' },
  { no: /good for half an hour/i, better: 'Works once, expires in 30 minutes' },
  { no: /from memory, editable/i, better: 'Basis: remembered value, check it' },
  { no: /(?<!`common practice, )\bno source\b/i, better: 'Basis: common practice' },
  { no: /\bplanable\b/i, better: 'available for guests' },
  { no: /\bmachine of metal\b/i, better: 'Physical server' },
  {
    no: /\b(carry|carries|carrying) (another |the |its |which )?networks?\b|networks carried|carried (where|to)\b/i,
    better: 'Attach network, attached',
  },
  { no: /\bpasses? (on|nothing on)\b/i, better: 'Routes packets, forwards packets' },
  { no: /\b(add|address) pools?\b|DHCP pool/i, better: 'DHCP range' },
  { no: /\bIn and out\b|\b(guest|descriptor|table of guests|guests), (in|out)\b/, better: 'Import and export' },
  { no: /a second time/i, better: 'appears twice' },
  { no: /school of sizing|take this size/i, better: 'Sizing method, Use this size' },
  { no: /\bopen again\b|take it up again|build it anew/i, better: 'Reopen, Resume, Start a new build' },
  { no: /^Leave it$/i, better: 'Cancel' },
  { no: /from a forged one/i, better: 'its certificate cannot be verified' },
  { no: /\bat this pace\b|\bno pace\b/i, better: 'at this rate, no growth rate yet' },
  { no: /\bwho drives it\b/i, better: 'What makes it grow' },
  { no: /\bmake its key void\b/i, better: 'Revoke its key' },
  { no: /\bin the plan\b/i, better: 'recorded; “the plan” is what is not applied yet' },
  { no: /\bnobody(’s)?\b/i, better: 'no machine, no person, unassigned' },
  { no: /goes in circles|again and again/i, better: 'Routing loop' },
  { no: /\bfor near\b|\bnot near\b|\bis near\b/i, better: 'as local, directly connected' },
  { no: /\banew\b/i, better: 'again, new' },
  { no: /\b(stands?|lies?|hangs?|hung) (on|in|among|beside|behind|against|upon)\b/i, better: 'is on, is in' },
  { no: /\bby way of\b/i, better: 'via, through' },
  { no: /; “\{\}” is not\.|is too little|is too much\b/i, better: 'must be …' },
  { no: /(?<!there )\b(is|are) no [a-z]+\b(?! longer)/i, better: 'is not a …' },
  { no: /recorded so already/i, better: 'This is already recorded', isEverywhere: true },
  { no: /\bThere is not an? (command|setting)\b/i, better: 'Unknown command, Unknown setting', isEverywhere: true },
  { no: /\bhave one (identity|name|address)\b/i, better: 'share an identity', isEverywhere: true },
  { no: /as if the power had failed/i, better: 'only crash-consistent', isEverywhere: true },
  { no: /would not do what it was written for/i, better: 'its effect has changed since it was written', isEverywhere: true },
  { no: /\bbeside (them|it) stands?\b/i, better: 'beside them is', isEverywhere: true },
  { no: /\bis none,? such as\b/i, better: 'Enter a time such as …', isEverywhere: true },
  {
    no: /\bPurpose the\b|\bapplyMend\.|\bplanable\b|\bmachine of metal\b/,
    better: 'what was meant before it was renamed',
    isEverywhere: true,
  },
]
