/** How the axes of every chart look. */
export const axisLook = { tick: { fontSize: 11, fill: 'var(--soft)' }, stroke: 'var(--rule)' } as const
/**
 * How an axis of numbers looks: all of its few ticks are drawn. Which of them fit is not asked, since for that every label is
 * measured in the page, and each measure lays the whole page out anew.
 */
export const numberAxisLook = { ...axisLook, interval: 0 } as const
/** How what is shown at a point of every chart looks. */
export const tooltipLook = { contentStyle: { background: 'var(--sheet)', border: '1px solid var(--rule)', fontSize: 12 } } as const
/**
 * How the lines behind every chart look. Without its own answer for the upright ones, which are not drawn, the chart measures a
 * label for each of its points first.
 */
export const gridLook = { stroke: 'var(--line)', vertical: false, verticalCoordinatesGenerator: (): number[] => [] } as const
