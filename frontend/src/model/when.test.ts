import { afterEach, expect, it } from 'vitest'
import { day, moment, soon, time, writeDates } from './when'

const AT = new Date(2026, 10, 27, 15, 5)

it('reads day, month, year and 24 hours', () => {
  expect(day(AT)).toBe('27 Nov 2026')
  expect(time(AT)).toBe('15:05')
  expect(time(new Date(2026, 10, 27, 0, 7))).toBe('00:07')
  expect(moment(AT)).toBe('27 Nov 2026, 15:05')
  expect(day('2029-08-31')).toBe('31 Aug 2029')
})

it('keeps what is no date as it was written', () => {
  expect(day('when it is dry')).toBe('when it is dry')
})

afterEach(() => writeDates({ order: 'day-month-year', hours: 24 }))

it('reads as the site writes', () => {
  writeDates({ order: 'month-day-year', hours: 12 })
  expect(moment(AT)).toBe('Nov 27, 2026, 3:05 PM')
  writeDates({ order: 'year-month-day', hours: 24 })
  expect(moment(new Date(2026, 2, 4, 0, 7))).toBe('2026-03-04, 00:07')
})

it('names the day only where it is another one', () => {
  expect(soon(AT, new Date(2026, 10, 27, 8, 0))).toBe('15:05')
  expect(soon(AT, new Date(2026, 10, 25, 8, 0))).toBe('Friday 15:05')
  expect(soon(AT, new Date(2026, 9, 1, 8, 0))).toBe('27 Nov 2026 15:05')
})
