/** Sentences with lengths in them, in the unit of the page. They come in mm from the rules; with inches on, every
 *  length in them is told in inches, and a bound is never rounded to the unsafe side; a conductor of an American size
 *  is called by it. */
import { sizeSaid } from './areas'
import { MM_PER_INCH, type Unit } from './units'

const LONG_IN = 10 // from here on a hundredth of an inch tells as much as the mm it was

/** One length, or several that share the sign: "12.5 mm", "40 × 20 mm", "28 and 27.5 mm", "1 to 3 mm". */
const LENGTHS = /(?<![\w.,/])((?:\d+(?:\.\d+)?(?: × | to | and |, | or | ± ))*\d+(?:\.\d+)?) mm(?![²³\w])/g
const AREA = /(?<![\w.,/])(\d+(?:\.\d+)?) mm²/g
const ONE = /\d+(?:\.\d+)?/g
const AT_LEAST = /(?:least|past|over|more than|longer than|needs?|from|above)\W*$/i
const AT_MOST = /(?:most|under|up to|less than|below|within|no wider than)\W*$/i
const LEAST_BEHIND = /^ (?:is the least|or more|at least|needed)/
const MOST_BEHIND = /^ (?:is the most|or less|at most|on hand|left)/

/** Inches of a figure in mm: to the thousandth, a long one to the hundredth; a bound up or down, else the nearest. */
function inches(mm: string, way: 'up' | 'down' | ''): string {
  const value = Number(mm) / MM_PER_INCH
  const steps = value < LONG_IN ? 1000 : 100
  const at = value * steps
  const whole = way === 'up' ? Math.ceil(at - 1e-6) : way === 'down' ? Math.floor(at + 1e-6) : Math.round(at)
  return String(whole / steps)
}

/** A sentence in the unit of the page. */
export function said(text: string, unit: Unit): string {
  if (unit === 'mm' || !text.includes(' mm')) return text
  const sized = text.replace(AREA, (_, area: string) => sizeSaid(Number(area)))
  return sized.replace(LENGTHS, (_, figures: string, at: number) => {
    const before = sized.slice(Math.max(0, at - 24), at)
    const behind = sized.slice(at + figures.length + 3)
    const up = AT_LEAST.test(before) || LEAST_BEHIND.test(behind)
    const down = AT_MOST.test(before) || MOST_BEHIND.test(behind)
    const way = up === down ? '' : up ? 'up' : 'down'
    return `${figures.replace(ONE, (mm) => inches(mm, way))} in`
  })
}

/** What is told, of all that comes with a plan; names of parts, ids and what people typed stay as they are. */
const TOLD = new Set(
  'title text look fails caution why words reason advice seen causes need label setting warnings safety checked decided chosen_together differences mends message why_not'.split(
    ' ',
  ),
)

/** The same answer with its sentences in the unit of the page. */
export function spoken<T>(answer: T, unit: Unit): T {
  return unit === 'mm' ? answer : (walk(answer, '', unit) as T)
}

function walk(value: unknown, key: string, unit: Unit): unknown {
  if (typeof value === 'string') return TOLD.has(key) ? said(value, unit) : value
  if (Array.isArray(value)) return value.map((v) => walk(v, key, unit))
  if (value === null || typeof value !== 'object') return value
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, k === 'change' ? v : walk(v, k, unit)]))
}
