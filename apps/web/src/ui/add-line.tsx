import { Button } from './button'
import { useLine } from './use-line'

/** A line in which one thing is named and added. */
export function AddLine({
  label,
  placeholder,
  action,
  maxLength,
  className = '',
  fieldWidth,
  add,
}: {
  /** What the field is for, for those who do not see it. */
  label: string
  placeholder: string
  /** What the button says. */
  action: string
  maxLength?: number
  className?: string
  fieldWidth: string
  /** @param text without blanks around it @returns whether it was added; what was typed comes back when it was not */
  add: (text: string) => Promise<boolean>
}) {
  const { text, setText, give } = useLine()
  return (
    <form
      className={`flex gap-2 ${className}`}
      onSubmit={(event) => {
        event.preventDefault()
        if (text.trim() !== '') void give(add)
      }}
    >
      <input
        className={`field ${fieldWidth} !min-h-7`}
        aria-label={label}
        placeholder={placeholder}
        maxLength={maxLength}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <Button type="submit" className="!min-h-7" disabled={text.trim() === ''}>
        {action}
      </Button>
    </form>
  )
}
