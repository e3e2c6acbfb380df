import type { SpecPart } from '@insel/core'
import { useRef, type ReactNode } from 'react'

/**
 * A line that is read while it is typed: each part is tinted as it was understood, and what was not is underlined.
 * The nearest word is offered; Tab takes it.
 */
export function SpecInput({
  value,
  onChange,
  parts,
  label,
  placeholder,
  hint,
}: {
  value: string
  onChange: (line: string) => void
  parts: readonly SpecPart[]
  label: string
  placeholder: string
  hint: ReactNode
}) {
  const input = useRef<HTMLInputElement>(null)
  const shadow = useRef<HTMLDivElement>(null)
  const troubled = parts.find((part) => part.problem)
  const take = () => {
    if (!troubled?.suggestion) return
    // Of “on gannit” only the name is replaced, not the word that leads to it.
    const given = troubled.text.split(/[\s,]+/).at(-1) ?? troubled.text
    const at = troubled.end - given.length
    onChange(value.slice(0, at) + troubled.suggestion + value.slice(troubled.end))
    input.current?.focus()
  }
  let from = 0
  const pieces: ReactNode[] = []
  for (const part of parts) {
    pieces.push(value.slice(from, part.start))
    pieces.push(
      <span
        key={part.start}
        className={part.problem ? 'bg-error-wash border-b-2 border-error' : part.meaning === 'filler' ? '' : 'bg-accent-wash'}
      >
        {value.slice(part.start, part.end)}
      </span>,
    )
    from = part.end
  }
  pieces.push(value.slice(from))
  return (
    <div>
      <div className="relative border border-accent rounded-md bg-sheet font-mono text-lead">
        <div ref={shadow} aria-hidden className="absolute inset-0 px-3 py-2.5 whitespace-pre overflow-hidden text-transparent">
          {pieces}
        </div>
        <input
          ref={input}
          className="relative w-full bg-transparent px-3 py-2.5 outline-offset-2 rounded-md"
          aria-label={label}
          aria-invalid={troubled !== undefined}
          aria-describedby="spec-about"
          value={value}
          placeholder={placeholder}
          spellCheck={false}
          autoComplete="off"
          autoFocus
          onChange={(event) => onChange(event.target.value)}
          onScroll={(event) => shadow.current && (shadow.current.scrollLeft = event.currentTarget.scrollLeft)}
          onKeyDown={(event) => {
            if (event.key === 'Tab' && !event.shiftKey && troubled?.suggestion) {
              event.preventDefault()
              take()
            }
          }}
        />
      </div>
      <p id="spec-about" className="text-dense mt-1.5 min-h-7" aria-live="polite">
        {troubled ? (
          <span className="text-error">
            {troubled.problem}{' '}
            {troubled.suggestion && (
              <>
                Did you mean{' '}
                <button type="button" className="font-bold underline" onClick={take}>
                  {troubled.suggestion}
                </button>
                ? <span className="text-faint">Press Tab to use it.</span>
              </>
            )}
          </span>
        ) : (
          <span className="text-faint">{hint}</span>
        )}
      </p>
    </div>
  )
}
