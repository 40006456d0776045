// @vitest-environment happy-dom
import { act, renderHook } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Schemas } from '../../../api/client'
import { aState, aStep } from '../../../testing/plan'
import type { Work } from '../useWork'
import { useWait } from './guards'

const NOW = Date.parse('2026-12-02T08:00:00Z')
const timer = (least_min: number): Schemas['TimerOut'] => ({
  id: 'flash',
  label: 'flashing off',
  after: 'wipe',
  least_min,
  most_min: null,
  unless_gate: '',
})
const wiped = (after_ms: number) => [
  aState({ id: 'wipe', state: 'done', at: new Date(NOW + after_ms).toISOString() }),
  aState({ id: 'shrink', state: 'open' }),
]

/** The wait of a step whose start is found done at other moments: here at first, then as the server has it. */
function waits(least_min: number) {
  const shrink = aStep({ id: 'shrink', timers: [timer(least_min)] })
  const work = { plan: { steps: [shrink] }, progress: { cures: [] } } as unknown as Work
  return renderHook(({ states }) => useWait(work, states, [shrink], {}), {
    initialProps: { states: wiped(0) },
  })
}

beforeEach(() => void vi.useFakeTimers({ now: NOW }))
afterEach(() => void vi.useRealTimers())

describe('a wait', () => {
  it('of no length holds nobody, though the server writes its start a little later', () => {
    const { result, rerender } = waits(0)
    expect(result.current).toBe(0)
    rerender({ states: wiped(80) })
    expect(result.current).toBe(0)
  })

  it('is measured from now, not from the last second that was drawn', () => {
    const { result, rerender } = waits(0.01)
    expect(result.current).toBe(600)
    vi.setSystemTime(NOW + 590)
    rerender({ states: wiped(0) })
    expect(result.current).toBe(10)
  })

  it('ends when it ends, without a touch', () => {
    const { result } = waits(0.01)
    act(() => void vi.advanceTimersByTime(650))
    expect(result.current).toBe(0)
  })
})
