import { describe, expect, it, vi } from 'vitest'
import { Meanwhile } from './meanwhile.js'

describe('work that is done meanwhile', () => {
  it('is begun once, whether there was time for it before or not', async () => {
    const work = vi.fn(() => Promise.resolve(7))
    const begun = new Meanwhile(work)
    begun.begin()
    begun.begin()
    expect(await begun.result()).toBe(7)
    expect(work).toHaveBeenCalledTimes(1)
    const late = new Meanwhile(work)
    expect(await late.result()).toBe(7)
    expect(work).toHaveBeenCalledTimes(2)
  })

  it('that goes wrong is told to whoever asks, and to nobody else', async () => {
    const wrong = new Meanwhile(() => Promise.reject(new Error('no')))
    wrong.begin()
    await new Promise((resolve) => setTimeout(resolve, 5))
    await expect(wrong.result()).rejects.toThrow('no')
  })
})
