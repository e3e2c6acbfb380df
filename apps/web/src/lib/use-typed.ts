import { useState } from 'react'

/**
 * The text of a field whose value the page's address keeps. What is typed is here at once and goes to the address after
 * that: navigation may lag behind quick typing, letters must not. While nobody types, the field follows the value.
 *
 * @returns the text, and what the field is given
 */
export function useTyped(value: string, onChange: (text: string) => void) {
  const [text, setText] = useState(value)
  const [seen, setSeen] = useState(value)
  const [isTyping, setTyping] = useState(false)
  if (value !== seen) {
    setSeen(value)
    if (!isTyping) setText(value)
  }
  return {
    text,
    field: {
      value: text,
      onFocus: () => setTyping(true),
      onBlur: () => setTyping(false),
      onChange: (event: { readonly target: { readonly value: string } }) => {
        setText(event.target.value)
        onChange(event.target.value)
      },
    },
  }
}
