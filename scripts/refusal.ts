/** Something the user has to mend: told as a sentence, without a stack. */
export class Refusal extends Error {}
