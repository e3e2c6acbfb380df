/** Work of this page beside its thread came to nothing: a sentence for who waits for it. */
export class WorkFailed extends Error {}
