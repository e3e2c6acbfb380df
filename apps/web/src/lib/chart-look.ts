/** How the axes of every chart look. */
export const axisLook = { tick: { fontSize: 11, fill: 'var(--soft)' }, stroke: 'var(--rule)' } as const
/** How what is shown at a point of every chart looks. */
export const tooltipLook = { contentStyle: { background: 'var(--sheet)', border: '1px solid var(--rule)', fontSize: 12 } } as const
