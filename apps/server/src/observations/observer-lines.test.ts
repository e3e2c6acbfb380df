import { describe, expect, it } from 'vitest'
import { numbersOf, observerScript } from './observer-lines.js'

describe('what a guest sends of itself', () => {
  it('is three numbers, in any order, and what is missing is nothing', () => {
    expect(numbersOf('memory=2048\ncpu=12.5\ndisk=8589934592\n')).toEqual({ cpuPercent: 12.5, memoryMiB: 2048, diskBytes: 8_589_934_592 })
    expect(numbersOf('cpu=7\r\n')).toEqual({ cpuPercent: 7, memoryMiB: null, diskBytes: null })
    expect(numbersOf('hello')).toEqual({ cpuPercent: null, memoryMiB: null, diskBytes: null })
  })
  it.each(['cpu=', 'cpu=-3', 'cpu=1e9x', ' xcpu=5'])('“%s” is no number', (text) => expect(numbersOf(text).cpuPercent).toBeNull())

  it('a name cannot break out of the script', () => {
    const script = observerScript({ sendTo: "http://x/y?a='; rm -rf /", key: "k'; reboot; '", guestName: 'a\n$(reboot)' })
    expect(script.split('\n').filter((line) => /^(SEND_TO|SECRET)=/.test(line))).toEqual([
      "SEND_TO='http://x/y?a='\\''; rm -rf /'",
      "SECRET='k'\\''; reboot; '\\'''",
    ])
    expect(script).not.toContain('$(reboot)')
    expect(script.split('\n')[1]).toMatch(/^# Measures .* of areboot and sends/)
  })
})
