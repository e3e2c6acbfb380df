import { counted, formatBytes, formatMiB, formatNumber, isToCome, type Guest } from '@insel/core'
import { clsx } from 'clsx'
import { memo } from 'react'
import { Link } from 'react-router'
import { usePaths } from '../../lib/paths'
import { Differs, differsInWords, useDiffers } from '../../ui/differs'
import { onDemand } from '../../lib/on-demand'
import { textScale } from '../../lib/text-scale'
import type { Theme } from '../../lib/theme'
import type { Colours } from './colouring'
import type { Block, Lane, Scale, StoreBar } from './lanes'

const HeldBlocks = onDemand(async () => (await import('./held-blocks')).HeldBlocks)

/** Width of the column with the hosts' names, px. */
export const LABEL_WIDTH = 168 * textScale()
/** Stores are drawn shorter than memory, so that several fit side by side. */
const STORE_SHARE = 0.22
const NAME_PX = 6.1 * textScale()
const PAD_PX = 14
/** Room for the words behind the processor track, px. */
const WORDS_PX = 170 * textScale()

/** What the pointer or the keyboard is on, as far as this lane has it: a lane without it is not drawn again. */
interface BoardFocus {
  /** The guest that lights up on all tracks. */
  readonly lit: string | undefined
  readonly carried: string | undefined
  readonly tabStop: string | undefined
}

interface LaneProps {
  readonly lane: Lane
  readonly scale: Scale
  readonly width: number
  /** Whether the host's name is above its tracks. */
  readonly isStacked: boolean
  readonly colours: Colours
  readonly theme: Theme
  readonly lit: string | undefined
  readonly carried: string | undefined
  readonly tabStop: string | undefined
  /** Whether something is carried over it. */
  readonly isOver: boolean
  readonly ghost: { readonly name: string; readonly memoryMiB: number; readonly verdict: string } | undefined
}

/** One host: memory, processors and stores, all to the board's scale. */
export const LaneView = memo(function LaneView(props: LaneProps) {
  const { lane, isOver, isStacked } = props
  return (
    <section
      aria-label={laneLabel(lane)}
      data-lane={lane.host.name}
      data-host={lane.host.id}
      className={clsx('border-b border-line px-4 py-2.5', !isStacked && 'flex', isOver && 'bg-accent-wash/50')}
    >
      <LaneDrawing {...props} />
    </section>
  )
})

