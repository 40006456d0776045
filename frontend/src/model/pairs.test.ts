import { describe, expect, it } from 'vitest'
import { pairsText, readPairs } from './pairs'

const names: [string, string] = ['temperature_c', 'minutes']

describe('pairs of a data sheet', () => {
  it('are read with point or comma and written back', () => {
    const read = readPairs('5 = 70, 20,5=25', names)
    expect(read).toEqual([
      { temperature_c: 5, minutes: 70 },
      { temperature_c: 20.5, minutes: 25 },
    ])
    expect(pairsText(read, names)).toBe('5 = 70, 20.5 = 25')
  })
  it('have as many numbers as they have names', () => {
    const three = ['expanded_id_mm', 'recovered_id_mm', 'straight_mm']
    const read = readPairs('40 = 18 = 30, 20=8=25', three)
    expect(read[1]).toEqual({ expanded_id_mm: 20, recovered_id_mm: 8, straight_mm: 25 })
    expect(pairsText(read, three)).toBe('40 = 18 = 30, 20 = 8 = 25')
    expect(readPairs('40 = 18', three)[0]?.straight_mm).toBeNaN()
  })
  it('keep a fault for the server to name', () => {
    expect(readPairs('5 = soon', names)[0]?.minutes).toBeNaN()
    expect(readPairs('', names)).toEqual([])
  })
})
