import { cleanup, render, screen } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { Mark } from './mark'

afterEach(cleanup)

describe('a mark', () => {
  it('has a name and a shape of its own for each meaning, not only a colour', () => {
    const shapes = (['error', 'warning', 'notice'] as const).map((of) => {
      const { container, unmount } = render(<Mark of={of} />)
      const shape = container.querySelector('path')?.getAttribute('d')
      expect(screen.getByRole('img').getAttribute('aria-label')).toBe({ error: 'Error', warning: 'Warning', notice: 'Notice' }[of])
      unmount()
      return shape
    })
    expect(new Set(shapes).size).toBe(3)
  })
  it('is silent where the text beside it says the same', () => {
    render(<Mark of="error" isLabelled={false} />)
    expect(screen.queryByRole('img')).toBeNull()
  })
})
