import type { Item } from '@insel/core'
import { useCallback } from 'react'
import { useEstate } from '../../estate'

/** Takes back what an item did. @returns why not, in a sentence, or undefined when done */
export function useRevertItem(): (item: Item) => Promise<string | undefined> {
  const { revertItem } = useEstate()
  return useCallback(async (item: Item) => (await revertItem(item))?.sentence, [revertItem])
}
