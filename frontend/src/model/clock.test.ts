import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import type { Schemas } from '../api/client'
import { jointOf } from '../features/board/ScanJoint'
import { lotOf } from '../features/joint/steps/LotPick'
import { asOne, corrected, countdown, learnClock, now, running } from './clock'
import { fails, type Gate, outside } from './gates'

const kept = new Map<string, string>()
beforeEach(() => {
  kept.clear()
  vi.stubGlobal('localStorage', {
    getItem: (k: string) => kept.get(k) ?? null,
    setItem: (k: string, v: string) => kept.set(k, v),
  })
  vi.useFakeTimers({ now: new Date('2026-02-03T09:00:00Z') })
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

test('a clock that is an hour fast is told and put right', () => {
  learnClock('2026-02-03T08:00:00Z')
  expect(new Date(now()).toISOString()).toBe('2026-02-03T08:00:00.000Z')
  expect(corrected('2026-02-03T08:30:00.000Z')).toBe('2026-02-03T07:30:00.000Z')
})

test('the way of a message is no wrong clock', () => {
  learnClock('2026-02-03T09:00:01.500Z')
  expect(now()).toBe(Date.parse('2026-02-03T09:00:00Z'))
})

test('timers run from the step they follow to the step they hold', () => {
  const timer = { id: 't', label: 'cooling', after: 'seal', least_min: 10, most_min: null, unless_gate: '' }
  const steps = [
    { id: 'seal', timers: [] },
    { id: 'cool', timers: [timer] },
  ] as unknown as Schemas['StepOut'][]
  const state = (id: string, s: string) =>
    ({ id, state: s, at: s === 'done' ? '2026-02-03T08:55:00Z' : '' }) as Schemas['StepState']
  expect(running(steps, [state('seal', 'open'), state('cool', 'locked')])).toEqual([])
  const [one] = running(steps, [state('seal', 'done'), state('cool', 'open')])
  expect(one?.readyAt).toBe(Date.parse('2026-02-03T09:05:00Z'))
  expect(one?.lateAt).toBeNull()
  expect(running(steps, [state('seal', 'done'), state('cool', 'done')])).toEqual([])
})

test.each([
  [59_200, '1:00'],
  [43_000, '0:43'],
  [-5, '0:00'],
  [4_800_000, '1 h 20'],
])('%d ms is %s', (ms, text) => expect(countdown(ms)).toBe(text))

test('gates compare as the core does', () => {
  const gate = { least: 1, most: null, target: 46, tolerance: 2 } as Gate
  expect(fails(gate, 1)).toBe(false)
  expect(fails(gate, 0.9)).toBe(true)
  expect(fails(gate, null)).toBe(false)
  expect(outside(gate, 44)).toBe(false)
  expect(outside(gate, 43.9)).toBe(true)
})

test('codes of labels', () => {
  expect(jointOf('https://10.0.0.5:5117/joints/SK-104')).toBe('SK-104')
  expect(jointOf('tinknot:lot:S-28:R11')).toBeNull()
  expect(jointOf('anything')).toBeNull()
  expect(lotOf('tinknot:lot:S-28:R:11')).toEqual({ part: 'S-28', lot: 'R:11' })
  expect(lotOf('https://10.0.0.5/joints/SK-104')).toBeNull()
})

test('clocks of one name are one: the last wait to end, the first use to run out', () => {
  const run = (step: string, label: string, readyAt: number | null, lateAt: number | null) => ({
    step,
    timer: { id: 't', label, after: 'x', least_min: null, most_min: null, unless_gate: '' },
    since: 0,
    readyAt,
    lateAt,
  })
  const all = [
    run('a', 'cooling', 5, null),
    run('b', 'cooling', 9, null),
    run('c', 'sheath clean', null, 7),
    run('d', 'sheath clean', null, 3),
    run('e', 'pot life of pack 1', null, 4),
  ]
  expect(asOne(all).map((r) => r.step)).toEqual(['b', 'd', 'e'])
})
