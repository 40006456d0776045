// @vitest-environment happy-dom
import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, expect, it } from 'vitest'
import type { Schemas } from '../../api/client'
import { newBrowser, RUNA, Site, settled, show } from '../../testing/site'
import { Rules } from './Rules'

const rule = (key: string, why: string, group: string): Schemas['RuleOut'] => ({
  key,
  value: 5,
  default: 5,
  own: false,
  reason: '',
  unit: 'mm',
  why,
  name: `Name of ${key.split('.')[1]}`,
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
  await show(<Rules />)
  expect(await screen.findByRole('heading', { name: 'Cutting and stripping' })).toBeTruthy()
  expect(screen.getAllByRole('heading', { level: 2 })).toHaveLength(2)
  const find = screen.getByRole('textbox', { name: 'Find' })
  await userEvent.type(find, 'tail parked')
  expect(screen.getAllByRole('heading', { level: 2 }).map((h) => h.textContent)).toEqual([
    'Threading and parking',
  ])
  expect(screen.queryByText('cores left long.')).toBeNull()
  await userEvent.type(find, ' nonsense')
  expect(screen.getByText('No rule has these words.')).toBeTruthy()
})

it('tells before a change what it would alter, and keeps nothing of it', async () => {
  const changes = [{ ref: 'J-7', title: 'Feeder', words: ['Greatest diameter: 30 → 34 mm'] }]
  const site = new Site({
    'GET /rules': { body: { items: RULES, version: 1 } },
    'GET /session': { body: { ...RUNA, role: 'admin' } },
    'POST /rules/cut.tolerance_mm/effect': { body: { open: 12, looked_at: 12, changes } },
  })
  await show(<Rules />)
  await userEvent.click(screen.getAllByRole('button', { name: 'Change' })[0] as HTMLElement)
  const value = screen.getByRole('textbox', { name: 'Value here' })
  await userEvent.clear(value)
  await userEvent.type(value, '8')
  await userEvent.click(screen.getByRole('button', { name: 'What would it alter?' }))
  await settled()
  expect(screen.getByText('1 of 12 open joints would be planned differently:')).toBeTruthy()
  expect(screen.getByRole('link', { name: 'J-7' }).getAttribute('href')).toBe('/joints/J-7/choose')
  expect(site.at('POST', '/rules/cut.tolerance_mm/effect')[0]?.body).toEqual({ value: 8 })
  expect(site.at('PUT', '/rules/cut.tolerance_mm')).toEqual([])
  await userEvent.type(value, '9')
  expect(screen.queryByText(/would be planned differently/)).toBeNull() // that was another value
})

it('an admin says how the site writes its dates', async () => {
  const site = new Site({
    'GET /rules': { body: { items: RULES, version: 1 } },
    'GET /session': { body: { ...RUNA, role: 'admin' } },
    'PUT /site/writing': { body: {} },
  })
  await show(<Rules />)
  await userEvent.selectOptions(screen.getByLabelText('Dates'), 'year-month-day')
  await settled()
  expect(site.at('PUT', '/site/writing')[0]?.body).toEqual({
    unit: 'mm',
    dates: { order: 'year-month-day', hours: 24 },
  })
})
