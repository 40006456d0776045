import { describe, expect, it } from 'vitest'
import { AMERICAN, gauge, kcmil, METRIC, readArea, sizeSaid } from './areas'

describe('conductor sizes', () => {
  it('follows ASTM B258: 36 AWG is 0.005 inch, 4/0 is 0.46 inch', () => {
    expect(gauge(36)).toBeCloseTo((Math.PI / 4) * 0.127 ** 2, 5)
    expect(gauge(-3)).toBeCloseTo((Math.PI / 4) * 11.684 ** 2, 1)
    expect(gauge(12)).toBe(3.309)
    expect(kcmil(250)).toBe(126.7)
  })

  it.each([
    ['2.5', 2.5],
    ['2,5 mm²', 2.5],
    ['16 mm2', 16],
    ['12 AWG', 3.309],
    ['12awg', 3.309],
    ['4/0', 107.2],
    ['1/0 AWG', 53.48],
    ['250 kcmil', 126.7],
    ['500 MCM', 253.4],
    ['5/0', null],
    ['awg', null],
    ['twelve', null],
  ])('reads %s', (typed, mm2) => expect(readArea(typed)).toBe(mm2))

  it('names every size once, rising in size', () => {
    const sizes = AMERICAN.map((s) => s.mm2)
    expect([...sizes].sort((a, b) => a - b)).toEqual(sizes)
    expect(new Set([...sizes, ...METRIC]).size).toBe(sizes.length + METRIC.length)
    expect(sizeSaid(3.309)).toBe('12 AWG, 3.309 mm²')
    expect(sizeSaid(2.5)).toBe('2.5 mm²')
  })
})
