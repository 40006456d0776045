// @vitest-environment happy-dom
import { cleanup, render, screen } from '@testing-library/react'
import { afterEach, expect, it } from 'vitest'
import { PourLine } from './PourLine'

afterEach(cleanup)

const pack = (n: number, from: number) => ({
  pack: n,
  mix_from_min: from,
  mix_to_min: from + 3,
  pour_from_min: from + 3,
  pour_to_min: from + 4,
  gels_at_min: from + 15,
})

it('draws every pack to one scale of minutes, and says them', () => {
  const { container } = render(<PourLine packs={[pack(1, 0), pack(2, 4)]} alone />)
  expect(screen.getAllByRole('listitem')).toHaveLength(2)
  expect(screen.getByText(/mixed from 4 min to 7 min, poured by 8 min, gels at 19 min/)).toBeTruthy()
  expect(screen.getByText('all in after 8 min')).toBeTruthy()
  expect(screen.getByText(/pour one before the next is opened/)).toBeTruthy()
  const [mix, pour] = [...container.querySelectorAll<HTMLElement>('li:nth-child(2) [style]')]
  expect(mix?.style.left).toBe(`${(100 * 4) / 19}%`)
  expect(pour?.style.width).toBe(`${100 / 19}%`)
})

it('says how two share it, and nothing of a single pack', () => {
  const { rerender, container } = render(<PourLine packs={[pack(1, 0), pack(2, 3)]} alone={false} />)
  expect(screen.getByText(/one pours while the other mixes/)).toBeTruthy()
  rerender(<PourLine packs={[pack(1, 0)]} alone />)
  expect(container.innerHTML).toBe('')
})
