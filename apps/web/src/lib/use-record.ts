import type { Command } from '@insel/core'
import { useCallback, useState } from 'react'
import { useEstate } from '../estate'

/** Records commands and keeps the sentence when they are refused, for a page with small changes of its own. */
export function useRecord() {
  const { submit, submitImport } = useEstate()
  const [trouble, setTrouble] = useState<string>()
  const record = useCallback(
    async (commands: readonly Command[], done?: string, isShownAtOnce?: boolean): Promise<boolean> => {
      const refusal = await submit(commands, done, isShownAtOnce)
      setTrouble(refusal?.sentence)
      return refusal === undefined
    },
    [submit],
  )
  /** The same for a text of an import, which the server reads again. */
  const recordImport = useCallback(
    async (...asked: Parameters<typeof submitImport>): Promise<boolean> => {
      const refusal = await submitImport(...asked)
      setTrouble(refusal?.sentence)
      return refusal === undefined
    },
    [submitImport],
  )
  return { record, recordImport, trouble }
}
