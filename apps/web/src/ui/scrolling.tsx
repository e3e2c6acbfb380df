import { useLayoutEffect, useRef, useState, type ReactNode } from 'react'

/** What may be wider than its place: it scrolls inside itself, by pointer and by arrow keys, with a shadow where there is more. */
export function Scrolling({ children, className = '' }: { children: ReactNode; className?: string }) {
  const box = useRef<HTMLDivElement>(null)
  const [isOver, setOver] = useState(false)
  useLayoutEffect(() => {
    const element = box.current
    if (!element) return
    const measure = () => setOver(element.scrollWidth > element.clientWidth)
    measure()
    const observer = new ResizeObserver(measure)
    observer.observe(element)
    return () => observer.disconnect()
  }, [])
  return (
    <div ref={box} className={`scrolls print:overflow-visible ${className}`} {...(isOver ? { tabIndex: 0 } : {})}>
      {children}
    </div>
  )
}

/** A table of a page that scrolls inside itself where it is too wide. */
export const LedgerTable = ({ children }: { children: ReactNode }) => (
  <Scrolling>
    <table className="ledger w-full text-dense">{children}</table>
  </Scrolling>
)
