/** Dates and times as the site writes them, alike on every page: day, month, year and 24 hours until it says otherwise. */

export interface Dates {
  order?: 'day-month-year' | 'month-day-year' | 'year-month-day' | null
  hours?: 24 | 12 | null
}

type Moment = string | number | Date

const LOCALES = { 'day-month-year': 'en-GB', 'month-day-year': 'en-US', 'year-month-day': 'sv-SE' } as const
const WEEKDAY = new Intl.DateTimeFormat('en-GB', { weekday: 'long' })

function formsOf(dates: Dates) {
  const order = dates.order ?? 'day-month-year'
  const hours = dates.hours ?? 24
  const month = order === 'year-month-day' ? '2-digit' : 'short'
  return {
    day: new Intl.DateTimeFormat(LOCALES[order], {
      day: order === 'year-month-day' ? '2-digit' : 'numeric',
      month,
      year: 'numeric',
    }),
    time: new Intl.DateTimeFormat(
      hours === 24 ? 'en-GB' : 'en-US',
      hours === 24
        ? { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' }
        : { hour: 'numeric', minute: '2-digit', hour12: true },
    ),
  }
}

let forms = formsOf({})

/** From now on every date and time is written like this: what the site says, known before any page is drawn. */
export function writeDates(dates: Dates): void {
  forms = formsOf(dates)
}

/** 27 Nov 2026; what is no date stays as it is written. */
export function day(at: Moment): string {
  const found = new Date(at)
  return Number.isNaN(found.getTime()) ? String(at) : forms.day.format(found)
}

/** 15:45. */
export function time(at: Moment): string {
  return forms.time.format(new Date(at))
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
