import { clsx } from 'clsx'
import { counted } from '@insel/core'
import { Menu as MenuSign, Search } from 'lucide-react'
import { useEffect, useLayoutEffect, useRef, useState, type RefObject } from 'react'
import { Link, NavLink } from 'react-router'
import { useFindings } from '../estate/first-checks'
import { RECORDED, useEstate } from '../estate'
import { useKey } from '../lib/keys'
import { onDemand, useOnceWanted } from '../lib/on-demand'
import { usePaths } from '../lib/paths'
import { sections } from '../lib/places'
import { Key } from '../ui/button'
import { BasisNote } from './basis-note'
import { MessageLine } from './message-line'
import { MenuButton } from './menu-button'
import { Wordmark } from '../ui/wordmark'

const CommandField = onDemand(async () => (await import('./command-field')).CommandField)
const PersonDialog = onDemand(async () => (await import('./person-dialog')).PersonDialog)
const EstateMenu = onDemand(async () => (await import('./estate-menu')).EstateMenu)
const FoldedMenu = onDemand(async () => (await import('./folded-menu')).FoldedMenu)
const AccountMenu = onDemand(async () => (await import('./account-menu')).AccountMenu)

/** The slim bar above every page: estate, basis, sections, command field, account. */
export function TopBar() {
  const { to } = usePaths()
  const findings = useFindings()
  const [isFieldOpen, setFieldOpen] = useState(false)
  useKey('mod+k', () => setFieldOpen(true))
  // It waits behind the page once that is drawn, so that nothing typed after Ctrl K is lost.
  const [isDrawn, setDrawn] = useState(false)
  useEffect(() => {
    const timer = setTimeout(setDrawn, 500, true)
    return () => clearTimeout(timer)
  }, [])
  const hasField = useOnceWanted(isFieldOpen || isDrawn)
  const count = findings.data?.list.length ?? 0
  const head = useRef<HTMLElement>(null)
  useHeadHeight(head)
  return (
    <header ref={head} className="print:hidden sticky top-0 z-30 bg-sheet border-b border-rule">
      <div className="flex items-center gap-x-2 sm:gap-x-3 px-2 sm:px-4 py-1.5 min-h-11">
        <Link to={to('board')} aria-label="Insel, to the board" className="shrink-0 min-h-7 min-w-7 inline-flex items-center">
          <Wordmark />
        </Link>
        <EstateName />
        <BasisChoice />
        <nav aria-label="Sections" className="hidden xl:flex shrink-0">
          {sections.map(({ path, label, key }) => (
            <NavLink
              key={path}
              to={to(path)}
              title={`g ${key}`}
              className={({ isActive }) =>
                clsx('px-2 py-1.5 rounded-md whitespace-nowrap', isActive ? 'bg-ink text-paper font-medium' : 'hover:bg-accent-wash')
              }
            >
              {label}
              {/* Its place is kept, so that the links beside it stay where they are when the count comes. */}
              {path === 'findings' && (
                <span
                  className="ml-1.5 font-bold tabular-nums inline-block min-w-[2ch]"
                  {...(count > 0 ? { 'aria-label': `${count} open` } : {})}
                >
                  {count > 0 ? count : ''}
                </span>
              )}
            </NavLink>
          ))}
        </nav>
        <button
          type="button"
          onClick={() => setFieldOpen(true)}
          aria-label="Find or do"
          className="ml-auto shrink-0 md:shrink flex items-center gap-2 border border-edge rounded-md px-2 md:px-2.5 min-h-8 text-faint bg-paper hover:border-accent md:min-w-20 md:flex-1 max-w-56 overflow-hidden"
        >
          <Search size={14} aria-hidden className="shrink-0" />
          <span className="hidden md:inline flex-1 text-left whitespace-nowrap">Find or do…</span>
          <span className="hidden 2xl:inline">
            <Key>Ctrl K</Key>
          </span>
        </button>
        <Account count={count} />
      </div>
      <MessageLine />
      <BasisNote />
      {hasField && <CommandField isOpen={isFieldOpen} setOpen={setFieldOpen} />}
    </header>
  )
}

/** What is drawn below the head knows how high that is, with a note or without. */
function useHeadHeight(head: RefObject<HTMLElement | null>): void {
  useLayoutEffect(() => {
    const element = head.current
    if (!element) return
    const tell = () => document.documentElement.style.setProperty('--head', `${Math.round(element.getBoundingClientRect().height)}px`)
    tell()
    const observer = new ResizeObserver(tell)
    observer.observe(element)
    return () => observer.disconnect()
  }, [head])
}

function EstateName() {
  const { estate } = useEstate()
  const shown = {
    look: 'border border-edge rounded-md px-2.5 min-h-8 hover:border-accent min-w-12 max-w-44 truncate',
    name: estate.all('estate')[0]?.name ?? 'Estate',
  }
  return <MenuButton {...shown} menu={(meanwhile) => <EstateMenu {...shown} meanwhile={meanwhile} />} />
}

/** What the pages are shown upon, and the way back to the record. */
function BasisChoice() {
  const { basis, showBasis, revision } = useEstate()
  const recorded = (
    <>
      Recorded <span className="font-mono text-faint text-small">r{revision}</span>
    </>
  )
  if (basis.on === 'recorded')
    return <span className="border border-edge rounded-md px-2.5 min-h-8 inline-flex items-center font-medium gap-1">{recorded}</span>
  return (
    <div role="group" aria-label="Basis" className="flex border border-accent rounded-md overflow-hidden">
      <button type="button" aria-pressed={false} className="px-2.5 min-h-8 whitespace-nowrap" onClick={() => showBasis(RECORDED)}>
        {recorded}
      </button>
      <span
        aria-current="true"
        className="px-2.5 min-h-8 inline-flex items-center border-l border-edge font-medium bg-accent-wash text-accent max-w-44"
      >
        <span className="truncate">{basis.on === 'item' ? basis.plan.name : `As of change ${basis.revision}`}</span>
      </span>
    </div>
  )
}

/** Who records, and what else is chosen once; on a narrow screen the sections are in this menu, too. */
function Account({ count }: { count: number }) {
  const { person } = useEstate()
  const [isAsking, setAsking] = useState(person === undefined)
  const hasDialog = useOnceWanted(isAsking)
  const shown = {
    look: 'border border-edge rounded-md px-2.5 min-h-8 hover:border-accent max-w-36 truncate',
    name: person?.name ?? 'Who are you?',
    label: person ? `Account: recorded as ${person.name}` : 'Account: no name yet',
  }
  const folded = {
    look: 'border border-edge rounded-md px-2.5 min-h-8 min-w-8 hover:border-accent inline-flex items-center gap-1.5',
    name: (
      <>
        <MenuSign size={16} aria-hidden />
        <span className="hidden sm:inline">Menu</span>
        {count > 0 && <span className="font-bold text-small">{count}</span>}
      </>
    ),
    label: `Menu${count > 0 ? `, ${counted(count, 'open finding')}` : ''}`,
  }
  return (
    <>
      <span className="hidden xl:block">
        <MenuButton {...shown} menu={(meanwhile) => <AccountMenu {...shown} askWho={() => setAsking(true)} meanwhile={meanwhile} />} />
      </span>
      <span className="xl:hidden shrink-0">
        <MenuButton
          {...folded}
          menu={(meanwhile) => <FoldedMenu {...folded} count={count} askWho={() => setAsking(true)} meanwhile={meanwhile} />}
        />
      </span>
      {hasDialog && <PersonDialog isOpen={isAsking} setOpen={setAsking} />}
    </>
  )
}