const LaneDrawing = memo(function LaneDrawing({ lane, scale, width, isStacked, colours, theme, lit, carried, tabStop, ghost }: LaneProps) {
  const { host } = lane
  const focus: BoardFocus = { lit, carried, tabStop }
  const { to } = usePaths()
  const differs = useDiffers()
  const px = (mebibytes: number) => (mebibytes / scale.memoryMiB) * width
  const isPlanned = isToCome(host)
  const usable = px(host.memoryMiB)
  const own = px(lane.ownMiB)
  const reserve = px(lane.reserveMiB)
  const end = px(lane.committedMiB)
  const narrow = lane.blocks.filter((block) => !hasRoom(block, px(block.memoryMiB)))
  // Names that do not fit on their blocks are in the free part of the lane, or after its end.
  const freeRoom = usable - own - reserve - end - 16
  const isAsideInside = freeRoom > 90
  const asideFrom = isAsideInside ? end + 8 : Math.max(usable, end) + 8
  const asideRoom = isAsideInside ? freeRoom : width - asideFrom
  return (
    <>
      <div
        style={isStacked ? undefined : { width: LABEL_WIDTH }}
        className={clsx('text-dense leading-snug', isStacked ? 'flex flex-wrap gap-x-3 items-baseline mb-1' : 'shrink-0 pr-3')}
      >
        <Link to={to(`hosts/${host.id}`)} className="font-bold text-lead name-link break-words">
          {host.name}
        </Link>
        <Differs id={host.id} className="ml-1.5" />
        <div className="text-faint">
          {host.site} · {isPlanned || host.state !== 'in service' ? host.state : lane.platformName}
        </div>
        {lane.leftMiB >= 0 ? (
          <div className="text-accent font-medium">{formatMiB(lane.leftMiB)} free</div>
        ) : (
          <div className="text-error font-bold">
            {-lane.leftMiB <= lane.reserveMiB
              ? `${formatMiB(-lane.leftMiB)} into the reserve`
              : `${formatMiB(-lane.leftMiB - lane.reserveMiB)} over`}
          </div>
        )}
      </div>
      <div className="relative min-w-0" style={{ width }} data-to-scale>
        <div className="relative h-[2.72rem]">
          <div
            className={clsx('absolute inset-y-0 left-0 bg-track border', isPlanned ? 'border-dashed border-rule' : 'border-rule')}
            style={{ width: usable }}
          />
          {reserve > 0 && (
            <div
              className="absolute inset-y-0 hatch bg-sand-wash border-y border-rule text-tiny text-soft overflow-hidden"
              style={{ left: usable - own - reserve, width: reserve, '--hatch': 'var(--sand)' } as React.CSSProperties}
              title={`Failover reserve ${formatMiB(lane.reserveMiB)}`}
            >
              {reserve > 96 && <span className="absolute bottom-0 right-1 bg-sand-wash px-1">reserve {formatMiB(lane.reserveMiB)}</span>}
            </div>
          )}
          <div
            className="absolute inset-y-0 bg-sand border-y border-r border-rule"
            style={{ left: usable - own, width: Math.max(own, 2) }}
            title={`Platform’s own ${formatMiB(lane.ownMiB)}`}
          />
          {lane.blocks.map((block) => (
            <MemoryBlock
              key={block.guest.id}
              block={block}
              left={px(block.memoryFrom)}
              width={px(block.memoryMiB)}
              isOverEnd={px(block.memoryFrom + block.memoryMiB) > usable + 0.5}
              colour={colours.of(block.guest)}
              theme={theme}
              focus={focus}
              differs={differs.get(block.guest.id)}
            />
          ))}
          {lane.held.length > 0 && <HeldBlocks lane={lane} px={px} />}
          {ghost && (
            <div
              className={clsx(
                'absolute inset-y-0 border-2 border-dashed bg-sheet/80 text-small px-1.5 overflow-hidden whitespace-nowrap pointer-events-none z-10',
                ghost.verdict === 'no' ? 'border-error' : ghost.verdict === 'remark' ? 'border-warning' : 'border-accent',
              )}
              style={{ left: end, width: Math.max(px(ghost.memoryMiB), 6) }}
            >
              {ghost.name}
            </div>
          )}
          {lane.committedMiB > host.memoryMiB && <div className="absolute -inset-y-1 w-0.5 bg-error" style={{ left: usable }} />}
          {narrow.length > 0 && asideRoom > 60 && (
            <div
              className="absolute inset-y-0 text-tiny leading-[1.2rem] text-soft overflow-hidden line-clamp-2 py-0.5 pointer-events-none"
              style={{ left: asideFrom, width: asideRoom }}
            >
              {narrow.map((block) => block.guest.name).join(', ')}
            </div>
          )}
        </div>
        <ProcessorTrack lane={lane} scale={scale} width={width} colours={colours} focus={focus} />
        <div className="flex flex-wrap gap-x-7 gap-y-0.5 mt-1 text-small text-soft">
          {lane.stores.map((bar) => (
            <StoreView key={bar.store.id} bar={bar} unit={(width * STORE_SHARE) / scale.storeBytes} />
          ))}
          {lane.templates.length > 0 && (
            <span>
              {lane.templates.length === 1 ? 'template ' : 'templates '}
              {lane.templates.map((template, index) => (
                <span key={template.id}>
                  {index > 0 && ', '}
                  <Link
                    to={to(`guests/${template.id}`)}
                    className="target underline decoration-dotted underline-offset-2 hover:text-accent"
                  >
                    {template.name}
                  </Link>
                </span>
              ))}
            </span>
          )}
        </div>
      </div>
    </>
  )
})

const hasRoom = (block: Block, width: number) => width >= block.guest.name.length * NAME_PX + PAD_PX

