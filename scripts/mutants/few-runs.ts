import fc from 'fast-check'

// Each property that says no number itself: a mutant is looked for by every test that reaches it, one after the other.
fc.configureGlobal({ numRuns: 20 })
