import { Suspense, useEffect } from 'react'
import { Link, Outlet } from 'react-router'
import { EstateProvider, useEstate } from '../estate'
import { onDemand } from '../lib/on-demand'
import { usePrinting } from '../lib/use-media'
import { Trouble, Waiting } from '../ui/page'
import { Keys } from './keys'
import { TopBar } from './top-bar'

const PrintHead = onDemand(async () => (await import('./print-head')).PrintHead)
const Connection = onDemand(async () => (await import('./connection')).Connection)
const EstateNote = onDemand(async () => (await import('./estate-note')).EstateNote)
const PlanPanel = onDemand(async () => (await import('../features/plans/plan-panel')).PlanPanel)
const OldDraft = onDemand(async () => (await import('../features/plans/old-draft')).OldDraft)
/** Only where it is wanted: on paper. */
const OnPaper = () => usePrinting() && <PrintHead />
function Plan() {
  const { basis, oldDraft } = useEstate()
  if (basis.on === 'item') return <PlanPanel basis={basis} />
  return oldDraft && <OldDraft commands={oldDraft} />
}

/** Fetched beside the first page: nothing can have lost the focus before. */
function useFocusKeeper(): void {
  useEffect(() => {
    let isOver = false
    let end: (() => void) | undefined
    void import('./focus-keeper').then(({ keepFocus }) => {
      if (!isOver) end = keepFocus()
    })
    return () => {
      isOver = true
      end?.()
    }
  }, [])
}

/** An estate: the bar above, the page below, the plan beside it. */
export function EstatePage() {
  useFocusKeeper()
  return (
    <EstateProvider
      waiting={<Waiting what="the estate" />}
      failed={(error) => (
        <main className="p-10 max-w-[640px]">
          <h1>The estate cannot be shown</h1>
          <Trouble>{error.message}</Trouble>
          <Link to="/estates" className="link" reloadDocument>
            Go to the estates
          </Link>
        </main>
      )}
    >
      <a href="#page" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-sheet focus:p-2">
        Skip to the page
      </a>
      <TopBar />
      <Keys />
      <EstateNote />
      <main id="page" tabIndex={-1} className="outline-none @container">
        <OnPaper />
        <Suspense fallback={<Waiting what="the page" />}>
          <Outlet />
        </Suspense>
      </main>
      <Plan />
      <Connection />
    </EstateProvider>
  )
}
