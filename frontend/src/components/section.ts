/** What a section is made of, and how its parts look. No geometry is made here; the core sends it. */
import type { Schemas } from '../api/client'

export type Section = Omit<Schemas['Section'], 'bodies'> & { bodies: Body[] }
/** `dry`: an outer sleeve drawn without adhesive at its far end, in a picture of what not to accept. */
export type Body = Schemas['Body'] & { dry?: boolean }
export type Crossing = Schemas['CrossSection']

const CORES: Record<string, string> = {
  brown: '#7c4a2e',
  black: '#2b2d30',
  grey: '#8b9398',
  blue: '#33699c',
  red: '#9c352c',
  white: '#d9dad4',
  yellow: '#c9a83a',
  orange: '#c0692b',
}

/** Covers drawn cut open: an upper wall that is mirrored below. */
const HOLLOW = [
  'outer-sleeve',
  'inner-sleeve',
  'end-piece',
  'barrier',
  'shell',
  'mesh',
  'mastic',
  'build-up',
  'trace-tube',
  'moulded',
  'sealant',
]

export function hollow(kind: string): boolean {
  return HOLLOW.includes(kind)
}

/** What a layer is painted with and called, by its kind. */
const LAYERS: Record<string, [paint: string, name: string]> = {
  sheath: ['var(--sheath)', 'sheath'],
  bedding: ['var(--bedding)', 'bedding'],
  armour: ['var(--metal)', 'armour'],
  conductor: ['var(--copper)', 'conductor'],
  connector: ['var(--metal)', 'connector'],
  'core-sleeve': ['var(--sleeve)', 'core sleeve'],
  'core-tape': ['var(--tape)', 'core tape'],
  mica: ['var(--mica)', 'mica'],
  mastic: ['var(--tape)', 'mastic'],
  'build-up': ['var(--tape)', 'tape on the sheath'],
  'inner-sleeve': ['var(--sleeve)', 'inner sleeve'],
  'end-piece': ['var(--sleeve)', 'end piece'],
  'outer-sleeve': ['var(--sleeve)', 'outer sleeve'],
  'end-cap': ['var(--sleeve)', 'end cap'],
  barrier: ['var(--barrier)', 'fire barrier'],
  strap: ['var(--copper)', 'earth strap'],
  mesh: ['var(--metal)', 'mesh'],
  clamp: ['var(--metal-dark)', 'clamp'],
  shell: ['var(--shell)', 'shell'],
  resin: ['var(--resin)', 'resin'],
  'outer-jacket': ['var(--sheath)', 'outer jacket'],
  braid: ['var(--metal)', 'braid'],
  'inner-jacket': ['var(--bedding)', 'inner jacket'],
  matrix: ['var(--matrix)', 'matrix'],
  overlay: ['var(--overlay)', 'overlay'],
  bus: ['var(--copper)', 'bus wires'],
  'trace-tube': ['var(--sleeve)', 'shrink tube'],
  'trace-tape': ['var(--tape)', 'tape'],
  moulded: ['var(--shell)', 'moulded part'],
  sealant: ['var(--resin)', 'sealant'],
}

export function paintOf(kind: string, colour: string): string {
  return LAYERS[kind]?.[0] ?? coreColour(colour)
}

export function nameOf(kind: string): string {
  return LAYERS[kind]?.[1] ?? kind
}

/** The paint of a core's insulation; green-yellow is hatched in both colours. */
export function coreColour(colour: string): string {
  if (colour === 'green-yellow') return 'url(#rb-gy)'
  return CORES[colour] ?? '#8a8f86'
}

export function light(colour: string): boolean {
  return ['white', 'yellow', 'green-yellow', 'grey', ''].includes(colour)
}

export function path(
  points: readonly (readonly number[])[],
  x: (v: number) => number,
  y: (v: number) => number,
): string {
  return points
    .map((p, i) => `${i ? 'L' : 'M'}${x(p[0] ?? 0).toFixed(2)} ${y(p[1] ?? 0).toFixed(2)}`)
    .join('')
}

export function outline(body: Body, x: (v: number) => number, y: (v: number) => number): string {
  return `${path([...body.top, ...[...body.bottom].reverse()], x, y)}Z`
}

export function crossingAt(section: Section, x: number): Crossing | undefined {
  return section.crossings.find((c) => c.from_mm <= x && x <= c.to_mm)
}

/** Whether it is flat cable: then a width is read, not a diameter. */
export function isFlat(section: Section): boolean {
  return section.crossings.some((c) => c.circles.some((o) => o.thickness_mm !== null))
}

/** The upper edge of what lies outermost at x, for the diameter read-out. */
export function outsideAt(section: Section, x: number): number {
  return crossingAt(section, x)?.outside_mm ?? 0
}
