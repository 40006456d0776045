/** Conductor sizes as people name them: mm² (IEC 60228), AWG (ASTM B258) and kcmil. Inside it is mm². */
import { readNumber } from './units'

export const METRIC = [
  0.5, 0.75, 1, 1.5, 2.5, 4, 6, 10, 16, 25, 35, 50, 70, 95, 120, 150, 185, 240, 300,
] as const
const GAUGES = [24, 22, 20, 18, 16, 14, 12, 10, 8, 6, 4, 3, 2, 1, 0, -1, -2, -3] as const // 0 is 1/0, −3 is 4/0
const KCMIL = [250, 300, 350, 400, 500, 600] as const
const MM2_PER_KCMIL = (Math.PI / 4) * 0.0254 ** 2 * 1000

/** mm² of an AWG size: its diameter is 0.127 mm × 92^((36 − n)/39). */
export function gauge(n: number): number {
  return rounded((Math.PI / 4) * (0.127 * 92 ** ((36 - n) / 39)) ** 2)
}

/** mm² of a size in thousands of circular mils. */
export function kcmil(n: number): number {
  return rounded(n * MM2_PER_KCMIL)
}

function rounded(mm2: number): number {
  return Number(mm2.toPrecision(4))
}

function gaugeName(n: number): string {
  return n > 0 ? `${n} AWG` : `${1 - n}/0 AWG`
}

export interface Size {
  mm2: number
  said: string
}

export const AMERICAN: readonly Size[] = [
  ...GAUGES.map((n) => ({ mm2: gauge(n), said: gaugeName(n) })),
  ...KCMIL.map((n) => ({ mm2: kcmil(n), said: `${n} kcmil` })),
]

/** A size as it is called: mm², beside it the American name where it is one. */
export function sizeSaid(mm2: number): string {
  const american = AMERICAN.find((s) => s.mm2 === mm2)
  return american ? `${american.said}, ${mm2} mm²` : `${mm2} mm²`
}

/** mm² of what was typed: 2.5, 2,5 mm², 12 AWG, 4/0, 250 kcmil; null for what is no size. */
export function readArea(text: string): number | null {
  const t = text.trim().toLowerCase().replace(/\s+/g, ' ')
  const zeros = /^([1-4])\/0( ?awg)?$/.exec(t)
  if (zeros) return gauge(1 - Number(zeros[1]))
  const named = /^(\d+) ?(awg|kcmil|mcm)$/.exec(t)
  if (named) return named[2] === 'awg' ? gauge(Number(named[1])) : kcmil(Number(named[1]))
  return readNumber(t.replace(/ ?(mm²|mm2|mm\^2)$/, ''))
}
