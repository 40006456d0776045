// @vitest-environment happy-dom
import { cleanup, render, screen } from '@testing-library/react'
import { afterEach, expect, it } from 'vitest'
import { Breaks, Unplayed } from './Breaks'

afterEach(cleanup)

const breaks = [
  { law: 16, step: 'seal.1', place: 'core 1', words: 'Nobody pulled at core 1.', mend: 'Pull at it.' },
  { law: 16, step: 'seal.2', place: 'core 2', words: 'Nobody pulled at core 2.', mend: 'Pull at it.' },
  { law: 2, step: 'bond', place: 'core 3', words: 'The sleeve lies over it.', mend: 'Do it before.' },
]

it('says each mend once, with all that it is for', () => {
  const third = { ...breaks[0], step: 'seal.3', words: 'Nobody pulled at core 3.' } as (typeof breaks)[0]
  render(<Breaks plan={{ breaks: [...breaks, third], steps: [] }} />)
  expect(screen.getAllByRole('listitem').map((i) => i.textContent)).toEqual([
    'seal.1; seal.2; and 1 more: Nobody pulled at core 1. Nobody pulled at core 2. And 1 more like these. Pull at it.',
    'bond: The sleeve lies over it. Do it before.',
  ])
})

it('tells at a step what that step breaks, and nothing where it breaks nothing', () => {
  const { rerender } = render(<Breaks plan={{ breaks, steps: [] }} steps={[{ id: 'seal.2' }]} />)
  expect(screen.getByRole('listitem').textContent).toBe('Nobody pulled at core 2. Pull at it.')
  rerender(<Breaks plan={{ breaks, steps: [] }} steps={[{ id: 'label' }]} />)
  expect(screen.queryByRole('listitem')).toBeNull()
})

it('bears a plan that was made before plans were played', () => {
  render(<Breaks plan={{ steps: [] } as unknown as Parameters<typeof Breaks>[0]['plan']} />)
  expect(screen.queryByRole('listitem')).toBeNull()
})

it('says why the order of a plan of before was not looked at', () => {
  const { rerender } = render(<Unplayed why="By the rules of today “Shrink it” would be done otherwise." />)
  expect(screen.getByRole('note').textContent).toContain('“Shrink it” would be done otherwise.')
  rerender(<Unplayed why={undefined} />)
  expect(screen.queryByRole('note')).toBeNull()
})
