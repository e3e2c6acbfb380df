import { readEnd, suggestEnds } from '@insel/core'
import { useId, useState } from 'react'
import { useEstate } from '../../lib/estate'

/** One end of a question: a machine, an address, a network, outside. Says at once how it was read. */
export function EndInput({ label, value, onChange }: { label: string; value: string; onChange: (value: string) => void }) {
  const { estate } = useEstate()
  const id = useId()
  // What is being typed stands here, and not in the address, which comes after.
  const [text, setText] = useState(value)
  const [seen, setSeen] = useState(value)
  const [isTyping, setTyping] = useState(false)
  if (value !== seen) {
    setSeen(value)
    if (!isTyping) setText(value)
  }
  const read = readEnd(estate, text)
  return (
    <div className="min-w-0 flex-1 basis-56">
      <label htmlFor={`${id}-input`} className="block text-soft text-[13px]">
        {label}
      </label>
      <input
        id={`${id}-input`}
        className="field font-mono"
        value={text}
        list={id}
        autoComplete="off"
        spellCheck={false}
        placeholder="newsroom, 10.61.40.2, network office, outside"
        aria-invalid={text !== '' && !read}
        aria-describedby={`${id}-read`}
        onFocus={() => setTyping(true)}
        onBlur={() => setTyping(false)}
        onChange={(event) => {
          setText(event.target.value)
          onChange(event.target.value)
        }}
      />
      <datalist id={id}>
        {suggestEnds(estate, text).map((one) => (
          <option key={one} value={one} />
        ))}
      </datalist>
      <span id={`${id}-read`} className={`text-[12.5px] ${text && !read ? 'text-error' : 'text-faint'}`}>
        {text === '' ? 'a name, an address, a network' : (read?.about ?? 'Nothing in the plan is called so.')}
      </span>
    </div>
  )
}
