import { STORY_HEADER } from '@insel/contract'
import type { RequestHandler } from 'express'
import { AsyncLocalStorage } from 'node:async_hooks'

const said = new AsyncLocalStorage<Date>()

/** When what a request records was done, where it says so: to a server that takes a story in. */
export const saidTime = (): Date | undefined => said.getStore()

/** Lets requests say when what they record was done. Only for a server of its own, on which nobody works: one that loads the demo. */
export const storyClock = (): RequestHandler => (request, _, next) => {
  const at = Date.parse(request.get(STORY_HEADER) ?? '')
  if (Number.isNaN(at)) next()
  else said.run(new Date(at), next)
}
