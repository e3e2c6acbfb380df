const shapes = {
  error: { label: 'Error', className: 'text-error', path: 'M5 0.5a4.5 4.5 0 1 1 0 9a4.5 4.5 0 1 1 0-9z' },
  no: { label: 'Does not fit', className: 'text-error', path: 'M5 0.5a4.5 4.5 0 1 1 0 9a4.5 4.5 0 1 1 0-9z' },
  warning: { label: 'Warning', className: 'text-warning', path: 'M5 0L10 5L5 10L0 5z' },
  remark: { label: 'Fits with a remark', className: 'text-warning', path: 'M5 0L10 5L5 10L0 5z' },
  notice: { label: 'Notice', className: 'text-notice', path: 'M1 1h8v8h-8z' },
  fits: { label: 'Fits', className: 'text-notice', path: 'M1 1h8v8h-8z' },
} as const

/** A severity or verdict: its own shape as well as its colour. */
export function Mark({ of, isLabelled = true }: { of: keyof typeof shapes; isLabelled?: boolean }) {
  const { label, className, path } = shapes[of]
  return (
    <svg
      viewBox="0 0 10 10"
      className={`inline-block size-2.5 shrink-0 ${className}`}
      {...(isLabelled ? { role: 'img', 'aria-label': label } : { 'aria-hidden': true })}
    >
      <path d={path} fill="currentColor" />
    </svg>
  )
}