function laneLabel(lane: Lane): string {
  const left = lane.leftMiB >= 0 ? `${formatMiB(lane.leftMiB)} of memory free` : `${formatMiB(-lane.leftMiB)} of memory too much`
  return `${lane.host.name}, ${lane.host.state}: ${counted(lane.blocks.length, 'guest')}, ${left}, ${formatNumber(lane.loadCores)} of ${lane.cores} cores`
}

/** The state of a guest in words, for people who cannot see the colours. */
const blockLabel = (guest: Guest) => `${guest.name}, ${guest.state}, ${formatMiB(guest.memoryMiB)}, ${guest.vcpu} vCPU`

interface BlockProps {
  readonly block: Block
  readonly left: number
  readonly width: number
  readonly isOverEnd: boolean
  readonly colour: string
  readonly theme: Theme
  readonly focus: BoardFocus
  readonly differs: 'new' | 'changed' | undefined
}

function MemoryBlock({ block: { guest, isLeaving }, left, width, isOverEnd, colour, theme, focus, differs }: BlockProps) {
  const isOutline = isOutlined(guest)
  const isPale = guest.state === 'stopped'
  const isNamed = width > 26
  const label = `${blockLabel(guest)}${isLeaving ? ', is being moved' : ''}${differs ? `, ${differsInWords[differs]}` : ''}`
  const text = isOutline || isPale ? 'var(--ink)' : theme === 'dark' ? '#10171f' : '#ffffff'
  return (
    <button
      type="button"
      aria-describedby="board-help"
      aria-label={label}
      aria-keyshortcuts="m Enter"
      data-block={guest.id}
      tabIndex={focus.tabStop === guest.id ? 0 : -1}
      title={focus.lit === guest.id ? label : undefined}
      className={clsx(
        'absolute inset-y-0 text-left truncate rounded-sm border touch-none cursor-grab text-small leading-[1.07rem] pt-[3px]',
        isNamed && 'px-1.5',
        isOverEnd && 'hatch',
        differs && 'outline-2 outline-dashed outline-accent outline-offset-1',
        focus.lit === guest.id && 'ring-2 ring-accent z-10',
        focus.carried === guest.id && 'opacity-50 ring-2 ring-warning z-10',
      )}
      style={
        {
          left: left + 0.5,
          width: Math.max(width - 1.5, 3),
          color: text,
          borderColor: colour,
          borderStyle: isOutline ? 'dashed' : 'solid',
          borderWidth: isOutline ? 2 : 1,
          backgroundColor: isOutline ? 'var(--sheet)' : isPale ? `color-mix(in srgb, ${colour} 28%, var(--sheet))` : colour,
          '--hatch': 'var(--paper)',
        } as React.CSSProperties
      }
    >
      {isNamed && (
        <>
          {differs && (differs === 'new' ? '+ ' : '± ')}
          {guest.name}
          {isLeaving && ' →'}
          <span className="block font-mono text-tiny">{formatNumber(guest.memoryMiB / 1024)}</span>
        </>
      )}
    </button>
  )
}

const PROCESSOR_BAR_PX = 8

/** A guest's bar on the processor track as a path. */
function barPath({ coresFrom, cores }: Block, px: (cores: number) => number): string {
  return `M${px(coresFrom).toFixed(1)} 0h${Math.max(px(cores) - 1, 1.5).toFixed(1)}v${PROCESSOR_BAR_PX}H${px(coresFrom).toFixed(1)}z`
}

/** One path for all bars that look the same: a lane of thirty guests is drawn with a handful of elements, so it scrolls smoothly. */
function processorPaths(lane: Lane, px: (cores: number) => number, colours: Colours) {
  const paths = new Map<string, { key: string; d: string; colour: string; isOutline: boolean; isPale: boolean }>()
  for (const block of lane.blocks) {
    const colour = colours.of(block.guest)
    const key = `${colour} ${block.guest.state}`
    const path = paths.get(key) ?? {
      key,
      d: '',
      colour,
      isOutline: isOutlined(block.guest),
      isPale: block.guest.state === 'stopped',
    }
    paths.set(key, { ...path, d: path.d + barPath(block, px) })
  }
  return [...paths.values()]
}

