import { counted, formatNumber, isWithin, nextPlace, prefixAround, prefixOf, siblingOf, type Command, type SegmentWant } from '@insel/core'
import { useMemo, useState } from 'react'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { readStored, store } from '../../lib/storage'
import { useGo } from '../../lib/use-go'
import { usePaths } from '../../lib/paths'
import { Button } from '../../ui/button'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { Empty, Page, Part } from '../../ui/page'
import { BlockDrawing, type BlockKey, type DrawnPrefix } from './block-drawing'
import { NetworksNav } from '../frames/networks-nav'
import { SegmentRowView, columns } from './segment-row'
import { type SegmentRow, type Sketch, commandsOf, firstBlock, usual, workOut } from './sketch'

/** Plans segments in a block: wanted sizes become prefixes that nest and align, drawn to scale; then they are recorded and carried to hosts. */
export function PlanPage() {
  const { estate, estateId } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const [sketch, keepSketch] = useState<Sketch>(
    () => readStored<Sketch>(`block.${estateId}`) ?? { block: firstBlock(estate), drafts: [], hosts: [] },
  )
  const [pending, setPending] = useState<readonly Command[]>()
  const setSketch = (next: Sketch) => {
    store(`block.${estateId}`, next.drafts.length > 0 ? next : undefined)
    keepSketch(next)
  }
  const setDraft = (index: number, changes: Partial<SegmentRow>) =>
    setSketch({ ...sketch, drafts: sketch.drafts.map((draft, at) => (at === index ? { ...draft, ...changes } : draft)) })
  const { blockRead, block, inside, problems, made } = useMemo(() => workOut(estate, sketch), [estate, sketch])
  const indexOf = (want: SegmentWant) => (want as SegmentWant & { index: number }).index
  const drawn: readonly DrawnPrefix[] = [
    ...inside.map((subnet): DrawnPrefix => {
      const addresses = estate.referring('address', 'subnetId', subnet.id).length
      return {
        key: subnet.id,
        prefix: prefixOf(subnet),
        name: estate.find('network', subnet.networkId)?.name ?? '',
        holds: `${counted(addresses, 'address', 'addresses')} recorded`,
        look: 'recorded',
      }
    }),
    ...(made?.segments ?? []).map(({ want, prefix, needed, room }): DrawnPrefix => ({
      key: `draft ${indexOf(want)}`,
      prefix,
      name: want.name,
      holds: `${formatNumber(needed, 0)} wanted, room for ${formatNumber(room, 0)} more`,
      look: 'drafted',
    })),
  ]
  const move = (key: string, place: { readonly text: string }) => {
    if (key.startsWith('draft ')) setDraft(Number(key.slice(6)), { prefix: place.text })
    else setPending([{ type: 'subnet.move', subnetId: key, prefix: place.text }])
  }
  const onKey = (key: string, asked: BlockKey) => {
    const one = drawn.find((other) => other.key === key)
    if (!one || !block) return
    const others = drawn.filter((other) => other.key !== key).map(({ prefix }) => prefix)
    if (asked === 'up' || asked === 'down') {
      const place = nextPlace(block, others, one.prefix, asked)
      if (place) move(key, place)
      return
    }
    if (key.startsWith('draft ')) {
      const bits = one.prefix.bits + (asked === 'longer' || asked === 'split' ? 1 : -1)
      const resized = prefixAround(one.prefix.text.split('/')[0] ?? '', bits)
      if (bits <= 30 && isWithin(resized, block) && !others.some((other) => isWithin(other, resized)))
        setDraft(Number(key.slice(6)), { prefix: resized.text })
      return
    }
    if (asked === 'split') setPending([{ type: 'subnet.split', subnetId: key, id: newId() }])
    if (asked === 'merge') {
      const twin = inside.find(({ prefix }) => prefix === siblingOf(one.prefix))
      if (twin) setPending([{ type: 'subnet.merge', subnetId: key, withId: twin.id }])
    }
  }
  const commands = useMemo(() => (made ? commandsOf(made, sketch.hosts) : []), [made, sketch.hosts])
  const isSound = problems.every((problem) => problem === undefined) && made?.problems.length === 0 && commands.length > 0
  const hosts = estate.all('host').filter(({ state }) => state !== 'retired')
  const clear = () => setSketch({ ...sketch, drafts: [] })
  const segments = useProposal({
    commands,
    says: `${counted(made?.segments.length ?? 0, 'segment')} planned`,
    recorded() {
      clear()
      return go(to('networks'))
    },
    planned: clear,
  })
  const leave = () => setPending(undefined)
  const change = useProposal({ commands: pending, recorded: leave, planned: leave })
  return (
    <Page
      title="Plan a block"
      about={
        <>
          Enter what each segment has to hold; segments are aligned to their size and placed with room to grow.
          <NetworksNav />
        </>
      }
      isWide
    >
      <div className="grid grid-cols-[minmax(0,1fr)] xl:grid-cols-[minmax(0,680px)_minmax(0,1fr)] gap-x-8 gap-y-4 max-w-[1400px]">
        <div>
          <label className="flex gap-2 items-center mb-2">
            Block
            <input
              className="field font-mono !w-48"
              value={sketch.block}
              aria-invalid={!blockRead.ok}
              spellCheck={false}
              onChange={(event) => setSketch({ ...sketch, block: event.target.value })}
            />
            {!blockRead.ok && <span className="text-error text-dense">{blockRead.sentence}</span>}
          </label>
          {block && made && (
            <>
              <BlockDrawing block={block} drawn={drawn} free={made.free} onMove={move} onKey={onKey} />
              <p className="text-small text-soft mt-1.5">
                Area is to scale. Drag a prefix, or focus it and press the arrows; <kbd>s</kbd> splits, <kbd>m</kbd> merges with its other
                half, <kbd>+</kbd> and <kbd>-</kbd> change a drafted one’s size.
              </p>
            </>
          )}
          {pending && (
            <div className="border border-accent rounded-md px-4 py-3 mt-3" role="region" aria-label="Change of a recorded subnet">
              <p className="font-medium mb-1">This changes the record; the machines have to be renumbered by hand as well.</p>
              <Effect commands={pending} />
              <ProposalFooter proposal={change} label="Record it" leave={leave} />
            </div>
          )}
        </div>
        <div className="min-w-0">
          <Part
            title="Wanted segments"
            aside={
              <Button
                look="quiet"
                className="!min-h-7"
                onClick={() =>
                  setSketch({ ...sketch, drafts: [...sketch.drafts, { name: '', role: 'guests', machines: '20', growth: '50', vlan: '' }] })
                }
              >
                Add segment
              </Button>
            }
          >
            {sketch.drafts.length === 0 ? (
              <Empty action={<Button onClick={() => setSketch({ ...sketch, drafts: usual })}>Add the usual five</Button>}>
                No segment yet. Start with the five usual roles, or add one.
              </Empty>
            ) : (
              <ul>
                <li aria-hidden className={`${columns} text-faint text-small`}>
                  <span>name</span>
                  <span>role</span>
                  <span>machines</span>
                  <span>growth %</span>
                  <span>VLAN</span>
                </li>
                {sketch.drafts.map((draft, index) => (
                  <SegmentRowView
                    key={index}
                    draft={draft}
                    problem={problems[index] ?? made?.problems.find(({ name }) => name === draft.name)?.sentence}
                    placed={made?.segments.find(({ want }) => indexOf(want) === index)}
                    onChange={(changes) => setDraft(index, changes)}
                    onRemove={() => setSketch({ ...sketch, drafts: sketch.drafts.filter((_, at) => at !== index) })}
                  />
                ))}
              </ul>
            )}
          </Part>
          {sketch.drafts.length > 0 && (
            <>
              <Part title="Attach to">
                {hosts.length === 0 && <p className="text-soft text-dense py-1">No host is recorded yet; attach the networks later.</p>}
                <div className="flex flex-wrap gap-x-5 gap-y-1 py-1 max-h-40 overflow-auto">
                  {hosts.map(({ id, name }) => (
                    <label key={id} className="flex gap-1.5 items-center min-h-7">
                      <input
                        type="checkbox"
                        className="size-4 accent-[var(--accent)]"
                        checked={sketch.hosts.includes(id)}
                        onChange={(event) =>
                          setSketch({
                            ...sketch,
                            hosts: event.target.checked ? [...sketch.hosts, id] : sketch.hosts.filter((one) => one !== id),
                          })
                        }
                      />
                      {name}
                    </label>
                  ))}
                </div>
              </Part>
              <ProposalFooter proposal={segments} label={`Record ${counted(made?.segments.length ?? 0, 'segment')}`} isReady={isSound} />
              <Effect commands={isSound ? commands : undefined} withDifference={false} />
            </>
          )}
        </div>
      </div>
    </Page>
  )
}
