import { useLayoutEffect } from 'react'

/** Whether a key was meant for what is being typed into. */
const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))

/**
 * Runs something when a key is pressed outside of fields and dialogs.
 *
 * @param key as in `KeyboardEvent.key`; `mod+k` for Ctrl or Command with it (works in fields too)
 */
export function useKey(key: string, run: (event: KeyboardEvent) => void): void {
  // With the page as it is drawn: a key pressed at once after it does what the page shows.
  useLayoutEffect(() => {
    const withMod = key.startsWith('mod+')
    const wanted = withMod ? key.slice(4) : key
    const onKey = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.key !== wanted || (event.ctrlKey || event.metaKey) !== withMod || event.altKey) return
      if (!withMod && (isTyping(event.target) || document.querySelector('[role=dialog]'))) return
      event.preventDefault()
      run(event)
    }
    document.addEventListener('keydown', onKey)
    return () => document.removeEventListener('keydown', onKey)
  }, [key, run])
}

/** Runs something after `g` and then one of these keys. */
export function useGoKeys(go: (key: string) => void): void {
  useLayoutEffect(() => {
    let armedUntil = 0
    const onKey = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target) || document.querySelector('[role=dialog]')) return
      if (Date.now() < armedUntil) {
        armedUntil = 0
        event.preventDefault()
        // Capture keeps a second letter from also being that letter's own command.
        event.stopPropagation()
        go(event.key)
      } else if (event.key === 'g') armedUntil = Date.now() + 1500
    }
    document.addEventListener('keydown', onKey, true)
    return () => document.removeEventListener('keydown', onKey, true)
  }, [go])
}
