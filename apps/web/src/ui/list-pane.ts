import { createContext, useContext } from 'react'

/** How a list is shown: alone, or beside one of its things. */
export interface ListPane {
  /** The thing beside the list; undefined while none is open. */
  readonly openId: string | undefined
  /** What follows the path of a row's link, so that the list keeps its order and filter beside the thing. */
  readonly search: string
}

export const ListPaneContext = createContext<ListPane>({ openId: undefined, search: '' })

export const useListPane = (): ListPane => useContext(ListPaneContext)
