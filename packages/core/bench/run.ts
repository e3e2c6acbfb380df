import { measureBatch, measureCore, measureGrowth, measurePlans } from './core.js'

// Prints what it measured: run in its own process, on the core as it is built.
process.stdout.write(JSON.stringify({ core: [...measureCore(), ...measurePlans(), ...measureBatch()], growth: measureGrowth() }))
