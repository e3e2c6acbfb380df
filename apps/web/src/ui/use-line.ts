import { useState } from 'react'

/** What was typed after a text was sent: the field keeps it when the text is taken. */
export const restOf = (now: string, sent: string): string => (now.startsWith(sent) ? now.slice(sent.length) : now)

/** A field whose text is given away: it is free for the next at once, and nobody gives the same twice. */
export interface Line {
  readonly text: string
  setText(text: string): void
  /**
   * @param take takes the text, without blanks around it. @returns whether it did: where it did not, the field has the text again, and
   * behind it what was typed since
   */
  give(take: (text: string) => Promise<boolean>): Promise<void>
}

/** A line to be typed in, again and again. */
export function useLine(): Line {
  const [text, setText] = useState('')
  return {
    text,
    setText,
    async give(take) {
      const given = text
      setText('')
      let isTaken = false
      try {
        isTaken = await take(given.trim())
      } finally {
        if (!isTaken) setText((since) => [given, since].filter(Boolean).join(' '))
      }
    },
  }
}
