import { generateRecords } from '../../packages/core/dist/testing/index.js'
import { Findings, Estate } from '../../packages/core/dist/index.js'
const guests = 20000
const records = generateRecords({ hosts: guests / 25, guests, adapters: guests * 2 })
const text = JSON.stringify(records)
let a = [], b = [], c=[]
for (let i = 0; i < 7; i++) { let t = performance.now(); JSON.parse(text); a.push(performance.now() - t); t = performance.now(); const e = Estate.fromRecords(records); b.push(performance.now() - t); t = performance.now(); Findings.of(e, '2027-06-01'); c.push(performance.now() - t) }
const m = (x) => x.sort((p, q) => p - q)[3].toFixed(0)
console.log('parse', m(a), 'build', m(b), 'findings', m(c))
