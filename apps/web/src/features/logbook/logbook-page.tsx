import { useMemo } from 'react'
import { compareNames, counted, dayAfter, dayOf, recordPhrase, timeZoneOf } from '@insel/core'
import { useInfiniteQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { useSearchParams } from 'react-router'
import type { Change, ChangesPage } from '@insel/contract'
import { api, sentenceOf } from '../../lib/api'
import { download } from '../../lib/files'
import { now } from '../../lib/time'
import { useTyped } from '../../lib/use-typed'
import { useEstate } from '../../estate'
import { useSetQueryParam, useSetQueryParams } from '../../lib/query-param'
import { Button } from '../../ui/button'
import { Empty, Page, Trouble } from '../../ui/page'
import { ChangeItem, COMMANDS_SHOWN } from './change-item'
import { Choice } from '../../ui/choice'

/** Everything that was recorded, newest first: by thing, by person, by time. */
export function LogbookPage() {
  const { estateId, recorded } = useEstate()
  const [params, setParams] = useSearchParams()
  const set = useSetQueryParam()
  const setAll = useSetQueryParams()
  const query = {
    subject: params.get('subject') ?? '',
    text: params.get('text') ?? '',
    actor: params.get('actor') ?? '',
    from: params.get('from') ?? '',
    until: params.get('until') ?? '',
  }
  const pages = useInfiniteQuery({
    queryKey: ['changes', estateId, query],
    queryFn: ({ pageParam }) =>
      api.changes(estateId, { ...asked(query), before: pageParam?.toString(), limit: '40', most: String(COMMANDS_SHOWN) }),
    initialPageParam: null as number | null,
    getNextPageParam: (page) => page.nextBefore,
  })
  const changes = pages.data?.pages.flatMap((page) => page.changes) ?? []
  const kind = query.subject ? recorded.kindOf(query.subject) : undefined
  const record = kind && recorded.find(kind, query.subject)
  const things = useMemo(
    () =>
      (['host', 'guest', 'network', 'store'] as const)
        .flatMap((one) => recorded.all(one).map(({ id, name }) => [id, `${name} (${one})`] as const))
        .sort(([, a], [, b]) => compareNames(a, b)),
    [recorded],
  )
  const today = dayOf(recorded, now())
  const [fetched, setFetched] = useState<number>()
  const [trouble, setTrouble] = useState<string>()
  /** Everything that fits the filters, as a file: page by page, the newest first. */
  const save = async (ending: 'csv' | 'md') => {
    setFetched(0)
    setTrouble(undefined)
    try {
      const all: Change[] = []
      for (let before: number | null | undefined; before !== null;) {
        const page: ChangesPage = await api.changes(estateId, { ...asked(query), before: before?.toString(), limit: '500' })
        all.push(...page.changes)
        setFetched(all.length)
        before = page.nextBefore
      }
      const { logbookCsv, logbookMarkdown } = await import('./logbook-text')
      const zone = timeZoneOf(recorded)
      if (ending === 'csv') download('logbook.csv', logbookCsv(recorded, all, zone), 'text/csv')
      else download('logbook.md', logbookMarkdown(recorded, all, zone), 'text/markdown')
    } catch (error) {
      setTrouble(sentenceOf(error))
    } finally {
      setFetched(undefined)
    }
  }
  const isFiltered = Object.values(query).some(Boolean)
  return (
    <Page title="Logbook" about={`Who did what, when, with the exact changes. Times in ${timeZoneOf(recorded)}.`}>
      <div className="flex flex-wrap gap-3 mb-4 items-end print:hidden">
        <label className="text-dense flex flex-col gap-0.5">
          Words
          <Words value={query.text} onChange={(text) => set('text', text)} />
        </label>
        <label className="text-dense flex flex-col gap-0.5">
          Thing
          <Choice
            data-filter
            className="!w-52"
            value={query.subject}
            choose={(subject) => set('subject', subject)}
            none="anything"
            options={
              query.subject && !things.some(([id]) => id === query.subject)
                ? [[query.subject, kind && record ? recordPhrase(recorded, kind, record) : 'a removed record'], ...things]
                : things
            }
          />
        </label>
        <label className="text-dense flex flex-col gap-0.5">
          Person
          <select className="field !w-44" value={query.actor} onChange={(event) => set('actor', event.target.value)}>
            <option value="">anybody</option>
            {recorded.all('person').map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <label className="text-dense flex flex-col gap-0.5">
          From
          <DayInput value={query.from} onChange={(day) => set('from', day)} />
        </label>
        <label className="text-dense flex flex-col gap-0.5">
          Until
          <DayInput value={query.until} onChange={(day) => set('until', day)} />
        </label>
        <label className="text-dense flex flex-col gap-0.5">
          Range
          <select
            className="field !w-36"
            value={ranges.find(({ days }) => query.from === dayAfter(today, 1 - days) && query.until === '')?.label ?? ''}
            onChange={(event) => {
              const range = ranges.find(({ label }) => label === event.target.value)
              setAll({ from: range && dayAfter(today, 1 - range.days), until: undefined })
            }}
          >
            <option value="">any time</option>
            {ranges.map(({ label }) => (
              <option key={label}>{label}</option>
            ))}
          </select>
        </label>
        {isFiltered && <Button onClick={() => setParams({}, { replace: true })}>Show all</Button>}
        <span className="flex gap-2 ml-auto">
          {(['csv', 'md'] as const).map((ending) => (
            <Button key={ending} disabled={fetched !== undefined || changes.length === 0} onClick={() => void save(ending)}>
              {ending === 'csv' ? 'CSV' : 'Markdown'}
            </Button>
          ))}
        </span>
      </div>
      {fetched !== undefined && (
        <p role="status" className="text-dense text-soft">
          {counted(fetched, 'change')} fetched…
        </p>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
      {pages.isPending && <Empty>The log is being read…</Empty>}
      {pages.isError && <Trouble>{pages.error.message}</Trouble>}
      {pages.data && changes.length === 0 && <Empty>{isFiltered ? 'No change fits these filters.' : 'Nothing is recorded yet.'}</Empty>}
      <ul>
        {changes.map((change) => (
          <ChangeItem key={change.revision} change={change} subject={query.subject} />
        ))}
      </ul>
      {pages.hasNextPage && (
        <Button className="mt-3" disabled={pages.isFetchingNextPage} onClick={() => void pages.fetchNextPage()}>
          Show older changes
        </Button>
      )}
    </Page>
  )
}

const ranges = [
  { label: 'today', days: 1 },
  { label: 'last 7 days', days: 7 },
  { label: 'last 30 days', days: 30 },
  { label: 'last 365 days', days: 365 },
] as const

/** The filters as the server is asked them: a day means the whole day. */
const asked = <Q extends { readonly until: string }>(query: Q) => ({
  ...query,
  until: query.until ? `${dayAfter(query.until, 1)}T00:00:00Z` : undefined,
})

const PAUSE_MS = 250

/** Words to look for; they go to the address a moment after the last letter, since the server reads the whole log for them. */
function Words({ value, onChange }: { value: string; onChange: (text: string) => void }) {
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  useEffect(() => () => clearTimeout(timer.current), [])
  const { field } = useTyped(value, (text) => {
    clearTimeout(timer.current)
    timer.current = setTimeout(() => onChange(text.trim()), PAUSE_MS)
  })
  return <input type="search" className="field !w-44" placeholder="name, value, MAC" {...field} />
}

/** A day in ISO form; a half-typed one filters nothing yet. */
function DayInput({ value, onChange }: { value: string; onChange: (day: string) => void }) {
  const [text, setText] = useState(value)
  const isDay = (typed: string) => /^\d{4}-\d\d-\d\d$/.test(typed) && !Number.isNaN(Date.parse(typed))
  const type = (typed: string) => {
    setText(typed)
    if (typed === '' || isDay(typed)) onChange(typed)
  }
  return (
    <input
      className="field font-mono !w-36"
      placeholder="2027-01-18"
      value={value === '' && isDay(text) ? '' : text}
      aria-invalid={text !== '' && !isDay(text)}
      onChange={(event) => type(event.target.value)}
    />
  )
}
