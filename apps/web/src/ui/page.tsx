import { useEffect, type ReactNode } from 'react'
import { Differs } from './differs'

/** A page: its title in the window and as its heading, what one can do with it beside that, and its body. */
export function Page({
  title,
  about,
  actions,
  children,
  isWide = false,
  of,
}: {
  title: string
  about?: ReactNode
  actions?: ReactNode
  children: ReactNode
  isWide?: boolean
  /** The id of the thing it is about, so that it is marked where it is shown otherwise than recorded. */
  of?: string
}) {
  useTitle(title)
  return (
    <div className={`px-4 sm:px-7 py-5 print:px-0 print:py-2 ${isWide ? '' : 'max-w-[1240px]'}`}>
      <header className="mb-4 print:mb-2 lg:grid grid-cols-[minmax(0,1fr)_auto] gap-x-6">
        <h1 className="break-words">
          {title}
          {of !== undefined && <Differs id={of} className="ml-2" />}
        </h1>
        {about && <div className="text-soft mt-0.5 col-span-2 row-start-2">{about}</div>}
        {actions && <div className="flex flex-wrap gap-2 max-lg:mt-3 lg:justify-end max-w-[56rem] col-start-2 row-start-1">{actions}</div>}
      </header>
      {children}
    </div>
  )
}

export function useTitle(title: string): void {
  useEffect(() => {
    document.title = `${title} · Insel`
  }, [title])
}

/** A part of a page under a heading. */
export function Part({ title, aside, children }: { title: string; aside?: ReactNode; children: ReactNode }) {
  return (
    <section className="mb-7 min-w-0">
      <div className="flex flex-wrap items-baseline gap-x-4 border-b border-rule pb-1 mb-1">
        <h2 className="flex-1">{title}</h2>
        {aside}
      </div>
      <div>{children}</div>
    </section>
  )
}

/** Nothing here yet: what to do first. */
export function Empty({ children, action }: { children: ReactNode; action?: ReactNode }) {
  return (
    <div className="border border-dashed border-rule rounded-md px-5 py-6 text-soft max-w-[640px] my-2">
      <p>{children}</p>
      {action && <div className="mt-3 flex gap-2 flex-wrap">{action}</div>}
    </div>
  )
}

/** A problem in a sentence, announced by screen readers when it appears. */
export const Trouble = ({ children }: { children: ReactNode }) => (
  <p role="alert" className="text-error bg-error-wash border border-error/40 rounded-md px-3 py-2 my-2">
    {children}
  </p>
)

/** The shape of what comes. */
export const Waiting = ({ what }: { what: string }) => (
  <div className="px-7 py-6" role="status" aria-label={`Loading ${what}`}>
    {[70, 100, 88, 60].map((width) => (
      <div key={width} className="h-9 my-3 rounded-md bg-line/60 animate-pulse" style={{ width: `${width}%` }} />
    ))}
  </div>
)
