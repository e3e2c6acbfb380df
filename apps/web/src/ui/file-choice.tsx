import { useState } from 'react'

/** A file that is chosen; the same one may be chosen again, when it has changed or what it met has. */
export function FileChoice({
  label,
  accept,
  take,
  disabled = false,
}: {
  label: string
  accept: string
  take: (file: File) => unknown
  disabled?: boolean
}) {
  const [unread, setUnread] = useState<string>()
  const choose = async (file: File) => {
    setUnread(undefined)
    try {
      await take(file)
    } catch (error) {
      // What the browser says of a file that has gone, or that it may not read.
      if (!(error instanceof DOMException)) throw error
      setUnread(`${file.name} could not be read: it was moved, changed or is locked. Choose it again.`)
    }
  }
  return (
    <>
      <label className="text-accent text-dense cursor-pointer hover:underline inline-flex items-center min-h-7 has-focus-visible:outline-2 outline-accent rounded-sm">
        {label}
        <input
          type="file"
          accept={accept}
          className="sr-only"
          disabled={disabled}
          onChange={(event) => {
            const file = event.target.files?.[0]
            event.target.value = ''
            if (file) void choose(file)
          }}
        />
      </label>
      {unread && (
        <span role="alert" className="text-error text-dense">
          {unread}
        </span>
      )}
    </>
  )
}
