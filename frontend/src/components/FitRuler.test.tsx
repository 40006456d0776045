// @vitest-environment happy-dom
import { screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, expect, it, vi } from 'vitest'
import type { Schemas } from '../api/client'
import { Site, show } from '../testing/site'
import { FitRuler } from './FitRuler'

const candidate = (n: number, fits: boolean): Schemas['CandidateOut'] => ({
  part_id: `s${n}`,
  name: `Sleeve ${n}`,
  expanded_id_mm: 30 + (n % 20),
  recovered_id_mm: fits ? 8 : 14,
  lined: true,
  stiff: false,
  verdict: fits ? 'fits' : 'too-wide',
  reason: fits ? '' : '2 mm too wide to grip',
  comfort: 0.1,
  pass_short_by_mm: 0,
  grip_short_by_mm: fits ? 0 : 2,
  cut_length_mm: 120,
  waste_mm: 0,
  on_hand_mm: 2000,
  rings: [],
})

const choice = (many: number): Schemas['ChoiceOut'] => ({
  layer: 'outer',
  title: 'outer sleeve',
  pass_od_mm: 25,
  seal_od_mm: 13,
  needed_expanded_mm: 27,
  allowed_recovered_mm: 12,
  ratio_needed: 2.25,
  covered_mm: 100,
  least_wall_mm: 0,
  picked: 's0',
  advice: '',
  candidates: Array.from({ length: many }, (_, n) => candidate(n, n < 3)),
  slot: 'outer',
  layers: ['outer'],
  cores: [],
  decided: '',
  bare_mm: null,
  of: '',
})

beforeEach(() => {
  new Site()
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      unobserve() {}
      disconnect() {}
    },
  )
})

it('shows the nearest, says how many more there are, and takes one that fits', async () => {
  const pick = vi.fn()
  await show(<FitRuler choice={choice(12)} onPick={pick} />)
  expect(screen.getByRole('button', { name: 'Use Sleeve 0' }).getAttribute('aria-pressed')).toBe('true')
  await userEvent.click(screen.getByRole('button', { name: 'Use Sleeve 1' }))
  expect(pick).toHaveBeenCalledWith('s1')
  expect(screen.queryByRole('button', { name: 'Use Sleeve 5' })).toBeNull() // it does not fit
  expect(screen.getAllByText('2 mm too wide to grip')).toHaveLength(3)
  expect(screen.getByRole('button', { name: 'Show 6 more that do not serve' })).toBeTruthy()
})

it('of 5,000 lines draws only those in sight', async () => {
  await show(<FitRuler choice={choice(5000)} />)
  await userEvent.click(screen.getByRole('button', { name: /Show 4994 more/ }))
  const list = screen.getByRole('region', { name: 'All that were judged' })
  expect(within(list).queryAllByText(/too wide|takes it|would do/).length).toBeLessThan(60)
})
