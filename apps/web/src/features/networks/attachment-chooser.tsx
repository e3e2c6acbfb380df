import { optionLabel, kinds, chooseAttachment, type Wish } from '@insel/core'
import { useState } from 'react'
import { useEstate } from '../../estate'
import { Mark } from '../../ui/mark'
import { Empty, Part } from '../../ui/page'
import { TickLine } from '../../ui/tick-line'

const questions: readonly { readonly key: keyof Wish; readonly text: string }[] = [
  { key: 'fromLan', text: 'Others on the LAN must reach its guests' },
  { key: 'out', text: 'Its guests must reach out' },
  { key: 'eachOther', text: 'Its guests must see each other' },
]

/** Which attachment a network should have on a platform: three questions, an answer with its reasons and what it costs. */
export function AttachmentChooser() {
  const { estate } = useEstate()
  const platforms = estate.all('platform')
  const [wish, setWish] = useState<Wish>({ fromLan: false, out: true, eachOther: true })
  const [platformId, setPlatform] = useState('')
  const [hasWire, setHasWire] = useState(true)
  const platform = estate.find('platform', platformId) ?? platforms[0]
  if (!platform)
    return (
      <Part title="Choice of attachment">
        <Empty>Platforms differ in how they do NAT: add one under Setup first.</Empty>
      </Part>
    )
  const choices = chooseAttachment(wish, platform, hasWire)
  return (
    <Part title="Choice of attachment">
      <div className="grid gap-1 pt-2">
        {questions.map(({ key, text }) => (
          <TickLine key={key} isTicked={wish[key]} onTick={(isTicked) => setWish({ ...wish, [key]: isTicked })} className="min-h-7">
            {text}
          </TickLine>
        ))}
        <TickLine isTicked={hasWire} onTick={setHasWire} className="min-h-7">
          The host has a wired uplink
        </TickLine>
        <label className="flex gap-2 items-center">
          On platform
          <select className="field !w-52" value={platform.id} onChange={(event) => setPlatform(event.target.value)}>
            {platforms.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
      </div>
      <ul aria-live="polite" className="mt-2 text-dense">
        {choices.map(({ kind, fits, lacks, costs, why }) => (
          <li key={kind} className="flex gap-2 border-t border-line py-1.5">
            <span className="pt-0.5">
              <Mark of={fits ? 'fits' : 'no'} />
            </span>
            <span className="min-w-0">
              <b className="font-medium">{optionLabel(kinds.attachment.fields.kind, kind)}</b>{' '}
              <span className={fits ? 'text-soft' : ''}>{fits ? why : `no: ${lacks.join('; ')}.`}</span>
              {fits && <span className="block text-faint">Costs: {costs.join('; ')}.</span>}
            </span>
          </li>
        ))}
      </ul>
    </Part>
  )
}
