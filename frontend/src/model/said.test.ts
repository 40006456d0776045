import { describe, expect, test } from 'vitest'
import { said, spoken } from './said'

describe('a sentence with inches on', () => {
  test.each([
    ['c12, cut 42 mm. Slide it back.', 'c12, cut 1.654 in. Slide it back.'],
    ['cut 456 mm', 'cut 17.95 in'],
    ['body 154 × 20 mm, cut to 12 mm', 'body 6.063 × 0.787 in, cut to 0.472 in'],
    ['sheaths of 28 and 27.5 mm', 'sheaths of 1.102 and 1.083 in'],
    ['Barrel 16 mm² takes 10 to 16 mm²', 'Barrel 16 mm² takes 10 to 16 mm²'],
    ['16 mm² carries the fault; 600 mm long', '16 mm² carries the fault; 23.62 in long'],
    ['taps 3.309 mm² from 21.15 mm²', 'taps 12 AWG, 3.309 mm² from 4 AWG, 21.15 mm²'],
  ])('%s', (mm, inch) => {
    expect(said(mm, 'inch')).toBe(inch)
    expect(said(mm, 'mm')).toBe(mm)
  })

  test('a bound is rounded to the safe side', () => {
    expect(said('a sleeve that opens past 30.1 mm and closes under 9.9 mm', 'inch')).toBe(
      'a sleeve that opens past 1.186 in and closes under 0.389 in', // 1.18504 and 0.38976
    )
    expect(said('30.1 mm is the least today', 'inch')).toBe('1.186 in is the least today')
    expect(said('seen, at most 1 mm bare outside', 'inch')).toBe('seen, at most 0.039 in bare outside')
    expect(said('at least 1 mm thick', 'inch')).toBe('at least 0.04 in thick')
  })
})

test('of an answer only what is told is turned, and what is sent back stays', () => {
  const way = {
    id: 'w 10 mm',
    name: 'Sleeve 10 mm',
    why: 'cut 254 mm',
    change: { text: 'at 10 mm' },
    n: 1,
    none: null,
  }
  expect(spoken([way], 'inch')).toEqual([{ ...way, why: 'cut 10 in' }])
  expect(spoken(way, 'mm')).toBe(way)
})
