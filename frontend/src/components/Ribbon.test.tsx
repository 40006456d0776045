// @vitest-environment happy-dom
import { screen } from '@testing-library/react'
import { beforeEach, expect, it, vi } from 'vitest'
import { Site, show } from '../testing/site'
import { Ribbon } from './Ribbon'
import type { Body, Section } from './section'

const body = (id: string, kind: string, end: string, top: [number, number][], bottom: [number, number][]) =>
  ({ id, kind, layer: '', end, core: '', colour: '', depth_mm: 0, top, bottom }) as Body

const at = (a: number, b: number, c: number, d: number): [number, number][] => [
  [a, b],
  [c, d],
]

/** A fitting, and a cable that leaves it upward. */
const TURNED: Section = {
  from_mm: -30,
  to_mm: 90,
  bodies: [
    body('fitting', 'fitting', '', at(-30, 13, 0, 13), at(-30, -13, 0, -13)),
    body('cable', 'sheath', 'A', at(24, 6, 24, 100), at(36, -6, 36, 100)),
  ],
  crossings: [{ from_mm: -30, to_mm: 0, outside_mm: 26, circles: [] }],
  dimensions: [{ kind: 'covered', from_mm: 0, to_mm: 78, value_mm: 78, layer: '', label: 'part' }],
  looks: {
    fitting: {
      material: 'metal',
      form: 'solid',
      said: 'fitting',
      role: 'cable',
      see_through: 1,
      sealed: false,
    },
    sheath: {
      material: 'sheath',
      form: 'solid',
      said: 'sheath',
      role: 'cable',
      see_through: 1,
      sealed: false,
    },
  },
}

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

const drawn = () => document.querySelector('svg')

it('shows all of what turns off to one side, and how thick it is there', async () => {
  await show(<Ribbon section={TURNED} labels={{ A: 'pump', B: '' }} />)
  expect(screen.getByText('⌀ 12')).toBeTruthy()
  expect(screen.getByText('⌀ 26')).toBeTruthy()
  expect(screen.getByText('A · pump')).toBeTruthy()
  const paths = [...(drawn()?.querySelectorAll('path[d$="Z"]') ?? [])].map((p) => p.getAttribute('d') ?? '')
  const ys = paths.flatMap((d) => [...d.matchAll(/[ML][-\d.]+ ([-\d.]+)/g)].map((m) => Number(m[1])))
  expect(Math.min(...ys)).toBeGreaterThan(0)
  expect(Math.max(...ys)).toBeLessThan(236)
})

it('draws the way of the gun from where it starts to where it goes', async () => {
  const way = [[0, 20], ...at(30, 20, 30, 80)]
  await show(<Ribbon section={TURNED} labels={{ A: '', B: '' }} routes={[way]} />)
  const route = drawn()?.querySelector('.route')
  expect(route?.querySelector('circle')).toBeTruthy()
  expect(route?.querySelector('[transform]')?.getAttribute('transform')).toContain('rotate(-90)')
})
