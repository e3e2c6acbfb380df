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
  return (
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
          if (file) void take(file)
        }}
      />
    </label>
  )
}
