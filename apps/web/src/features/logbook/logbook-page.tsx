import { useMemo } from 'react'
import { compareNames, recordPhrase, timeZoneOf } from '@insel/core'
import { useInfiniteQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { api } from '../../lib/api'
import { useEstate } from '../../estate'
import { useSetQueryParam } from '../../lib/query-param'
import { Button } from '../../ui/button'
import { Empty, Page, Trouble } from '../../ui/page'
import { ChangeItem } from './change-item'
import { Choice } from '../../ui/choice'

/** Everything that was recorded, newest first: by thing, by person, by time. */
export function LogbookPage() {
  const { estateId, recorded } = useEstate()
  const [params, setParams] = useSearchParams()
  const set = useSetQueryParam()
  const query = {
    subject: params.get('subject') ?? '',
    actor: params.get('actor') ?? '',
    from: params.get('from') ?? '',
    until: params.get('until') ?? '',
  }
  const pages = useInfiniteQuery({
    queryKey: ['changes', estateId, query],
    queryFn: ({ pageParam }) =>
      api.changes(estateId, {
        ...query,
        // A day means the whole day.
        until: query.until ? new Date(Date.parse(query.until) + 86_400_000).toISOString() : undefined,
        before: pageParam === null ? undefined : String(pageParam),
        limit: '40',
      }),
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
  const isFiltered = Object.values(query).some(Boolean)
  return (
    <Page title="Logbook" about={`Who did what, when, with the exact changes. Times in ${timeZoneOf(recorded)}.`}>
      <div className="flex flex-wrap gap-3 mb-4 items-end">
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
        {isFiltered && <Button onClick={() => setParams({}, { replace: true })}>Show all</Button>}
      </div>
      {pages.isError && <Trouble>{pages.error.message}</Trouble>}
      {pages.data && changes.length === 0 && <Empty>{isFiltered ? 'No change fits these filters.' : 'Nothing is recorded yet.'}</Empty>}
      <ul>
        {changes.map((change) => (
          <ChangeItem key={change.revision} change={change} />
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
