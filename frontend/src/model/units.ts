/** Lengths as people read and type them. Everything inside the application is in millimetres. */

export type Unit = 'mm' | 'inch'

export const MM_PER_INCH = 25.4
const SIXTEENTHS = 16
const SIGNS: Record<string, number> = { mm: 1, cm: 10, ft: 304.8, "'": 304.8, '′': 304.8 } // else inches

/** What has been typed: a number, something that can still become one, or nothing of the kind. */
export type Typed =
  | { kind: 'empty' }
  | { kind: 'number'; mm: number }
  | { kind: 'unfinished' }
  | { kind: 'no-number' }

const DECIMAL = /^(\d+(?:[.,]\d*)?|[.,]\d+)$/
const FRACTION = /^(?:(\d+)[ -]+)?(\d+)\/(\d+)$/
const UNFINISHED = /^(\d+[.,]?|[.,]|\d+[ -]+\d*|(\d+[ -]+)?\d+\/)$/

/** Read what was typed in `unit`; a unit typed with it (`mm`, `cm`, `in`, `"`, `ft`, `'`) wins. Comma and point both work. */
export function readLength(text: string, unit: Unit): Typed {
  const trimmed = text.trim().toLowerCase()
  if (trimmed === '') return { kind: 'empty' }
  const said = /\s*(mm|cm|inch|in|"|″|ft|'|′)$/.exec(trimmed)
  const body = said ? trimmed.slice(0, said.index) : trimmed
  const factor = SIGNS[said?.[1] ?? unit] ?? MM_PER_INCH
  const fraction = FRACTION.exec(body)
  if (fraction) {
    const under = Number(fraction[3])
    if (under === 0) return { kind: 'no-number' }
    return { kind: 'number', mm: (Number(fraction[1] ?? 0) + Number(fraction[2]) / under) * factor }
  }
  if (DECIMAL.test(body)) return { kind: 'number', mm: Number(body.replace(',', '.')) * factor }
  return UNFINISHED.test(body) ? { kind: 'unfinished' } : { kind: 'no-number' }
}

function trimmed(value: number, digits: number): string {
  return value.toFixed(digits).replace(/\.?0+$/, '') || '0'
}

/** A diameter: mm to the hundredth, inch to the thousandth. */
export function diameter(mm: number, unit: Unit): string {
  return unit === 'mm' ? trimmed(mm, 2) : trimmed(mm / MM_PER_INCH, 3)
}

/** A limit that must be opened past or closed under, rounded to the safe side: one tenth mm, a hundredth inch. */
export function limit(mm: number, unit: Unit, side: 'up' | 'down'): string {
  const step = unit === 'mm' ? 10 : 100
  const value = (unit === 'mm' ? mm : mm / MM_PER_INCH) * step
  const rounded = side === 'up' ? Math.ceil(value - 1e-6) : Math.floor(value + 1e-6)
  return (rounded / step).toFixed(unit === 'mm' ? 1 : 2)
}

/** A length to cut or lay along a tape: mm to the tenth, inch to the nearest sixteenth. */
export function length(mm: number, unit: Unit): string {
  if (unit === 'mm') return trimmed(mm, 1)
  const sixteenths = Math.floor((mm / MM_PER_INCH) * SIXTEENTHS + 0.5)
  const whole = Math.floor(sixteenths / SIXTEENTHS)
  let over = sixteenths % SIXTEENTHS
  let under = SIXTEENTHS
  while (over > 0 && over % 2 === 0) {
    over /= 2
    under /= 2
  }
  const fraction = over ? `${over}/${under}` : ''
  return [whole || !over ? String(whole) : '', fraction].filter(Boolean).join(' ')
}

/** The unit's short sign behind a figure. */
export function sign(unit: Unit): string {
  return unit === 'mm' ? 'mm' : 'in'
}

/** A number in a field: as precise as it was typed. */
export function inField(mm: number | null | undefined, unit: Unit): string {
  if (mm === null || mm === undefined) return ''
  return unit === 'mm' ? trimmed(mm, 4) : trimmed(mm / MM_PER_INCH, 4)
}

/** "28 → 9" with the diameters of a sleeve. */
export function sleeveName(expanded: number, recovered: number, unit: Unit): string {
  return `${diameter(expanded, unit)} → ${diameter(recovered, unit)}`
}

/** Minutes as hours and minutes. */
export function duration(minutes: number): string {
  const whole = Math.round(minutes)
  const hours = Math.floor(whole / 60)
  return hours ? `${hours} h ${String(whole % 60).padStart(2, '0')}` : `${whole} min`
}

/** A plain number as it is typed, with comma or point; null for what is none. */
export function readNumber(text: string): number | null {
  const t = text.trim()
  return /^-?(\d+([.,]\d*)?|[.,]\d+)$/.test(t) ? Number(t.replace(',', '.')) : null
}

/** A figure with so many telling digits, never as a power of ten. */
export function figure(value: number, digits = 6): string {
  return value.toLocaleString('en', { useGrouping: false, maximumSignificantDigits: digits })
}
