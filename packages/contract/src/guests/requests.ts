import { ArrayMaxSize, IsArray } from 'class-validator'
import { FollowsField } from '../commands/follows-field.js'

/** The most observations in one request. */
export const OBSERVATIONS_MAX = 10_000

/** `POST observations`: samples of guests and stores. Each is checked on its own; wrong ones are named and left out. */
export class ObservationsRequest {
  @IsArray({ message: 'samples is a list of observations.' })
  @ArrayMaxSize(OBSERVATIONS_MAX, { message: `At most ${OBSERVATIONS_MAX} observations are taken at once; send the rest after.` })
  samples!: readonly {
    readonly subjectId: string
    readonly at: string
    readonly cpuPercent?: number | null
    readonly memoryMiB?: number | null
    readonly diskBytes?: number | null
  }[]
}

/** `POST observers`: a guest that is to send observations on its own. */
export class ObserverRequest {
  @FollowsField({ type: 'ref', to: 'guest', label: 'Guest', doc: 'The guest that sends.' })
  guestId!: string
}
