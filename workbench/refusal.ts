/** Something the user has to mend: shown as a sentence, without a stack. */
export class Refusal extends Error {}
