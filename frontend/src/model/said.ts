/** Sentences in the unit of the page. They come in mm from the rules, with every figure in them as data beside; with
 *  inches on, lengths are told in inches, and a bound is never rounded to the unsafe side; a conductor of an American
 *  size is called by it. */
import type { Schemas } from '../api/client'
import { sizeSaid } from './areas'
import { MM_PER_INCH, type Unit } from './units'

export type Figure = Schemas['FigureOut']
/** A sentence: plain words, or one that came with its figures. */
export type Said = string | { message: string; figures?: Figure[] }

const LONG_IN = 10 // from here on a hundredth of an inch tells as much as the mm it was
const SIGN = { mm: ' mm', 'mm²': ' mm²' } as const

/** Inches of a figure in mm: to the thousandth, a long one to the hundredth; a bound up or down, else the nearest. */
function inches(mm: number, bound: string): string {
  const value = mm / MM_PER_INCH
  const steps = value < LONG_IN ? 1000 : 100
  const at = value * steps
  const whole =
    bound === 'least' ? Math.ceil(at - 1e-6) : bound === 'most' ? Math.floor(at + 1e-6) : Math.round(at)
  return String(whole / steps)
}

/** A sentence with its figures in inches; the sign stands behind the last of several. */
function inInches(text: string, figures: readonly Figure[]): string {
  let out = ''
  let end = 0
  for (const f of figures) {
    const at = text.startsWith(f.said, f.at) ? f.at : text.indexOf(f.said, end) // signs before it count double here
    if (at < end) continue
    const behind = at + f.said.length
    const signed = f.unit in SIGN && text.startsWith(SIGN[f.unit as keyof typeof SIGN], behind)
    if (f.unit === 'mm') {
      out += `${text.slice(end, at)}${inches(f.value, f.bound)}${signed ? ' in' : ''}`
      end = behind + (signed ? SIGN.mm.length : 0)
    } else if (f.unit === 'mm²' && signed) {
      out += text.slice(end, at) + sizeSaid(f.value)
      end = behind + SIGN['mm²'].length
    }
  }
  return out + text.slice(end)
}

/** A sentence in the unit of the page. */
export function said(told: Said, unit: Unit): string {
  const { message, figures = [] } = typeof told === 'string' ? { message: told } : told
  return unit === 'mm' || !figures.length ? message : inInches(message, figures)
}

/** The same answer with its sentences in the unit of the page; names of parts, ids and what people typed stay. */
export function spoken<T>(answer: T, unit: Unit): T {
  return unit === 'mm' ? answer : (walk(answer) as T)
}

function walk(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(walk)
  if (value === null || typeof value !== 'object') return value
  const { figures } = value as { figures?: Figure[] }
  const own = (of: string) => figures?.filter((f) => f.of === of) ?? []
  const told = (v: unknown, key: string) => {
    if (key === 'change' || key === 'figures') return v
    if (typeof v === 'string') return figures?.length ? inInches(v, own(key)) : v
    if (Array.isArray(v) && figures?.length)
      return v.map((x, n) => (typeof x === 'string' ? inInches(x, own(`${key}/${n}`)) : walk(x)))
    return walk(v)
  }
  const found = Object.fromEntries(Object.entries(value).map(([k, v]) => [k, told(v, k)]))
  return figures?.length ? { ...found, figures: [] } : found
}
