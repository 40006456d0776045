// @vitest-environment happy-dom
import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, expect, it } from 'vitest'
import type { Schemas } from '../../api/client'
import { newBrowser, Site, show } from '../../testing/site'
import { Rules } from './Rules'

const rule = (key: string, why: string, group: string): Schemas['RuleOut'] => ({
  key,
  value: 5,
  default: 5,
  own: false,
  reason: '',
  unit: 'mm',
  why,
  source: 'site practice',
  low: 0,
  high: 10,
  sheet: true,
  group,
})
const RULES = [
  rule('cut.tolerance_mm', 'layers and core lengths', 'Cutting and stripping'),
  rule('park.between_mm', 'between parts parked on one tail', 'Threading and parking'),
  rule('cut.spare_mm', 'cores left long', 'Cutting and stripping'),
]

beforeEach(() => {
  newBrowser()
  new Site({ 'GET /rules': { body: { items: RULES, version: 1 } } })
})

it('stands under the headings a person looks for, and is found by any words', async () => {
  show(<Rules />)
  expect(await screen.findByRole('heading', { name: 'Cutting and stripping' })).toBeTruthy()
  expect(screen.getAllByRole('heading', { level: 2 })).toHaveLength(2)
  const find = screen.getByRole('textbox', { name: 'Find' })
  await userEvent.type(find, 'tail parked')
  expect(screen.getAllByRole('heading', { level: 2 }).map((h) => h.textContent)).toEqual([
    'Threading and parking',
  ])
  expect(screen.queryByText('cores left long')).toBeNull()
  await userEvent.type(find, ' nonsense')
  expect(screen.getByText('No rule has these words.')).toBeTruthy()
})
