import fc from 'fast-check'

// Each property that says no number itself; those that do ask `runs`.
fc.configureGlobal({ numRuns: 20 })
