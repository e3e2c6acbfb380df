import { clsx } from 'clsx'
import { Search } from 'lucide-react'
import { useState } from 'react'
import { Link, NavLink } from 'react-router'
import { useFindings } from '../checks/checks'
import { RECORDED, useEstate } from '../estate'
import { useKey } from '../lib/keys'
import { onDemand, useOnceWanted } from '../lib/on-demand'
import { usePaths } from '../lib/paths'
import { sections } from '../lib/places'
import { Key } from '../ui/button'
import { MessageLine } from './message-line'
import { MenuButton } from './menu-button'
import { Wordmark } from './wordmark'

const CommandField = onDemand(async () => (await import('./command-field')).CommandField)
const PersonDialog = onDemand(async () => (await import('./person-dialog')).PersonDialog)
const EstateMenu = onDemand(async () => (await import('./estate-menu')).EstateMenu)
const AccountMenu = onDemand(async () => (await import('./account-menu')).AccountMenu)

/** The slim bar above every page: estate, basis, sections, command field, account. */
export function TopBar() {
  const { to } = usePaths()
  const findings = useFindings()
  const [isFieldOpen, setFieldOpen] = useState(false)
  useKey('mod+k', () => setFieldOpen(true))
  const hasField = useOnceWanted(isFieldOpen)
  const count = findings.data?.list.length ?? 0
  return (
    <header className="print:hidden sticky top-0 z-30 bg-sheet border-b border-rule">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 px-4 py-1.5 min-h-11">
        <Link to={to('board')} aria-label="Insel, to the board">
          <Wordmark />
        </Link>
        <EstateName />
        <BasisChoice />
        <nav aria-label="Sections" className="flex flex-wrap">
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
          className="ml-auto flex items-center gap-2 border border-rule rounded-md px-2.5 min-h-8 text-faint bg-paper hover:border-accent min-w-28 flex-1 max-w-56 overflow-hidden"
        >
          <Search size={14} aria-hidden />
          <span className="flex-1 text-left whitespace-nowrap">Find or do…</span>
          <Key>Ctrl K</Key>
        </button>
        <Account />
      </div>
      <MessageLine />
      {hasField && <CommandField isOpen={isFieldOpen} setOpen={setFieldOpen} />}
    </header>
  )
}

function EstateName() {
  const { estate } = useEstate()
  const shown = {
    look: 'border border-rule rounded-md px-2.5 min-h-8 hover:border-accent max-w-44 truncate',
    name: estate.all('estate')[0]?.name ?? 'Estate',
  }
  return <MenuButton {...shown} menu={(meanwhile) => <EstateMenu {...shown} meanwhile={meanwhile} />} />
}

/** What the pages are shown upon, and the way between record and plan. */
function BasisChoice() {
  const { basis, showBasis, plan, revision } = useEstate()
  const choice = (isOn: boolean) =>
    clsx('px-2.5 min-h-8 whitespace-nowrap', isOn && 'font-medium', isOn && basis.on === 'plan' && 'bg-accent-wash text-accent')
  const recorded = (
    <>
      Recorded <span className="font-mono text-faint text-[12px]">r{revision}</span>
    </>
  )
  if (plan.length === 0 && basis.on === 'recorded')
    return <span className="border border-rule rounded-md px-2.5 min-h-8 inline-flex items-center font-medium gap-1">{recorded}</span>
  return (
    <div
      role="group"
      aria-label="Basis"
      className={clsx('flex border rounded-md overflow-hidden', basis.on === 'recorded' ? 'border-rule' : 'border-accent')}
    >
      <button
        type="button"
        aria-pressed={basis.on === 'recorded'}
        className={choice(basis.on === 'recorded')}
        onClick={() => showBasis(RECORDED)}
      >
        {recorded}
      </button>
      {plan.length > 0 && (
        <button
          type="button"
          aria-pressed={basis.on === 'plan'}
          className={clsx(choice(basis.on === 'plan'), 'border-l border-rule')}
          onClick={() => showBasis({ on: 'plan' })}
        >
          Plan: draft, {plan.length}
        </button>
      )}
      {basis.on === 'asOf' && (
        <span
          aria-current="true"
          className="px-2.5 min-h-8 inline-flex items-center border-l border-rule font-medium bg-accent-wash text-accent whitespace-nowrap"
        >
          As of change {basis.revision}
        </span>
      )}
    </div>
  )
}

function Account() {
  const { person } = useEstate()
  const [isAsking, setAsking] = useState(person === undefined)
  const hasDialog = useOnceWanted(isAsking)
  const shown = {
    look: 'border border-rule rounded-md px-2.5 min-h-8 hover:border-accent max-w-36 truncate',
    name: person?.name ?? 'Who are you?',
    label: person ? `Account: recorded as ${person.name}` : 'Account: no name yet',
  }
  return (
    <>
      <MenuButton {...shown} menu={(meanwhile) => <AccountMenu {...shown} askWho={() => setAsking(true)} meanwhile={meanwhile} />} />
      {hasDialog && <PersonDialog isOpen={isAsking} setOpen={setAsking} />}
    </>
  )
}
