import { expose } from 'comlink'
import { makeChecks } from './make-checks'

expose(makeChecks())
