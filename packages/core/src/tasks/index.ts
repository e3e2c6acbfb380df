export { carryOut, inTurns, type Task, type Turns } from './task.js'
