import { CalendarDays } from 'lucide-react'
import { Popover } from 'radix-ui'
import { useState } from 'react'
import { DayPicker } from 'react-day-picker'
import { Button } from './button'

/** A day of a calendar as its ISO form, and back, without a zone. */
const isoOf = (date: Date): string =>
  `${date.getFullYear()}-${String(date.getMonth() + 1).padStart(2, '0')}-${String(date.getDate()).padStart(2, '0')}`
const dateOf = (day: string | undefined): Date | undefined => {
  const [year, month, date] = (day ?? '').split('-').map(Number)
  return year && month && date ? new Date(year, month - 1, date) : undefined
}

/**
 * A calendar from which a day is taken, beside the field in which it is typed. Arrow keys go through the days.
 *
 * @param day the day that the field says now, ISO; undefined where it says none
 * @param today ISO, in the zone of whoever plans
 * @param now what the field takes for this moment, and what that is called
 */
export function DayChoice({
  label,
  day,
  today,
  now,
  take,
}: {
  label: string
  day: string | undefined
  today: string
  now: { readonly label: string; readonly text: string }
  take: (text: string) => void
}) {
  const [isOpen, setOpen] = useState(false)
  const chosen = (text: string) => {
    take(text)
    setOpen(false)
  }
  return (
    <Popover.Root open={isOpen} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button className="!px-2" aria-label={`Calendar for ${label}`}>
          <CalendarDays size={15} aria-hidden />
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          aria-label={`Calendar for ${label}`}
          className="z-50 bg-sheet border border-rule rounded-md shadow-lg p-3"
        >
          <DayPicker
            mode="single"
            autoFocus
            weekStartsOn={1}
            ISOWeek
            showWeekNumber
            captionLayout="dropdown"
            startMonth={new Date(1990, 0)}
            endMonth={new Date(2060, 11)}
            today={dateOf(today)}
            selected={dateOf(day)}
            defaultMonth={dateOf(day ?? today)}
            onSelect={(date) => date && chosen(isoOf(date))}
            classNames={{
              months: 'flex flex-col',
              month_caption: 'flex justify-center items-center h-8 px-8',
              dropdowns: 'flex gap-2',
              dropdown_root: 'relative',
              dropdown: 'field !w-auto !min-h-7 !py-0',
              caption_label: 'hidden',
              nav: 'absolute inset-x-3 top-3 flex justify-between pointer-events-none',
              button_previous: 'size-8 grid place-items-center rounded-md hover:bg-accent-wash pointer-events-auto',
              button_next: 'size-8 grid place-items-center rounded-md hover:bg-accent-wash pointer-events-auto',
              chevron: 'size-4 fill-current',
              month_grid: 'mt-1 border-collapse',
              weekday: 'text-tiny text-faint font-normal w-9 h-7',
              week_number: 'text-tiny text-faint font-mono w-7 text-center',
              week_number_header: 'w-7',
              day: 'p-0 text-center',
              day_button: 'size-9 rounded-md hover:bg-accent-wash',
              selected: '[&>button]:bg-accent [&>button]:text-paper',
              today: 'font-bold underline underline-offset-4',
              outside: 'text-faint',
            }}
          />
          <div className="border-t border-line mt-2 pt-2 flex gap-2">
            <Button className="!min-h-7" onClick={() => chosen(now.text)}>
              {now.label}
            </Button>
            <Button look="quiet" className="!min-h-7" onClick={() => chosen('')}>
              None
            </Button>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
