import { counted, isKind, kinds, recordTitle, type PlanImport } from '@insel/core'
import { useMemo, useState } from 'react'
import { useEstate } from '../../estate'
import { api, ProblemResponse, Unreachable } from '../../lib/api'
import { usePaths } from '../../lib/paths'
import { useGo } from '../../lib/use-go'
import { Button } from '../../ui/button'
import { Choice } from '../../ui/choice'
import { FileChoice } from '../../ui/file-choice'
import { Ledger } from '../../ui/ledger'
import { Page, Part, Trouble } from '../../ui/page'

/** A plan from a file: what it names and what that is here, which items can be taken, and adding it. */
export function ImportPlanPage() {
  const { estateId, submitImport, revision } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const [text, setText] = useState('')
  const [chosen, setChosen] = useState<Readonly<Record<string, string>>>({})
  const [reading, setReading] = useState<PlanImport>()
  const [trouble, setTrouble] = useState<string>()
  const [isBusy, setBusy] = useState(false)

  const read = async (given: string, records: Readonly<Record<string, string>>) => {
    setText(given)
    setChosen(records)
    setBusy(true)
    try {
      setReading(await api.previewPlan(estateId, given, records))
      setTrouble(undefined)
    } catch (error) {
      if (!(error instanceof ProblemResponse || error instanceof Unreachable)) throw error
      setReading(undefined)
      setTrouble(error.message)
    } finally {
      setBusy(false)
    }
  }
  const add = async () => {
    if (!reading) return
    const [command] = reading.commands
    const name = command && 'name' in command ? command.name : reading.name
    setBusy(true)
    const why = await submitImport({ kind: 'plan', text, records: chosen }, reading.commands, `Plan “${name}” added`)
    setBusy(false)
    setTrouble(why?.sentence)
    if (!why) await go(to(`plans?filter=${encodeURIComponent(name)}`))
  }
  const missing = reading?.names.filter(({ here }) => here === null) ?? []
  const left = reading?.items.filter(({ why }) => why !== null).length ?? 0
  return (
    <Page
      title="Import plan"
      about="A plan’s file, as a plan’s page exports it. What it makes gets new ids and MACs; what it names is found by kind and name."
    >
      <FileChoice
        label={isBusy ? 'Reading…' : 'Choose a plan’s file'}
        accept=".json,application/json"
        disabled={isBusy}
        take={(file) => file.text().then((given) => read(given, {}))}
      />
      {trouble && <Trouble>{trouble}</Trouble>}
      {reading && (
        <>
          <p role="status" className="py-1">
            “{reading.name}”, {counted(reading.items.length, 'item')}
            {left > 0 && `; ${left} cannot be taken as ${left === 1 ? 'it is and becomes a task' : 'they are and become tasks'}`}.
          </p>
          {missing.length > 0 && (
            <Part title={`Not found here, ${missing.length}`}>
              <p className="text-dense text-soft py-1">Choose what is meant; without it, items that name it become tasks.</p>
              <Ledger headings={['kind', 'name in the file', 'here']}>
                {missing.map((one) => (
                  <Missing key={one.id} {...one} choose={(id) => void read(text, { ...chosen, [one.id]: id })} isBusy={isBusy} />
                ))}
              </Ledger>
            </Part>
          )}
          <Part title="Items">
            <Ledger headings={['#', 'item', 'kind', 'commands', 'taken']}>
              {reading.items.map((item, index) => (
                <tr key={index}>
                  <td className="font-mono text-faint">{index + 1}</td>
                  <td className="font-medium break-words">{item.title}</td>
                  <td>{item.kind}</td>
                  <td className="font-mono">{item.commands}</td>
                  <td className={item.why === null ? '' : 'text-warning'}>
                    {item.why ?? (item.hasOtherAddresses ? 'yes, with the next free addresses' : 'yes')}
                  </td>
                </tr>
              ))}
            </Ledger>
          </Part>
          <Button look="primary" disabled={isBusy} onClick={() => void add()}>
            Add plan
          </Button>
          <p className="text-dense text-soft mt-1">Read on change {revision}; nothing is recorded before you press.</p>
        </>
      )}
    </Page>
  )
}

/** A record that the file names and that is not found, with the choice of what is meant. */
function Missing({ kind, name, choose, isBusy }: PlanImport['names'][number] & { choose: (id: string) => void; isBusy: boolean }) {
  const { recorded } = useEstate()
  const options = useMemo(
    () =>
      isKind(kind)
        ? recorded
            .all(kind)
            .map((record) => [record.id, recordTitle(recorded, kind, record)] as const)
            .sort((a, b) => a[1].localeCompare(b[1]))
        : [],
    [recorded, kind],
  )
  return (
    <tr>
      <td>{isKind(kind) ? kinds[kind].label : kind}</td>
      <td className="font-medium break-words">{name}</td>
      <td>
        <Choice options={options} value="" none="choose…" choose={choose} aria-label={`What ${name} is here`} disabled={isBusy} />
      </td>
    </tr>
  )
}
