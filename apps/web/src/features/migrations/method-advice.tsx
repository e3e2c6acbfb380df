import { counted, formatBytes, formatDuration, sayRate, shareOf, type AdvisedMethod } from '@insel/core'
import { FigureView } from '../figures/figure-view'
import { Mark } from '../../ui/mark'
import { sayRange } from './say-move'

const marks = { fits: 'fits', remark: 'remark', out: 'no' } as const

/** Every way to copy it, the best first: why, how long, how long off, what can go wrong; those that are out say why. */
export function MethodAdvice({
  advice,
  chosen,
  choose,
}: {
  advice: readonly AdvisedMethod[]
  chosen: string
  choose: (method: AdvisedMethod['method']) => void
}) {
  const [usable, out] = [advice.filter(({ suits }) => suits !== 'out'), advice.filter(({ suits }) => suits === 'out')]
  const schools = new Set(usable.map(({ school }) => school))
  return (
    <fieldset className="mt-6">
      <legend className="font-bold mb-1">Method</legend>
      {schools.size > 1 && (
        <p className="text-dense text-soft">
          Two ways: while it runs, with a final pass for what changed; or off and certain. A machine whose data must not part is copied off.
        </p>
      )}
      {usable.map((one) => (
        <Method key={one.method} one={one} isChosen={one.method === chosen} choose={() => choose(one.method)} />
      ))}
      {out.length > 0 && (
        <details className="text-dense mt-1">
          <summary className="text-accent min-h-7 content-center">Why {counted(out.length, 'other')} cannot be used</summary>
          <ul>
            {out.map(({ method, reasons }) => (
              <li key={method} className="border-t border-line py-1 text-soft">
                <b className="font-medium text-ink">{method}:</b> {reasons.join(' ')}
              </li>
            ))}
          </ul>
        </details>
      )}
    </fieldset>
  )
}

function Method({ one, isChosen, choose }: { one: AdvisedMethod; isChosen: boolean; choose: () => void }) {
  const { method, suits, reasons, time, wholeSeconds, risk, needs, school, lessons } = one
  return (
    <div className={`border-t border-line py-2 ${isChosen ? 'bg-accent-wash/60' : ''}`}>
      <label className="grid grid-cols-[auto_auto_minmax(0,1fr)] gap-2.5 items-baseline cursor-pointer">
        <input type="radio" name="method" className="accent-accent ml-1" value={method} checked={isChosen} onChange={choose} />
        <Mark of={marks[suits]} />
        <span>
          <b className="font-medium">{method}</b>
          <span className="text-soft">
            , {school}: {sayRange(wholeSeconds.p50, wholeSeconds.p90)} in all, off for{' '}
            {sayRange(time.downSeconds.p50, time.downSeconds.p90)}
          </span>
          <span className="block text-dense text-soft">{reasons.join(' ')}</span>
          {lessons.map((lesson) => (
            <span key={lesson} className="block text-dense">
              Last time, {lesson}
            </span>
          ))}
        </span>
      </label>
      {isChosen && (
        <div className="pl-12 text-dense">
          <p>
            <b className="font-medium">Risk.</b> {risk}
          </p>
          <p>
            <b className="font-medium">Have at hand.</b> {needs.join('; ')}.
          </p>
        </div>
      )}
    </div>
  )
}

/** How long the copy takes, with its working, and what own moves say. */
export function HowLong({ time, aroundSeconds }: Pick<AdvisedMethod, 'time' | 'aroundSeconds'>) {
  const { bytes, limits, share, copySeconds, downSeconds, finalPassBytes, live } = time
  const [slowest, ...others] = limits
  return (
    <div className="mt-5 text-dense">
      <h2>How long</h2>
      {bytes.value === 0 ? (
        <p className="py-1">Nothing is copied: its disks stay where they are. About {formatDuration(aroundSeconds)} of work around it.</p>
      ) : (
        <>
          <p className="py-1">
            <FigureView figure={bytes} title="What is copied" /> in about <b className="font-medium">{formatDuration(copySeconds.p50)}</b>;
            one time in ten longer than {formatDuration(copySeconds.p90)}. Around it about {formatDuration(aroundSeconds)} of work.
          </p>
          <p className="text-soft">
            {share.count > 0
              ? `${counted(share.count, 'own move')} by this method ${share.count === 1 ? 'stands' : 'stand'} behind it, at ${Math.round(shareOf(share, 0.5) * 100)} % of what is slowest. `
              : 'No own move by this method says what it moved yet; record it on finished migrations. '}
            Slowest: {slowest?.label}, {sayRate(slowest?.bytesPerSecond ?? 0)} ({slowest?.from}).
          </p>
          {live &&
            (live.converges ? (
              <p className="text-soft">
                Its memory is sent in {counted(live.rounds + 1, 'round')}, {formatBytes(live.bytes)} in all; it pauses for about{' '}
                {live.pauseSeconds.toFixed(1)} s at the end.
              </p>
            ) : (
              <p className="text-error">{live.sentence}</p>
            ))}
          {!live && (
            <p className="text-soft">
              Off for {sayRange(downSeconds.p50, downSeconds.p90)}
              {finalPassBytes > 0 &&
                `, with a final pass of about ${formatBytes(finalPassBytes)} for what changed meanwhile (3 % in a day, common practice)`}
              .
            </p>
          )}
          {others.length > 0 && (
            <details>
              <summary className="text-accent min-h-7 content-center">What else it passes</summary>
              <ul className="text-soft">
                {others.map(({ label, bytesPerSecond, from }) => (
                  <li key={label}>
                    {label}: {sayRate(bytesPerSecond)} ({from})
                  </li>
                ))}
              </ul>
            </details>
          )}
        </>
      )}
    </div>
  )
}
