/** Pictures of what not to accept: the joint's own section with one part as it looks when it went wrong. */
import { type Body, lookOf, type Section } from '../../../components/section'

type Points = Body['top']
const STANDS_OFF_MM = 3

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

const NOTCH = 0.35 // of its thickness

/** A screen nicked in its middle: strands cut away. */
function nicked(b: Body): Body {
  const [a, z] = [from(b), to(b)]
  const [y, low] = [Math.max(...b.top.map((p) => p[1] ?? 0)), Math.min(...b.bottom.map((p) => p[1] ?? 0))]
  const deep = y - NOTCH * (y - low)
  const at = (share: number) => a + share * (z - a)
  const top: Points = [
    [a, y],
    [at(0.42), y],
    [at(0.46), deep],
    [at(0.54), deep],
    [at(0.58), y],
    [z, y],
  ]
  return { ...b, top }
}

const WOVEN = ['braid', 'mica'] // braid and foil lie loose: they gape, they do not stand off

export interface Pictured {
  good: Section
  bad: Section
  range: [number, number]
}

/** Good and bad of what a step looks at: the bodies of its own layers, or all of one role; nothing where there is
 *  nothing to draw. */
export function pictured(section: Section, shown: string, layers: Set<string>): Pictured | null {
  const look = (b: Body) => lookOf(section.looks, b.kind)
  const mine = section.bodies.filter((b) =>
    shown === 'own' ? layers.has(b.layer) && look(b).form !== 'solid' : look(b).role === shown,
  )
  const first = mine[0]
  if (!first) return null
  const hollow = look(first).form === 'hollow' && !WOVEN.includes(look(first).material)
  const spoil = (b: Body): Body => {
    if (shown === 'connector') {
      const barrel = mine.find((m) => m.core === b.core)
      return look(b).role === 'conductor' && barrel ? pulledBack(b, (from(barrel) + to(barrel)) / 2) : b
    }
    if (!mine.includes(b)) return b
    if (shown === 'screen') return nicked(b)
    return hollow ? standsOff(b) : slidAside(b)
  }
  const range: [number, number] = hollow
    ? [to(first) - 75, to(first) + 25]
    : [Math.min(...mine.map(from)) - 20, Math.max(...mine.map(to)) + 20]
  const over = (b: Body) =>
    !mine.includes(b) &&
    ['hollow', 'band', 'veil'].includes(look(b).form) &&
    (!hollow || b.depth_mm > first.depth_mm)
  const hidden = (b: Body) => shown === 'connector' && look(b).role === 'core-cover'
  const good = { ...section, bodies: section.bodies.filter((b) => !over(b) && !hidden(b)) }
  return { good, bad: { ...good, bodies: good.bodies.map(spoil) }, range }
}
