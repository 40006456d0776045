/** Which figures a part of each kind has, and what they are called. */
import type { Kind } from './kinds'

type Lengths = [key: string, label: string, hint?: string][]
type Numbers = [key: string, label: string, unit: string, hint?: string][]
type Choices = [key: string, label: string, options: string[]][]
type Pairs = [key: string, label: string, names: [string, string], hint: string][]

const TAPE: Lengths = [
  ['width_mm', 'Width, relaxed'],
  ['thickness_mm', 'Thickness, relaxed'],
  ['roll_mm', 'Length of a roll'],
]
const WOUND: Numbers = [
  ['stretch', 'Stretched to', '× its length', '1 where it is not stretched'],
  ['overlap_pct', 'Overlap', '%', '50 is half-lapped'],
  ['price_each', 'Price', 'a roll'],
]

export const LENGTHS: Record<Kind, Lengths> = {
  sleeve: [
    ['expanded_id_mm', 'Inside as supplied, at least'],
    ['recovered_id_mm', 'Inside when free, at most'],
    ['recovered_wall_mm', 'Wall when free'],
    ['stock_length_mm', 'Length of a piece', 'Empty for a reel'],
  ],
  connector: [
    ['od_mm', 'Outside diameter'],
    ['length_mm', 'Length'],
    ['insertion_mm', 'Insertion depth, each side'],
    ['growth_mm', 'Grows when crimped, each side'],
  ],
  tape: TAPE,
  mesh: TAPE,
  shell: [
    ['body_length_mm', 'Length of its body'],
    ['body_inside_mm', 'Inside of its body'],
    ['wall_mm', 'Wall'],
  ],
  resin: [],
  strap: [
    ['length_mm', 'Length'],
    ['width_mm', 'Width'],
    ['thickness_mm', 'Thickness'],
  ],
  clamp: [
    ['od_least_mm', 'Holds from'],
    ['od_most_mm', 'Holds up to'],
    ['thickness_mm', 'Thickness all round'],
    ['width_mm', 'Width'],
  ],
  kit: [],
}
export const NUMBERS: Record<Kind, Numbers> = {
  sleeve: [
    ['longitudinal_change_pct', 'Length change when free', '%', 'Minus when it gets shorter'],
    ['voltage_v', 'Rated voltage', 'V'],
    ['shrink_c', 'Shrinks from', '°C'],
    ['scorch_c', 'Scorches at', '°C'],
    ['price_per_m', 'Price', 'per m'],
  ],
  connector: [
    ['area_least_mm2', 'Takes from', 'mm²'],
    ['area_most_mm2', 'Takes to', 'mm²'],
    ['tap_area_least_mm2', 'Tap from', 'mm²', 'Piercing connectors'],
    ['tap_area_most_mm2', 'Tap to', 'mm²'],
    ['presses', 'Presses, each side', ''],
    ['bolts', 'Bolts, each side', ''],
    ['torque_least_nm', 'Torque from', 'N·m', 'Empty for shear heads'],
    ['torque_most_nm', 'Torque to', 'N·m'],
    ['price_each', 'Price', 'each'],
  ],
  tape: WOUND,
  mesh: WOUND,
  shell: [['price_each', 'Price', 'each']],
  resin: [
    ['volume_ml', 'A pack holds', 'ml'],
    ['least_temperature_c', 'Lowest temperature', '°C'],
    ['mix_minutes', 'Mixing takes', 'min'],
    ['price_each', 'Price', 'a pack'],
  ],
  strap: [
    ['area_mm2', 'Section', 'mm²'],
    ['price_each', 'Price', 'each'],
  ],
  clamp: [['price_each', 'Price', 'each']],
  kit: [['price_each', 'Price', 'a box']],
}
export const CHOICES: Record<Kind, Choices> = {
  sleeve: [['form', 'Form', ['tube', 'wrap-around', 'barrier', 'cap']]],
  connector: [['kind', 'Kind', ['crimp', 'mechanical', 'soldered', 'piercing', 'earthing']]],
  tape: [['kind', 'Kind', ['self-amalgamating', 'mastic', 'mica']]],
  mesh: [],
  shell: [['form', 'Form', ['split', 'tube']]],
  resin: [],
  strap: [],
  clamp: [['kind', 'Kind', ['spring', 'clamp']]],
  kit: [],
}
const TIMES: [string, string] = ['temperature_c', 'minutes']
export const PAIRS: Record<Kind, Pairs> = {
  sleeve: [],
  connector: [],
  tape: [],
  mesh: [],
  strap: [],
  clamp: [],
  kit: [],
  shell: [
    [
      'stages',
      'Stages of an end, tip first',
      ['length_mm', 'inside_diameter_mm'],
      'mm long = mm inside: 25 = 18, 30 = 26',
    ],
  ],
  resin: [
    ['pot_life', 'Pot life', TIMES, '°C = minutes: 5 = 70, 20 = 25'],
    ['cure', 'Full cure', TIMES, '°C = minutes: 5 = 1440, 20 = 300'],
  ],
}

/** Sleeves are stored in mm and counted in metres; everything else as it is counted. */
export const scaleOf = (kind: string): number => (kind === 'sleeve' ? 1000 : 1)

/** What a kind is counted in, on this page and in lists. */
export const unitOf = (kind: string): string =>
  kind === 'sleeve' ? 'm' : kind === 'tape' || kind === 'mesh' ? 'rolls' : 'pieces'

/** A counted quantity as it is stored, to a thousandth of a millimetre. */
export const stored = (kind: string, counted: number): number =>
  Math.round(counted * scaleOf(kind) * 1000) / 1000

/** The first lot of a new part; null where nothing of one was typed. */
export function firstLot(kind: string, name: string, quantity: number | null, useBy: string) {
  if (!name.trim() && quantity === null && !useBy) return null
  return {
    name: name.trim() || undefined,
    quantity: stored(kind, quantity ?? 0),
    use_by: useBy || null,
  }
}

export function readWords(words: unknown[]): string[] {
  return words.map((w) => String(w).trim()).filter(Boolean)
}
