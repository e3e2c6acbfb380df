import type { Command } from '@insel/core'
import { useCallback, useState } from 'react'
import { useEstate } from '.'

/** Records commands and keeps the sentence when they are refused, for a page that makes small changes itself. */
export function useRecord() {
  const { submit } = useEstate()
  const [trouble, setTrouble] = useState<string>()
  const record = useCallback(
    async (commands: readonly Command[], done?: string, isShownAtOnce?: boolean): Promise<boolean> => {
      const refusal = await submit(commands, done, isShownAtOnce)
      setTrouble(refusal?.sentence)
      return refusal === undefined
    },
    [submit],
  )
  return { record, trouble }
}
