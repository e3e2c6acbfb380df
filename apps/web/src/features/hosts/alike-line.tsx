import type { Alike } from '@insel/core'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Trouble } from '../../ui/page'
import { useLine } from '../../ui/use-line'

/** Several alike in one line: what it would add is said while it is typed. */
export function AlikeLine({ label, placeholder, read }: { label: string; placeholder: string; read: (text: string) => Alike }) {
  const { record, trouble } = useRecord()
  const { text, setText, give } = useLine()
  const alike = text.trim() === '' ? undefined : read(text)
  const ready = alike && 'commands' in alike ? alike : undefined
  return (
    <form
      className="flex flex-wrap gap-2 items-center text-dense py-1.5 print:hidden"
      onSubmit={(event) => {
        event.preventDefault()
        if (ready) void give(() => record(ready.commands, `Added ${ready.says}`))
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
