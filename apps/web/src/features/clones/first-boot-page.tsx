import { bootForms, firstBootOf, TO_BE_FILLED_IN, type BootFile, type Guest } from '@insel/core'
import { useMemo, useState } from 'react'
import { useEstate } from '../../estate'
import { download } from '../../lib/files'
import { useQueryParam } from '../../lib/query-param'
import { Button } from '../../ui/button'
import { Empty, Part } from '../../ui/page'
import { Mark } from '../../ui/mark'
import { GuestFrame } from '../frames/guest-frame'

/** What a guest is told at its first boot: files to copy or download, and the image of a seed volume. */
export function FirstBootPage() {
  return <GuestFrame>{(guest) => <Files key={guest.id} guest={guest} />}</GuestFrame>
}

function Files({ guest }: { guest: Guest }) {
  const { estate, recorded, estateId, basis } = useEstate()
  const [wanted, setWanted] = useQueryParam('form')
  const boot = useMemo(() => firstBootOf(estate, guest), [estate, guest])
  const forms = useMemo(() => bootForms(boot), [boot])
  const form = forms.find(({ id }) => id === wanted) ?? forms[0]
  if (!form) return null
  const hasPlace = form.files.some(({ text }) => text.includes(TO_BE_FILLED_IN))
  return (
    <div className="max-w-[900px]">
      {boot.gaps.map((gap) => (
        <p key={gap} className="flex gap-2 items-baseline mb-1">
          <Mark of="warning" /> {gap}
        </p>
      ))}
      <div role="group" aria-label="Form" className="flex flex-wrap gap-1 my-2 print:hidden">
        {forms.map(({ id, title }) => (
          <Button key={id} aria-pressed={id === form.id} look={id === form.id ? 'primary' : 'plain'} onClick={() => setWanted(id)}>
            {title}
          </Button>
        ))}
      </div>
      <p className="text-soft my-2">{form.about}</p>
      {form.id === 'seed' &&
        (recorded.find('guest', guest.id) === undefined ? (
          <p className="text-soft text-dense">The image can be downloaded once the guest is recorded; its files are below.</p>
        ) : (
          <p className="my-2">
            <a className="link target" href={`/api/v1/estates/${estateId}/exports/guests/${guest.id}/seed`} download>
              Download the seed image
            </a>
            {basis.on === 'item' && <span className="text-soft text-dense"> It holds what is recorded, not the plan.</span>}
          </p>
        ))}
      {hasPlace && (
        <p className="border-l-2 border-warning pl-3 my-2">
          Insel keeps no secret: put the hash of a password in place of <code>{TO_BE_FILLED_IN}</code>, or take that line out and use a key.
        </p>
      )}
      {form.files.length === 0 && <Empty>No adapter with a MAC is on a network, so there is nothing to set up.</Empty>}
      {form.files.map((file) => (
        <FileView key={file.path} file={file} />
      ))}
    </div>
  )
}

function FileView({ file: { path, text } }: { file: BootFile }) {
  const [isCopied, setCopied] = useState<boolean>()
  const copy = () =>
    navigator.clipboard.writeText(text).then(
      () => setCopied(true),
      () => setCopied(false),
    )
  return (
    <Part
      title={path}
      aside={
        <span className="flex gap-2 items-center print:hidden">
          <span role="status" className="text-soft text-dense">
            {isCopied === true ? 'Copied.' : isCopied === false ? 'The browser does not allow copying; select the text.' : ''}
          </span>
          <Button className="!min-h-7" onClick={() => void copy()}>
            Copy<span className="sr-only"> {path}</span>
          </Button>
          <Button className="!min-h-7" onClick={() => download(path.split('/').at(-1) ?? path, text, 'text/plain')}>
            Download<span className="sr-only"> {path}</span>
          </Button>
        </span>
      }
    >
      <pre className="font-mono text-small bg-sheet border border-line rounded-md p-3 overflow-x-auto whitespace-pre select-text">
        {text}
      </pre>
    </Part>
  )
}
