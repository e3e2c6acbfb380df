import { MetadataStorage } from 'class-validator'
import { describe, expect, it } from 'vitest'
import { keepRules } from './known-rules.js'

describe('the rules of a class', () => {
  it('are looked for once, those of a group each time', () => {
    const storage = new MetadataStorage()
    const searched: string[] = []
    const search = storage.getTargetValidationMetadatas.bind(storage)
    storage.getTargetValidationMetadatas = (target, ...more) => {
      searched.push((target as { name: string }).name)
      return search(target, ...more)
    }
    keepRules(storage)
    class One {
      readonly a = 1
    }
    class Other {
      readonly b = 1
    }
    const ask = (target: new () => object, groups?: string[]) => storage.getTargetValidationMetadatas(target, '', false, false, groups)
    expect(ask(One)).toBe(ask(One))
    ask(Other)
    ask(One, ['some'])
    ask(One, ['some'])
    expect(searched).toEqual(['One', 'Other', 'One', 'One'])
  })
})
