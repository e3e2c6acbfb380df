import type { FoundReading } from '@insel/core'

export function Reading({ reading }: { reading: FoundReading }) {
  const shown = reading.unread.slice(0, 8)
  return (
    <div className="my-2" role="status">
      {reading.sources.length > 0 && <p className="text-dense">Read: {reading.sources.join(', ')}.</p>}
      {shown.map(({ line, text, sentence }) => (
        <p key={`${line} ${sentence}`} className="text-dense text-error">
          {text && `Line ${line}, `}
          {text && <span className="font-mono">{text.length > 60 ? `${text.slice(0, 60)}…` : text}: </span>}
          {sentence}
        </p>
      ))}
      {reading.unread.length > shown.length && (
        <p className="text-dense text-error">And {reading.unread.length - shown.length} more lines.</p>
      )}
    </div>
  )
}
