import { madeOf, moveTime, type Estate, type Migration } from '@insel/core'

/** What a move has to copy, bytes: as recorded, or as its method copies it. */
export function totalOf(estate: Estate, move: Migration): number {
  if (move.totalBytes) return move.totalBytes
  const guest = estate.find('guest', move.guestId)
  if (!guest) return move.movedBytes ?? 0
  const want = {
    guest,
    to: estate.find('host', move.toHostId),
    method: move.method,
    stores: madeOf(move).stores ?? {},
    isTakenOver: move.becomesId !== null,
  }
  return moveTime(estate, want).bytes.value
}
