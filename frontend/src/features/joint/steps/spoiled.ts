/** Pictures of what not to accept: the joint's own section with one part as it looks when it went wrong. */
import { type Body, hollow, type Section } from '../../../components/section'

type Points = Body['top']
const STANDS_OFF_MM = 3
/** Covers that are not drawn cut open. */
const OVER_ALL = ['strap', 'clamp', 'resin']

const xs = (b: Body) => b.top.map((p) => p[0] ?? 0)
const from = (b: Body) => Math.min(...xs(b))
const to = (b: Body) => Math.max(...xs(b))

function moved(points: Points, by: (x: number, y: number) => [number, number]): Points {
  return points.map((p) => by(p[0] ?? 0, p[1] ?? 0))
}

/** A conductor that does not reach the stop: pulled back by half of what lies in the barrel. */
function pulledBack(b: Body, stop: number): Body {
  const towardA = Math.abs(to(b) - stop) < Math.abs(from(b) - stop)
  const by = (towardA ? -0.5 : 0.5) * (to(b) - from(b))
  const edge = towardA ? to(b) + by : from(b) + by
  const cut = (x: number, y: number): [number, number] => [towardA ? Math.min(x, edge) : Math.max(x, edge), y]
  return { ...b, top: moved(b.top, cut), bottom: moved(b.bottom, cut) }
}

/** A sleeve slid aside, so that one end of what it must cover lies bare. */
function slidAside(b: Body): Body {
  const by = 0.35 * (to(b) - from(b))
  const slide = (x: number, y: number): [number, number] => [x - by, y]
  return { ...b, top: moved(b.top, slide), bottom: moved(b.bottom, slide) }
}

/** A sleeve whose one end stands off the sheath: never shrunk there, no bead. Its body is the upper wall. */
function standsOff(b: Body): Body {
  const end = to(b) - 0.18 * (to(b) - from(b))
  const lift = (x: number, y: number): [number, number] => [x, x < end ? y : y + STANDS_OFF_MM]
  return { ...b, dry: true, top: moved(b.top, lift), bottom: moved(b.bottom, lift) }
}

export interface Pictured {
  good: Section
  bad: Section
  range: [number, number]
}

/** Good and bad of what `layers` hold, or nothing where there is nothing to draw. */
export function pictured(section: Section, kind: string, layers: Set<string>): Pictured | null {
  const mine = section.bodies.filter((b) => b.kind === kind && (!layers.size || layers.has(b.layer)))
  if (!mine.length) return null
  const spoil = (b: Body): Body => {
    if (kind === 'connector') {
      const barrel = mine.find((m) => m.core === b.core)
      return b.kind === 'conductor' && barrel ? pulledBack(b, (from(barrel) + to(barrel)) / 2) : b
    }
    if (b.kind !== kind || !mine.includes(b)) return b
    return hollow(kind) ? standsOff(b) : slidAside(b)
  }
  const range: [number, number] = hollow(kind)
    ? [to(mine[0] as Body) - 75, to(mine[0] as Body) + 25]
    : [Math.min(...mine.map(from)) - 20, Math.max(...mine.map(to)) + 20]
  const over = (b: Body) =>
    (hollow(b.kind) || OVER_ALL.includes(b.kind)) && (!hollow(kind) || b.depth_mm > (mine[0]?.depth_mm ?? 0))
  const hidden = kind === 'connector' ? ['core-sleeve', 'core-tape', 'mica'] : []
  const good = { ...section, bodies: section.bodies.filter((b) => !over(b) && !hidden.includes(b.kind)) }
  return { good, bad: { ...good, bodies: good.bodies.map(spoil) }, range }
}
