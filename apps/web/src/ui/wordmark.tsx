export function Wordmark() {
  return (
    <span className="inline-flex items-center gap-2 font-bold text-lead">
      <svg viewBox="0 0 24 24" className="size-6" aria-hidden>
        <path d="M4 15a8 8 0 0 1 16 0z" className="fill-accent" />
        <path d="M1 18.5q2.75-2 5.5 0t5.5 0 5.5 0 5.5 0" fill="none" stroke="currentColor" strokeWidth="1.8" />
      </svg>
      <span className="max-[22rem]:hidden">Insel</span>
    </span>
  )
}
