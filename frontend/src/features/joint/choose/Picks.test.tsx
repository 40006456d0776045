// @vitest-environment happy-dom
import { screen } from '@testing-library/react'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import type { Schemas } from '../../../api/client'
import { Site, show } from '../../../testing/site'
import { Picks } from './Picks'

const offer = (more: Partial<Schemas['OfferOut']>): Schemas['OfferOut'] => ({
  id: 'room',
  name: 'as it lies',
  serves: true,
  reason: '20 °C: handled after 12 h',
  handle_min: null,
  full_min: null,
  ...more,
})

const pick = (offers: Schemas['OfferOut'][], picked: string | null): Schemas['PickOut'] => ({
  layer: 'cure',
  title: 'cure',
  need: 'within 8 h',
  offers,
  picked,
  advice: 'order one',
})

beforeEach(() => {
  new Site()
  vi.useFakeTimers({ shouldAdvanceTime: true, now: new Date(2026, 10, 27, 10, 0) })
})
afterEach(() => vi.useRealTimers())

it('says of each way to cure from when it may be handled and used, were it begun now', async () => {
  const oven = offer({ id: 'oven', name: 'in an oven', handle_min: 60, full_min: 120, reason: '60 °C' })
  const room = offer({ handle_min: 720, full_min: 1440 })
  await show(<Picks picks={[pick([room, oven], 'oven')]} />)
  expect(screen.getByText(/60 °C. Begun now: handled from 11:00, put to use from 12:00/)).toBeTruthy()
  expect(screen.getByText(/handled from 22:00, put to use from Saturday 10:00/)).toBeTruthy()
})

it('says nothing of time where nothing cures, and what to order where nothing serves', async () => {
  await show(<Picks picks={[pick([offer({ serves: false, reason: 'none on hand' })], null)]} />)
  expect(screen.queryByText(/Begun now/)).toBeNull()
  expect(screen.getByText(/Order one/)).toBeTruthy()
  expect(screen.getByText('No cure in stock serves')).toBeTruthy()
})
