import { guestCost, platformOf } from '@insel/core'
import { useVirtualizer } from '@tanstack/react-virtual'
import { clsx } from 'clsx'
import { useCallback, useMemo, useRef, useState, type KeyboardEvent } from 'react'
import { useNavigate } from 'react-router'
import { keyOfBasis, useEstate, whyReadOnly } from '../../estate'
import { onDemand } from '../../lib/on-demand'
import { usePaths } from '../../lib/paths'
import { useQueryParam } from '../../lib/query-param'
import { textScale } from '../../lib/text-scale'
import { useTheme } from '../../lib/theme'
import { usePrinting } from '../../lib/use-media'
import { useWidth } from '../../lib/use-width'
import { Button, Key } from '../../ui/button'
import { LeftOutNote } from '../../ui/differs'
import { FilterInput, useFilter } from '../../ui/filter'
import { Empty, useTitle } from '../../ui/page'
import { colourings, coloursOf, type Colouring } from './colouring'
import { boardOrder, laneOf, scaleOf, type Lane } from './lanes'
import { LABEL_WIDTH, LaneView } from './lane-view'
import type { Press } from './drag-layer'
import { Glide } from './glide'
import { useCarrying } from './use-carrying'
import { MemoryScale } from './memory-scale'

const BoardNotes = onDemand(async () => (await import('./board-notes')).BoardNotes)
const EmptyBoard = onDemand(async () => (await import('./empty-board')).EmptyBoard)
const CheckPanel = onDemand(async () => (await import('./check-panel')).CheckPanel)
/** Dragging is fetched beside the board, which is there before it. */
const DragLayer = onDemand(async () => (await import('./drag-layer')).DragLayer)

const LANE_HEIGHT = 104

const SIDE_PADDING = 16

/** With less room than this, px, names and tracks are not side by side. */
const STACKED_PX = 640 * textScale()

/** How long a block that is asked for may take to be drawn, frames. */
const SEEK_FRAMES = 20

/** Every host as a lane, drawn to one scale; a guest dragged to another lane is migrated or planned to be. */
export function BoardPage() {
  const { estate } = useEstate()
  if (estate.count('host') === 0) return <EmptyBoard />
  return <Board />
}

