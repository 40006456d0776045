/** Dates and times as they are read here: day, month, year, and 24 hours; alike on every page. */

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })
const TIME = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' })
const WEEKDAY = new Intl.DateTimeFormat('en-GB', { weekday: 'long' })

type Moment = string | number | Date

/** 27 Nov 2026; what is no date stays as it is written. */
export function day(at: Moment): string {
  const found = new Date(at)
  return Number.isNaN(found.getTime()) ? String(at) : DAY.format(found)
}

/** 15:45. */
export function time(at: Moment): string {
  return TIME.format(new Date(at))
}

/** 27 Nov 2026, 15:45. */
export function moment(at: Moment): string {
  return `${day(at)}, ${time(at)}`
}

/** The time, with the day in front where it is not today. */
export function soon(at: Moment, now: Date): string {
  const then = new Date(at)
  if (then.toDateString() === now.toDateString()) return time(then)
  const days = Math.abs(then.getTime() - now.getTime()) / 86_400_000
  return `${days < 7 ? WEEKDAY.format(then) : day(then)} ${time(then)}`
}
