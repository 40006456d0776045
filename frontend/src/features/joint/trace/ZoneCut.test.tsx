// @vitest-environment happy-dom
import { screen } from '@testing-library/react'
import { beforeEach, expect, it } from 'vitest'
import type { Schemas } from '../../../api/client'
import { newBrowser, Site, show } from '../../../testing/site'
import { ZoneCut } from './ZoneCut'

const ZONE: Schemas['ZoneCutOut'] = {
  end: 'A',
  cut_mm: 100,
  node_at_mm: 1050,
  onto_pipe_mm: 100,
  cold_mm: 1050,
  early_mm: 0,
  words: 'Cut 100 mm off.',
  points_mm: [250, 1150],
  pipe_from_mm: 1050,
  opened_mm: 150,
  shown_mm: 1690,
}

beforeEach(() => {
  newBrowser()
  new Site()
})

it('draws and names what is cut off, laid open, stays cold and heats', async () => {
  await show(<ZoneCut zone={ZONE} label="fed" />)
  const drawn = await screen.findByRole('figure', { name: 'Where to cut at A' })
  expect(drawn.textContent).toContain('End A, fed: cut 100 mm off, 1050 mm stay cold')
  expect(drawn.textContent).toContain('pipe, from 1050 mm on')
  const points = [...drawn.querySelectorAll('circle')].map((c) => c.getAttribute('fill'))
  expect(points).toHaveLength(2)
  expect(points[0]).toBe('none') // lies in what is laid open: lost
  expect(points[1]).not.toBe('none')
})

it('says what heats before the pipe', async () => {
  await show(<ZoneCut zone={{ ...ZONE, cold_mm: 600, early_mm: 750 }} label="" />)
  expect((await screen.findByRole('figure')).textContent).toContain('750 mm heat before the pipe')
})

it('draws nothing for a plan of earlier days', async () => {
  await show(
    <>
      <p>drawn</p>
      <ZoneCut zone={{ ...ZONE, shown_mm: 0 }} label="" />
    </>,
  )
  await screen.findByText('drawn')
  expect(screen.queryByRole('figure')).toBeNull()
})