function Board() {
  useTitle('Board')
  const { estate, basis } = useEstate()
  const isPast = whyReadOnly(basis) !== undefined
  const { to } = usePaths()
  const theme = useTheme()
  const navigate = useNavigate()
  const [wantedColour, setColour] = useQueryParam('colour')
  const colouring: Colouring = colourings.find((one) => one === wantedColour) ?? 'network'
  const filter = useFilter()
  const colours = useMemo(() => coloursOf(estate, colouring, theme), [estate, colouring, theme])
  const lanes = useMemo(
    () => boardOrder(estate.all('host').filter((host) => host.state !== 'retired')).map((host) => laneOf(estate, host)),
    [estate],
  )
  const shown = useMemo(
    () =>
      filter.wanted
        ? lanes.filter(({ host, blocks }) =>
            [host.name, host.site, ...host.tags, ...blocks.map((block) => block.guest.name)].some((word) =>
              word.toLowerCase().includes(filter.wanted),
            ),
          )
        : lanes,
    [lanes, filter.wanted],
  )
  const scale = useMemo(() => scaleOf(lanes), [lanes])
  const scroller = useRef<HTMLDivElement>(null)
  const [area, setArea] = useState<HTMLDivElement | null>(null)
  const take = useCallback((element: HTMLDivElement | null) => {
    scroller.current = element
    setArea(element)
  }, [])
  const room = useWidth(scroller) - 2 * SIDE_PADDING - 16
  // On a narrow screen a host's name is above its tracks, one host after another.
  const isStacked = room < STACKED_PX
  const width = Math.max(240, isStacked ? room + 16 : room - LABEL_WIDTH)
  const virtual = useVirtualizer({
    count: shown.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => LANE_HEIGHT,
    overscan: 3,
    // Lanes beyond the edge are drawn ahead, so scrolling need not wait for each to be drawn.
    useFlushSync: false,
  })

  const items = virtual.getVirtualItems()
  const isPrinting = usePrinting()
  const [lit, light] = useState<string>()
  const carrying = useCarrying()
  const firstBlock = shown.find((lane) => lane.blocks.length > 0)?.blocks[0]?.guest.id
  const isLitShown = lit !== undefined && shown.some((lane) => lane.blocks.some((block) => block.guest.id === lit))
  const tabStop = isLitShown ? lit : firstBlock
  const pressed = useRef<Press>(undefined)

  const carried = estate.find('guest', carrying.guestId)
  const overHost = estate.find('host', carrying.overHostId)
  const ghost =
    carried && overHost && carrying.proposal
      ? {
          name: carried.name,
          memoryMiB: guestCost(platformOf(estate, overHost), carried.memoryMiB),
          verdict: carrying.proposal.fit.verdict,
        }
      : undefined

  const focusBlock = useCallback((guestId: string | undefined) => {
    if (!guestId) return
    light(guestId)
    // At once, so that the next key already meets it; a lane out of sight is drawn within a few frames.
    const seek = (framesLeft: number) => {
      const block = document.querySelector<HTMLElement>(`[data-block="${guestId}"]`)
      if (block) block.focus()
      else if (framesLeft > 0) requestAnimationFrame(() => seek(framesLeft - 1))
    }
    seek(SEEK_FRAMES)
  }, [])

  const onKeyDown = (event: KeyboardEvent) => {
    const guestId = (event.target as HTMLElement).dataset['block']
    if (!guestId) return
    const at = shown.findIndex((lane) => lane.blocks.some((block) => block.guest.id === guestId))
    const lane = shown[at]
    if (!lane) return
    const index = lane.blocks.findIndex((block) => block.guest.id === guestId)
    const handled = () => {
      event.preventDefault()
      event.stopPropagation()
    }
    if (carrying.isDown) {
      if (event.key === 'Escape') {
        handled()
        carrying.putBack()
      }
      return
    }
    if (carrying.guestId) {
      const over = shown.findIndex((one) => one.host.id === carrying.overHostId)
      const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0
      if (step !== 0) {
        handled()
        const next = shown[(over + step + shown.length) % shown.length]
        carrying.over(next?.host.id)
        if (next) virtual.scrollToIndex(shown.indexOf(next))
      } else if (event.key === 'Enter' || event.key === 'm') {
        handled()
        carrying.drop()
      } else if (event.key === 'Escape') {
        handled()
        carrying.putBack()
      }
      return
    }
    switch (event.key) {
      case 'ArrowRight':
        handled()
        return focusBlock(lane.blocks[index + 1]?.guest.id)
      case 'ArrowLeft':
        handled()
        return focusBlock(lane.blocks[index - 1]?.guest.id)
      case 'ArrowDown':
      case 'ArrowUp': {
        handled()
        const step = event.key === 'ArrowDown' ? 1 : -1
        let next = at + step
        while (shown[next] && shown[next]?.blocks.length === 0) next += step
        const target = shown[next]
        if (!target) return
        virtual.scrollToIndex(next)
        return focusBlock(target.blocks[Math.min(index, target.blocks.length - 1)]?.guest.id)
      }
      case 'Enter':
        handled()
        return void navigate(to(`guests/${guestId}`))
      case 'm':
        handled()
        return carrying.lift(guestId, lane.host.id)
    }
  }

  const drawn = (lane: Lane) => (
    <LaneView
      lane={lane}
      scale={scale}
      width={width}
      isStacked={isStacked}
      colours={colours}
      theme={theme}
      lit={inLane(lane, lit)}
      carried={inLane(lane, carrying.guestId)}
      tabStop={inLane(lane, tabStop)}
      isOver={carrying.guestId !== undefined && carrying.overHostId === lane.host.id}
      ghost={overHost?.id === lane.host.id ? ghost : undefined}
    />
  )
  return (
    <div className="flex flex-col h-[calc(100vh-var(--head,78px))] print:h-auto">
      <h1 className="sr-only">Board</h1>
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1.5 px-4 py-2">
        <div
          role="group"
          aria-label="Colour of the blocks"
          className="flex border border-rule rounded-md overflow-hidden bg-sheet print:hidden"
        >
          {colourings.map((one) => (
            <button
              key={one}
              type="button"
              aria-pressed={one === colouring}
              onClick={() => setColour(one === 'network' ? undefined : one)}
              className={clsx('px-2.5 min-h-7 capitalize', one === colouring && 'bg-accent-wash text-accent font-medium')}
            >
              {one}
            </button>
          ))}
        </div>
        <ul className="flex flex-wrap gap-x-3.5 gap-y-1 text-dense" aria-label="What the colours mean">
          {colours.legend.slice(0, 10).map(({ key, label, colour }) => (
            <li key={key} className="flex items-center gap-1.5 max-w-44">
              <span className="size-2.5 rounded-[2px] shrink-0" style={{ background: colour }} aria-hidden />
              <span className="truncate">{label}</span>
            </li>
          ))}
          {colours.legend.length > 10 && <li className="text-faint">and {colours.legend.length - 10} more</li>}
        </ul>
        <span className="flex-1" />
        <BoardNotes />
        <FilterInput filter={filter} label="Filter hosts and guests" />
      </div>
      <div
        ref={take}
        onKeyDown={onKeyDown}
        onFocus={(event) => light(blockAt(event.target))}
        onPointerOver={(event) => light(blockAt(event.target))}
        onPointerDownCapture={(event) => {
          const guestId = blockAt(event.target)
          pressed.current = guestId === undefined ? undefined : { guestId, event: event.nativeEvent }
        }}
        onPointerUpCapture={() => (pressed.current = undefined)}
        // An opaque ground lets the browser move what is drawn instead of drawing it again.
        className="flex-1 overflow-auto relative bg-paper print:overflow-visible"
      >
        <MemoryScale
          isShort={isStacked}
          from={isStacked ? 0 : LABEL_WIDTH}
          ticks={scale.ticks}
          px={(mebibytes) => (mebibytes / scale.memoryMiB) * width}
          width={width}
        />
        {shown.length === 0 && (
          <div className="px-4">
            <Empty action={<Button onClick={() => filter.set('')}>Clear the filter</Button>}>
              No host or guest matches “{filter.text}”.
            </Empty>
          </div>
        )}
        <div className="px-4">
          <LeftOutNote kind="host" />
          <LeftOutNote kind="guest" />
        </div>
        {isPrinting &&
          shown.map((lane) => (
            <div key={lane.host.id} className="break-inside-avoid">
              {drawn(lane)}
            </div>
          ))}
        <Glide area={area} layout={keyOfBasis(basis)} lanes={lanes}>
          <div className="relative print:hidden" style={{ height: virtual.getTotalSize() }}>
            {items.map(({ index, start, key }) => {
              const lane = shown[index]
              return (
                lane && (
                  <div
                    key={key}
                    data-index={index}
                    ref={virtual.measureElement}
                    className="absolute inset-x-0 top-0 contain-content"
                    style={{ transform: `translateY(${start}px)` }}
                  >
                    {drawn(lane)}
                  </div>
                )
              )
            })}
          </div>
        </Glide>
        <p className="px-4 py-2 text-faint text-small">
          <span id="board-help" className="print:hidden">
            {isPast ? (
              'Switch to Recorded to move guests.'
            ) : (
              <>
                Drag a guest to another host, or press <Key>m</Key> on it, to migrate it, or to plan that.
              </>
            )}
          </span>{' '}
          Blocks are as wide as the memory they take, with overhead.
        </p>
      </div>
      {area && (
        <DragLayer
          scroller={area}
          hostIds={items.flatMap(({ index }) => shown[index]?.host.id ?? [])}
          carrying={carrying}
          pressed={pressed}
          name={carried?.name}
        />
      )}
      <CheckPanel carrying={carrying} />
    </div>
  )
}

/** The guest whose block an event happened on, if any. */
const blockAt = (target: EventTarget): string | undefined =>
  target instanceof Element ? target.closest<HTMLElement>('[data-block]')?.dataset['block'] : undefined

/** A guest's id when its block is on the lane, so that only that lane is drawn again. */
const inLane = (lane: Lane, guestId: string | undefined): string | undefined =>
  guestId !== undefined && lane.blocks.some((block) => block.guest.id === guestId) ? guestId : undefined
