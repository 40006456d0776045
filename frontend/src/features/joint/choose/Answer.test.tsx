// @vitest-environment happy-dom
import { screen } from '@testing-library/react'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Schemas } from '../../../api/client'
import { Site, show } from '../../../testing/site'
import { Answer } from './Answer'

const part = (more: Partial<Schemas['CandidateOut']> = {}): Schemas['CandidateOut'] => ({
  part_id: 'SS-9',
  name: 'Solder sleeve 9 mm',
  expanded_id_mm: 9.2,
  recovered_id_mm: 2.9,
  lined: true,
  stiff: false,
  verdict: 'fits',
  reason: '',
  comfort: 0.2,
  pass_short_by_mm: 0,
  grip_short_by_mm: 0,
  cut_length_mm: null,
  waste_mm: 0,
  on_hand_mm: null,
  rings: [
    { what: 'seal', from_mm: -22, to_mm: -17 },
    { what: 'solder', from_mm: -2, to_mm: 2 },
    { what: 'seal', from_mm: 13, to_mm: 18 },
  ],
  ...more,
})

const choice = (candidate: Schemas['CandidateOut']): Schemas['ChoiceOut'] => ({
  layer: 'solder-sleeve',
  title: 'solder sleeve',
  pass_od_mm: 6.9,
  seal_od_mm: 3.9,
  needed_expanded_mm: 7.4,
  allowed_recovered_mm: 3.5,
  ratio_needed: 2.1,
  covered_mm: 20,
  least_wall_mm: 0,
  picked: candidate.part_id,
  advice: '',
  candidates: [candidate],
  slot: '/asked/sleeve',
  layers: ['solder-sleeve'],
  cores: [],
  decided: '',
  bare_mm: [-5, 5],
  of: '',
})

const shown = (candidate: Schemas['CandidateOut']) =>
  show(<Answer choice={choice(candidate)} plan={{ parts: [] } as unknown as Schemas['Plan']} asked="24 V" />)

beforeEach(() => {
  new Site()
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      disconnect() {}
    },
  )
})

describe('the plain answer', () => {
  it('says that a part is used as it comes, and shows its rings over what lies bare', async () => {
    await shown(part())
    expect(screen.getByText(/9.2 → 2.9, as it comes/)).toBeTruthy()
    expect(
      screen.getByRole('figure', { name: /Rings of Solder sleeve 9 mm over 10 mm bare screen/ }),
    ).toBeTruthy()
    expect(screen.getAllByText('sealing ring')).toHaveLength(2)
  })

  it('says what a sleeve is cut to, and shows no rings where it has none', async () => {
    await shown(part({ cut_length_mm: 60, rings: [] }))
    expect(screen.getByText(/9.2 → 2.9, cut 60 mm/)).toBeTruthy()
    expect(screen.queryByRole('figure')).toBeNull()
  })
})
