import { useEffect, useState } from 'react'

/** A name or serial that is typed by hand before something that cannot be undone: nobody wipes by a click. */
export function TypedName({ name, label, typed }: { name: string; label: string; typed: (isTyped: boolean) => void }) {
  const [text, setText] = useState('')
  const isTyped = text.trim().toLowerCase() === name.toLowerCase()
  useEffect(() => typed(isTyped), [typed, isTyped])
  return (
    <label className="flex flex-wrap gap-2 items-center my-1 text-dense">
      {label}
      <input className="field font-mono !w-48 !min-h-7" autoComplete="off" value={text} onChange={(event) => setText(event.target.value)} />
    </label>
  )
}
