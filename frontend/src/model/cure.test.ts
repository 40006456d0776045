import { describe, expect, it } from 'vitest'
import { cureAt } from './cure'

const at = '2026-11-25T08:00:00+00:00'
const full_at = '2026-11-25T12:00:00+00:00'

describe('degree of cure', () => {
  it('rises evenly from the last reading to full', () => {
    const cure = { at, full_at, fraction: 0.2 }
    expect(cureAt(cure, Date.parse(at))).toBeCloseTo(0.2)
    expect(cureAt(cure, Date.parse('2026-11-25T10:00:00Z'))).toBeCloseTo(0.6)
    expect(cureAt(cure, Date.parse('2026-11-26T10:00:00Z'))).toBe(1)
  })
  it('stands still where it never cures, and never falls', () => {
    expect(cureAt({ at, full_at: null, fraction: 0.3 }, Date.parse(full_at))).toBe(0.3)
    expect(cureAt({ at, full_at, fraction: 0.3 }, Date.parse('2026-11-25T07:00:00Z'))).toBeCloseTo(0.3)
  })
})
