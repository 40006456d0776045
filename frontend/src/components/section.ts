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
  green: '#3f7d46',
  pink: '#d08fa0',
  violet: '#6d4c86',
  turquoise: '#469696',
}

export type Look = Schemas['Appearance']

/** What a material is painted with; the core says what everything is made of. */
const MATERIALS: Record<string, string> = {
  sheath: 'var(--sheath)',
  bedding: 'var(--bedding)',
  strand: 'var(--copper)',
  'grey-strand': 'var(--metal)',
  copper: 'var(--copper)',
  metal: 'var(--metal)',
  'dark-metal': 'var(--metal-dark)',
  armour: 'var(--metal)',
  braid: 'var(--metal)',
  sleeve: 'var(--sleeve)',
  barrier: 'var(--barrier)',
  tape: 'var(--tape)',
  mica: 'var(--mica)',
  shell: 'var(--shell)',
  resin: 'var(--resin)',
  matrix: 'var(--matrix)',
  overlay: 'var(--overlay)',
}

/** The same with its texture, where a drawing has room for one. */
const TEXTURES: Record<string, string> = {
  sheath: 'url(#rb-sheath)',
  strand: 'url(#rb-strand)',
  'grey-strand': 'url(#rb-grey-strand)',
  metal: 'url(#rb-metal)',
  armour: 'url(#rb-armour)',
  braid: 'url(#rb-armour)',
}

const PLAIN: Look = { material: 'metal', form: 'solid', said: '', role: '', see_through: 1, sealed: false }

/** How a kind is drawn; plainly where an answer kept from an earlier version does not say. */
export function lookOf(looks: Record<string, Look> | undefined, kind: string): Look {
  return looks?.[kind] ?? PLAIN
}

export function paintOf(look: Look, colour = ''): string {
  return look.material === 'core' ? coreColour(colour) : (MATERIALS[look.material] ?? 'var(--metal)')
}

export function textureOf(look: Look, colour = ''): string {
  return TEXTURES[look.material] ?? paintOf(look, colour)
}

/** The paint of a core's insulation; green-yellow is hatched in both colours. */
export function coreColour(colour: string): string {
  if (colour === 'green-yellow') return 'url(#rb-gy)'
  return CORES[colour] ?? CORES[colour.split('-')[0] ?? ''] ?? '#8a8f86' // of two colours the first
}

export function light(colour: string): boolean {
  return (
    colour === 'green-yellow' || ['white', 'yellow', 'grey', 'pink', ''].includes(colour.split('-')[0] ?? '')
  )
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
