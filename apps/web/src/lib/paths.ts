import type { Kind } from '@insel/core'
import { useCallback } from 'react'
import { useLocation, useParams } from 'react-router'

const pages: Partial<Record<Kind, string>> = {
  host: 'hosts',
  guest: 'guests',
  network: 'networks',
  store: 'guests/stores',
  plan: 'plans',
  batch: 'clones',
}

/** Paths inside the estate that is shown; they keep the basis, so that it stays in view from page to page. */
export function usePaths() {
  const { estateId = '' } = useParams()
  const basis = new URLSearchParams(useLocation().search).get('basis')
  const to = useCallback(
    (path: string) => {
      const [way = '', query = ''] = path.split('?')
      const params = new URLSearchParams(query)
      if (basis && !params.has('basis')) params.set('basis', basis)
      const text = params.toString()
      return `/estates/${estateId}/${way}${text ? `?${text}` : ''}`
    },
    [estateId, basis],
  )
  /** The page of a record: its own, or that of what it is a part of. */
  const ofRecord = useCallback((kind: Kind, id: string) => to(pages[kind] ? `${pages[kind]}/${id}` : `records/${kind}/${id}`), [to])
  return { to, ofRecord }
}
