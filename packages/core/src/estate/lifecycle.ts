/** The states of a guest's life, in their order. */
export const guestStates = ['planned', 'being copied', 'being installed', 'running', 'stopped', 'retired'] as const
export type GuestState = (typeof guestStates)[number]

/**
 * What a guest's state may become. A machine that is retired is taken back by way of stopped, and nothing that ran is
 * planned again: the logbook would not be true.
 */
const next: Readonly<Record<GuestState, readonly GuestState[]>> = {
  planned: ['being copied', 'being installed', 'running', 'stopped', 'retired'],
  'being copied': ['stopped', 'running', 'planned', 'retired'],
  'being installed': ['running', 'stopped', 'planned', 'retired'],
  running: ['stopped'],
  stopped: ['running', 'being installed', 'retired'],
  retired: ['stopped'],
}

/**
 * The states a guest may go to from a state.
 *
 * @example statesAfter('running') // ['stopped']
 */
export const statesAfter = (state: GuestState): readonly GuestState[] => next[state]

/** Whether it takes its host's processors now: running, or powered on to be installed. */
export const isPoweredOn = ({ state }: { readonly state: GuestState }): boolean => state === 'running' || state === 'being installed'
/** Whether a host is still to come: planned, on order, or being built. */
export const isToCome = ({ state }: { readonly state: string }): boolean =>
  state === 'planned' || state === 'on order' || state === 'being built'
/** Whether it is in service: it has been installed, and is not retired. */
export const isInService = ({ state }: { readonly state: GuestState }): boolean => state === 'running' || state === 'stopped'
