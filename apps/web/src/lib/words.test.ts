import { describe, expect, it } from 'vitest'
import { holdsAll, macWords, wordsOf } from './words'

const texts = [
  'playout-1',
  'gannet',
  macWords('02:1a:4b:30:00:2f'),
  'office vlan 40 vlan40 10.61.40.0/24',
  '#on-air',
  'Asked for by the news desk',
]
const fits = (query: string) => holdsAll(texts, wordsOf(query))

describe('what a list is filtered by', () => {
  it.each([
    ['', true],
    ['PLAYOUT', true],
    ['gannet playout', true],
    ['gannet vault', false],
    ['vlan40', true],
    ['10.61.40', true],
    ['#on-air', true],
    ['news asked', true],
    // A MAC however it is written, whole or its beginning.
    ['02-1A-4B-30-00-2F', true],
    ['021a.4b30.002f', true],
    ['02:1a:4b', true],
    ['02:1a:4c', false],
  ])('“%s”: %s', (query, found) => expect(fits(query)).toBe(found))
})