function ProcessorTrack({
  lane,
  scale,
  width,
  colours,
  focus,
}: Pick<LaneProps, 'lane' | 'scale' | 'width' | 'colours'> & { focus: BoardFocus }) {
  // The words follow the track, so the longest track leaves them room.
  const px = (cores: number) => (cores / scale.cores) * (width - WORDS_PX)
  const lit = focus.lit === undefined ? undefined : lane.blocks.find(({ guest }) => guest.id === focus.lit)
  const over = Math.max(0, lane.loadCores - lane.cores)
  return (
    <div className="relative h-3 mt-1.5">
      <div
        className={clsx('absolute inset-y-0.5 left-0 bg-track border border-rule', isToCome(lane.host) && 'border-dashed')}
        style={{ width: px(lane.cores) }}
      />
      <svg
        className="absolute inset-y-0.5 left-0 overflow-visible"
        width={px(Math.max(lane.cores, lane.loadCores))}
        height={PROCESSOR_BAR_PX}
        aria-hidden
      >
        {processorPaths(lane, px, colours).map(({ key, d, colour, isOutline, isPale }) => (
          <path
            key={key}
            d={d}
            stroke={isOutline ? colour : 'none'}
            strokeDasharray={isOutline ? '3 2' : undefined}
            fill={isOutline ? 'var(--sheet)' : colour}
            fillOpacity={isPale ? 0.4 : 1}
          />
        ))}
        {over > 0 && <rect x={px(lane.cores)} width={px(over)} height={PROCESSOR_BAR_PX} fill="var(--paper)" fillOpacity={0.45} />}
        {lit && <path d={barPath(lit, px)} fill="none" stroke="var(--accent)" strokeWidth={2} />}
      </svg>
      {over > 0 && <div className="absolute inset-y-0 w-0.5 bg-error" style={{ left: px(lane.cores) }} />}
      <span
        className="absolute text-small leading-3 text-soft whitespace-nowrap"
        style={{ left: px(Math.max(lane.cores, lane.loadCores)) + 8 }}
      >
        {formatNumber(lane.loadCores)} of {lane.cores} cores, {lane.vcpu} vCPU
      </span>
    </div>
  )
}

function StoreView({ bar: { store, usedBytes, promisedBytes, leftBytes }, unit }: { bar: StoreBar; unit: number }) {
  const px = (bytes: number) => bytes * unit
  const isOver = promisedBytes > store.capacityBytes
  const capacity = Math.max(px(store.capacityBytes), 14)
  return (
    <span
      className="inline-flex items-center gap-2 whitespace-nowrap"
      title={`${store.name}: ${formatBytes(usedBytes)} used, ${formatBytes(promisedBytes)} promised, ${formatBytes(store.capacityBytes)} in all`}
    >
      <span className="relative inline-block h-2" style={{ width: Math.max(capacity, px(promisedBytes)) }} aria-hidden>
        <span className="absolute inset-y-0 left-0 bg-track border border-rule" style={{ width: capacity }} />
        <span
          className="absolute inset-y-0 hatch"
          style={{ left: 0, width: px(promisedBytes), '--hatch': isOver ? 'var(--error)' : 'var(--fill)' } as React.CSSProperties}
        />
        <span className="absolute inset-y-0 left-0 bg-fill" style={{ width: px(usedBytes) }} />
        {isOver && <span className="absolute -inset-y-1 w-0.5 bg-error" style={{ left: capacity - 1 }} />}
      </span>
      <span>
        <span className="font-mono text-ink">{store.name}</span> {formatBytes(usedBytes)} of {formatBytes(store.capacityBytes)}
        {store.kind === 'backup' && ', backups'}
        {leftBytes > 0 && `, ${formatBytes(leftBytes)} left by moves`}
        {isOver && <b className="text-error font-medium">, promised {formatBytes(promisedBytes)}</b>}
      </span>
    </span>
  )
}

/** Planned or being copied: its memory is spoken for, and nothing of it runs yet. */
const isOutlined = ({ state }: Pick<Guest, 'state'>): boolean => state === 'planned' || state === 'being copied'
