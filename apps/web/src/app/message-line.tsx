import { clsx } from 'clsx'
import { Undo2 } from 'lucide-react'
import { useKey } from '../lib/keys'
import { say, useMessage } from '../estate'
import { Button } from '../ui/button'

/** What was done last, and its undoing. The line is always there and always as high, so that nothing moves or is covered by it. */
export function MessageLine() {
  const message = useMessage()
  const undo = () => {
    if (!message?.undo) return
    // It goes at once, so that a second press does not undo it twice.
    say(undefined)
    message.undo()
  }
  useKey('u', undo)
  return (
    <div className="flex items-center gap-2 px-4 h-8 border-t border-line text-dense" data-message-line>
      <p role="status" className={clsx('min-w-0 truncate', message?.isTrouble ? 'text-error' : message ? 'text-ink' : 'text-faint')}>
        {message ? <span title={message.sentence}>{message.sentence}</span> : 'Nothing changed from this page yet.'}
      </p>
      {message?.undo && (
        <Button look="quiet" className="!min-h-7" onClick={undo} title="u">
          <Undo2 size={14} aria-hidden /> Undo
        </Button>
      )}
    </div>
  )
}
