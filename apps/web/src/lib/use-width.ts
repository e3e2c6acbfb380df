import { usePrinting } from './use-media'
import { useLayoutEffect, useState, type RefObject } from 'react'

function contentWidth(element: HTMLElement): number {
  const { paddingLeft, paddingRight } = getComputedStyle(element)
  return element.clientWidth - parseFloat(paddingLeft || '0') - parseFloat(paddingRight || '0')
}

/** What a sheet of A4 has between its margins, px. */
const PAPER_PX = 660

/**
 * The width of what an element holds, followed as it changes; on paper never wider than a sheet.
 *
 * @param guess px, until it is measured
 */
export function useWidth(element: RefObject<HTMLElement | null>, guess = 1248): number {
  const [width, setWidth] = useState(guess)
  // Measured before anything is painted: what is drawn to scale is drawn once.
  useLayoutEffect(() => {
    if (!element.current) return
    const measured = Math.floor(contentWidth(element.current))
    // oxlint-disable-next-line react/set-state-in-effect -- a measured size is known only once the element is there
    if (measured > 0) setWidth(measured)
    const observer = new ResizeObserver(([entry]) => entry && setWidth(Math.floor(entry.contentRect.width)))
    observer.observe(element.current)
    return () => observer.disconnect()
  }, [element])
  return usePrinting() ? Math.min(width, PAPER_PX) : width
}
