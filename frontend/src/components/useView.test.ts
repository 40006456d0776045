import { describe, expect, it } from 'vitest'
import { held, pinched } from './useView'

const RANGE = [-200, 200] as const

describe('a drawing under two fingers', () => {
  it('keeps between them what lay between them', () => {
    const view = { zoom: 1, middle: 0 }
    const after = pinched(view, [-20, 60], [-60, 180], 2)
    expect(after.zoom).toBe(3)
    const mm = (v: typeof view, px: number) => v.middle + px / (2 * v.zoom)
    expect(mm(after, 60)).toBeCloseTo(mm(view, 20)) // the middles of both pairs
  })

  it('slides with both, and comes back where they go back', () => {
    const view = { zoom: 2, middle: 30 }
    const there = pinched(view, [0, 100], [40, 140], 1)
    expect(there).toEqual({ zoom: 2, middle: 10 })
    expect(pinched(there, [40, 140], [0, 100], 1)).toEqual(view)
  })

  it('is never smaller than whole, nor beyond its ends', () => {
    expect(held({ zoom: 0.2, middle: 90 }, RANGE)).toEqual({ zoom: 1, middle: 0 })
    expect(held({ zoom: 99, middle: 500 }, RANGE)).toEqual({ zoom: 8, middle: 175 })
    expect(pinched({ zoom: 1, middle: 0 }, [0, 100], [0, 10], 1).zoom).toBe(1)
  })
})
