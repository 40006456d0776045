// @vitest-environment happy-dom
import { screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, expect, it, vi } from 'vitest'
import type { Schemas } from '../../../api/client'
import { Site, show } from '../../../testing/site'
import { Mouths } from './Mouths'

const candidate = (id: string, reason: string): Schemas['CandidateOut'] => ({
  part_id: id,
  name: `Boot ${id}`,
  expanded_id_mm: 30,
  recovered_id_mm: 19,
  lined: false,
  stiff: false,
  verdict: reason ? 'refused' : 'fits',
  reason,
  comfort: 0.1,
  pass_short_by_mm: 0,
  grip_short_by_mm: 0,
  cut_length_mm: null,
  waste_mm: 0,
  on_hand_mm: null,
  rings: [],
})

const mouth = (layer: string, title: string, picked: string | null): Schemas['ChoiceOut'] => ({
  layer,
  title,
  pass_od_mm: 27,
  seal_od_mm: 24.5,
  needed_expanded_mm: 28.4,
  allowed_recovered_mm: 22,
  ratio_needed: 1.3,
  covered_mm: 20,
  least_wall_mm: 0,
  picked,
  advice: '',
  candidates: [candidate('F', picked ? '' : 'its lip is 6 mm wide, the groove 5 mm'), candidate('G', '')],
  slot: '/asked/boot',
  layers: [layer],
  cores: [],
  decided: '',
  bare_mm: null,
  of: 'boot',
})

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

const both = (picked: string | null) => [
  mouth('boot', "the fitting's mouth", picked),
  mouth('boot-1', "the cable's mouth", picked),
]

it('names the part and shows every mouth on a ruler of its own', async () => {
  await show(<Mouths mouths={both('F')} asked="60 V" onPick={() => undefined} />)
  expect(screen.getByText('Boot F')).toBeTruthy()
  for (const name of ["the fitting's mouth", "the cable's mouth"])
    expect(within(screen.getByRole('region', { name })).getByText('27 mm')).toBeTruthy()
})

it('says where a part fails when none fits every mouth', async () => {
  await show(<Mouths mouths={both(null)} asked="60 V" onPick={() => undefined} />)
  expect(screen.getByText('No boot in stock fits every mouth')).toBeTruthy()
  expect(screen.getAllByText('its lip is 6 mm wide, the groove 5 mm')).toHaveLength(2)
})

it('settles the part on any of its rulers', async () => {
  const settled: string[] = []
  await show(<Mouths mouths={both('F')} asked="60 V" onPick={(part) => settled.push(part)} />)
  const cable = within(screen.getByRole('region', { name: "the cable's mouth" }))
  const other = cable.getAllByRole('button').find((b) => b.textContent?.includes('G'))
  if (other) await userEvent.click(other)
  expect(settled).toEqual(['G'])
})
