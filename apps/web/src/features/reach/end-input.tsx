import { readEnd, suggestEnds } from '@insel/core'
import { useId } from 'react'
import { useEstate } from '../../estate'
import { useTyped } from '../../lib/use-typed'

/** One end of a question: a machine, an address, a network, outside. Says at once how it was read. */
export function EndInput({ label, value, onChange }: { label: string; value: string; onChange: (value: string) => void }) {
  const { estate } = useEstate()
  const id = useId()
  const { text, field } = useTyped(value, onChange)
  const read = readEnd(estate, text)
  return (
    <div className="min-w-0 flex-1 basis-56">
      <label htmlFor={`${id}-input`} className="block text-soft text-dense">
        {label}
      </label>
      <input
        id={`${id}-input`}
        className="field font-mono"
        {...field}
        list={id}
        autoComplete="off"
        spellCheck={false}
        placeholder="newsroom, 10.61.40.2, network office, outside"
        aria-invalid={text !== '' && !read}
        aria-describedby={`${id}-read`}
      />
      <datalist id={id}>
        {suggestEnds(estate, text).map((one) => (
          <option key={one} value={one} />
        ))}
      </datalist>
      <span id={`${id}-read`} className={`text-small ${text && !read ? 'text-error' : 'text-faint'}`}>
        {text === '' ? 'a name, an address, a network' : (read?.about ?? 'Nothing recorded has this name.')}
      </span>
    </div>
  )
}
