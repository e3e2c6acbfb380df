import { clsx } from 'clsx'
import { Undo2 } from 'lucide-react'
import { say, useMessage } from '../lib/messages'
import { Button } from '../ui/button'

/** What was done last, and its undoing. The line is always there and always as high, so that nothing moves or is covered by it. */
export function MessageLine() {
  const message = useMessage()
  return (
    <div className="flex items-center gap-2 px-4 h-8 border-t border-line text-[13px]" data-message-line>
      <p role="status" className={clsx('min-w-0 truncate', message?.isTrouble ? 'text-error' : message ? 'text-ink' : 'text-faint')}>
        {message ? <span title={message.sentence}>{message.sentence}</span> : 'Nothing changed from this page yet.'}
      </p>
      {message?.undo && (
        <Button
          look="quiet"
          className="!min-h-7"
          onClick={() => {
            const { undo } = message
            say(undefined)
            undo?.()
          }}
        >
          <Undo2 size={14} aria-hidden /> Undo
        </Button>
      )}
    </div>
  )
}
