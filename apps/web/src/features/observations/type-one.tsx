import { readNumber, type Guest } from '@insel/core'
import { useState } from 'react'
import { useObserve } from './observed'
import { Button } from '../../ui/button'
import { Part, Trouble } from '../../ui/page'
import { now } from '../../lib/time'

export function TypeOne({ guest }: { guest: Guest }) {
  const observe = useObserve()
  const [values, setValues] = useState({ cpu: '', memory: '', disk: '' })
  const number = (text: string) => {
    if (text.trim() === '') return null
    const reading = readNumber(text)
    return reading.ok ? reading.value : NaN
  }
  const [cpu, memory, disk] = [number(values.cpu), number(values.memory), number(values.disk)]
  const isWrong =
    [cpu, memory, disk].some((value) => value !== null && Number.isNaN(value)) || [cpu, memory, disk].every((value) => value === null)
  const send = async () => {
    const answer = await observe.mutateAsync([
      {
        subjectId: guest.id,
        at: now(),
        cpuPercent: cpu,
        memoryMiB: memory === null ? null : Math.round(memory * 1024),
        diskBytes: disk === null ? null : Math.round(disk * 2 ** 30),
      },
    ])
    if (answer.taken > 0) setValues({ cpu: '', memory: '', disk: '' })
  }
  const input = (name: keyof typeof values, label: string) => (
    <label className="inline-flex items-center gap-1.5">
      <input
        className="field font-mono !w-20 !min-h-7"
        value={values[name]}
        onChange={(event) => setValues({ ...values, [name]: event.target.value })}
        inputMode="decimal"
      />
      {label}
    </label>
  )
  const wrong = observe.data?.rejected[0]?.reason
  return (
    <Part title="Seen just now">
      <form
        className="flex flex-wrap gap-x-4 gap-y-2 text-dense py-1 items-center"
        onSubmit={(event) => {
          event.preventDefault()
          void send()
        }}
      >
        {input('cpu', '% processors')}
        {input('memory', 'GiB memory')}
        {input('disk', 'GiB on disks')}
        <Button type="submit" className="!min-h-7" disabled={isWrong || observe.isPending}>
          Record observation
        </Button>
      </form>
      {(wrong ?? observe.error?.message) && <Trouble>{wrong ?? observe.error?.message}</Trouble>}
    </Part>
  )
}
