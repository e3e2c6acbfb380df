import { counted, fileName, formatDuration, isAhead, itemsOf, type Command, type Plan } from '@insel/core'
import { useMemo, useState } from 'react'
import { useParams } from 'react-router'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../estate/use-record'
import { AddLine } from '../../ui/add-line'
import { Button, ButtonLink } from '../../ui/button'
import { Empty, Page, Part, Trouble } from '../../ui/page'
import { RemovedPage } from '../records/removed'
import { CarryOutAll } from './carry-out-all'
import { PlanFiguresView } from './plan-figures'
import { PlanFindings } from './plan-findings'
import { PlanItem } from './plan-item'
import { progressOf } from './plan-progress'
import { PlanReport } from './plan-report'
import { PlanTable } from './plan-table'
import { RevertPlan } from './revert-plan'
import { SortableItems } from './sortable-items'

/** A plan: its items in their order, what each would do from the record as it is now, and what became of those that are over. */
export function PlanPage() {
  const { id = '' } = useParams()
  const { recorded } = useEstate()
  const plan = recorded.find('plan', id)
  return plan ? <PlanOf key={id} plan={plan} /> : <RemovedPage kind="plan" id={id} />
}

function PlanOf({ plan }: { plan: Plan }) {
  const { recorded } = useEstate()
  const { record, trouble } = useRecord()
  const [isTable, setTable] = useState(false)
  const { to } = usePaths()
  const items = useMemo(() => itemsOf(recorded, plan.id), [recorded, plan.id])
  const progress = useMemo(() => progressOf(recorded, plan), [recorded, plan])
  const places = new Map(progress.places.map((place) => [place.item.id, place]))
  const ahead = items.filter(isAhead)
  const owner = recorded.find('person', plan.ownerId)?.name
  const addTask = (title: string) => record([{ type: 'item.write', id: newId(), planId: plan.id, kind: 'task', title }], `“${title}” added`)
  return (
    <Page
      title={plan.name}
      about={
        <>
          <p>
            Plan, {plan.state}
            {owner && `, owner ${owner}`}. {progress.over} of {counted(progress.items, 'item')} done
            {progress.minutesLeft > 0 && `, about ${formatDuration(progress.minutesLeft * 60)} to go`}.
            {progress.stale > 0 && <b className="text-warning font-medium"> {counted(progress.stale, 'item')} stale.</b>}
          </p>
          {plan.note && <p className="whitespace-pre-wrap max-w-[80ch]">{plan.note}</p>}
        </>
      }
      actions={
        <>
          {plan.state === 'draft' && ahead.length > 0 && (
            <Button look="primary" onClick={() => void record([{ type: 'plan.agree', planId: plan.id }])}>
              Agree to plan
            </Button>
          )}
          {plan.state !== 'dropped' && ahead.length > 0 && <ButtonLink to={to(`plans/${plan.id}/run`)}>Run plan</ButtonLink>}
          {plan.state !== 'dropped' && <CarryOutAll items={ahead} />}
          <ExportPlan plan={plan} />
          <ButtonLink to={to(`records/plan/${plan.id}`)}>Change</ButtonLink>
          <RevertPlan plan={plan} />
          {plan.state === 'dropped' ? (
            <Button onClick={() => void record([{ type: 'plan.reopen', planId: plan.id }])}>Reopen plan</Button>
          ) : (
            plan.state !== 'done' && (
              <Button look="danger" onClick={() => void record([{ type: 'plan.drop', planId: plan.id }])}>
                Drop plan
              </Button>
            )
          )}
        </>
      }
    >
      {trouble && <Trouble>{trouble}</Trouble>}
      <Part
        title={`Items, ${items.length}`}
        aside={
          items.length > 0 && (
            <Button look="quiet" aria-pressed={isTable} onClick={() => setTable(!isTable)}>
              {isTable ? 'Show as list' : 'Edit as table'}
            </Button>
          )
        }
      >
        {items.length === 0 && (
          <Empty>
            Nothing is set out to be done yet. Add a task here; changes, moves and copies come from the pages that offer “Add to plan”.
          </Empty>
        )}
        {isTable ? (
          <PlanTable items={items} record={record} />
        ) : (
          <SortableItems ahead={ahead} order={(itemId, beforeId) => void record([orderCommand(itemId, beforeId)])}>
            {items.map((item, index) => (
              <PlanItem
                key={item.id}
                number={index + 1}
                item={item}
                place={places.get(item.id)}
                isNext={ahead[0]?.id === item.id}
                above={before(ahead, item.id)}
                below={after(ahead, item.id)}
                record={record}
              />
            ))}
          </SortableItems>
        )}
        {plan.state !== 'dropped' && (
          <AddLine
            label="Title of the task"
            placeholder="a task, such as: order modules"
            action="Add task"
            maxLength={200}
            className="mt-3"
            fieldWidth="!w-80"
            add={addTask}
          />
        )}
      </Part>
      {ahead.length > 0 && <PlanFiguresView planId={plan.id} />}
      {ahead.length > 0 && <PlanFindings planId={plan.id} />}
      <PlanReport items={items} />
    </Page>
  )
}

const orderCommand = (itemId: string, beforeId: string | undefined): Command => ({
  type: 'item.order',
  itemId,
  ...(beforeId === undefined ? {} : { beforeId }),
})

type Items = ReturnType<typeof itemsOf>

/** The item still to be done that comes just before one of them. */
const before = (ahead: Items, id: string) => ahead[ahead.findIndex((item) => item.id === id) - 1]
/** Those that come after it, in their order. */
const after = (ahead: Items, id: string): Items => {
  const at = ahead.findIndex((item) => item.id === id)
  return at < 0 ? [] : ahead.slice(at + 1)
}

/** The plan as a file to be imported, and as text to be read. */
function ExportPlan({ plan }: { plan: Plan }) {
  const { estateId } = useEstate()
  const at = `/api/v1/estates/${estateId}/plans/${plan.id}`
  return (
    <>
      <ButtonLink to={`${at}/file.json`} download={fileName(plan.name, 'json')} reloadDocument>
        JSON
      </ButtonLink>
      <ButtonLink to={`${at}/sheet.md`} download={fileName(plan.name, 'md')} reloadDocument>
        Markdown
      </ButtonLink>
    </>
  )
}
