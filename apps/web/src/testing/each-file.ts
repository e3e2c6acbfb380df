import { configure } from '@testing-library/react'
import { beforeAll } from 'vitest'
import { NoSizeChanges } from './layout'

globalThis.ResizeObserver = NoSizeChanges

// Whether each element of a page is hidden by a style takes most of the time of looking for one, and no style sheet is here to say so.
// What comes later, code of a dialog or an answer, may take its time on a busy machine.
configure({ defaultHidden: true, asyncUtilTimeout: 10_000 })

// Test files share one browser, as tabs do; what one chose there is not the next one's.
beforeAll(() => {
  localStorage.clear()
  document.documentElement.removeAttribute('data-theme')
})
