import { describe, expect, test } from 'vitest'
import { diameter, duration, inField, length, limit, readLength } from './units'

describe('what is typed', () => {
  test.each([
    ['5.3', 'mm', 5.3],
    ['5,3', 'mm', 5.3],
    ['.5', 'mm', 0.5],
    ['7/32', 'inch', 5.55625],
    ['1 3/8', 'inch', 34.925],
    ['1-3/8"', 'mm', 34.925],
    ['20 mm', 'inch', 20],
    ['0.5 in', 'mm', 12.7],
    ['2 ft', 'mm', 609.6],
    ["3'", 'inch', 914.4],
    ['1,5 cm', 'inch', 15],
  ] as const)('%s in %s', (text, unit, mm) => {
    const read = readLength(text, unit)
    expect(read.kind).toBe('number')
    if (read.kind === 'number') expect(read.mm).toBeCloseTo(mm, 9)
  })
  test.each(['1 ', '1 3', '1 3/', ','])('%s can still become one', (text) =>
    expect(readLength(text, 'inch').kind).toMatch(/unfinished|number/),
  )
  test.each(['abc', '3/0', '1,2,3', '-4', '5 yd', '5 m'])('%s is none', (text) =>
    expect(readLength(text, 'mm').kind).toBe('no-number'),
  )
  test('nothing is nothing', () => expect(readLength('  ', 'mm').kind).toBe('empty'))
})

describe('what is shown', () => {
  test('limits are rounded to the safe side', () => {
    expect(limit(22.217, 'mm', 'up')).toBe('22.3')
    expect(limit(13.86, 'mm', 'down')).toBe('13.8')
    expect(limit(22.3, 'mm', 'up')).toBe('22.3')
  })
  test('lengths in inch are the nearest sixteenth, reduced and carried', () => {
    expect(length(34.925, 'inch')).toBe('1 3/8')
    expect(length(25.3, 'inch')).toBe('1')
    expect(length(0, 'inch')).toBe('0')
    expect(length(62.04, 'mm')).toBe('62')
  })
  test('diameters and fields', () => {
    expect(diameter(15.4, 'mm')).toBe('15.4')
    expect(diameter(15.4, 'inch')).toBe('0.606')
    expect(inField(null, 'mm')).toBe('')
    expect(duration(70)).toBe('1 h 10')
  })
})
