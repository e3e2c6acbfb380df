import type { Alike } from '@insel/core'
import { useState } from 'react'
import { useRecord } from '../../lib/use-record'
import { Button } from '../../ui/button'
import { Trouble } from '../../ui/page'

/** Several alike in one line: what it would add is said while it is typed. */
export function AlikeLine({ label, placeholder, read }: { label: string; placeholder: string; read: (text: string) => Alike }) {
  const { record, trouble } = useRecord()
  const [text, setText] = useState('')
  const alike = text.trim() === '' ? undefined : read(text)
  const ready = alike && 'commands' in alike ? alike : undefined
  const add = async () => {
    if (ready && (await record(ready.commands, `Added ${ready.says}`))) setText('')
  }
  return (
    <form
      className="flex flex-wrap gap-2 items-center text-dense py-1.5 print:hidden"
      onSubmit={(event) => {
        event.preventDefault()
        void add()
      }}
    >
      <input
        className="field font-mono !w-72 !min-h-7"
        aria-label={label}
        aria-invalid={alike !== undefined && !ready}
        placeholder={placeholder}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <Button type="submit" className="!min-h-7" disabled={!ready}>
        Add {ready ? ready.commands.length : 'several'}
      </Button>
      {alike && (
        <span className={ready ? 'text-soft' : 'text-error'}>{ready ? ready.says : 'sentence' in alike ? alike.sentence : ''}</span>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </form>
  )
}
