/** One body of the ribbon: solid, seen through, or a cover cut open. */
import { type Body, coreColour, hollow, outline, paintOf, path } from './section'

export interface ShapeProps {
  body: Body
  x: (v: number) => number
  y: (v: number) => number
  low: number
  high: number
  state: 'there' | 'to come'
  lit: boolean
  /** Leave out what is still to come. */
  quiet: boolean
  onLayer?: (layer: string) => void
}

function fill(body: Body): string {
  switch (body.kind) {
    case 'sheath':
      return 'url(#rb-sheath)'
    case 'insulation':
      return coreColour(body.colour)
    case 'conductor':
      return 'url(#rb-strand)'
    case 'connector':
      return 'url(#rb-metal)'
    case 'press':
      return 'var(--metal-dark)'
    case 'armour':
      return 'url(#rb-armour)'
    default:
      return paintOf(body.kind, body.colour)
  }
}

/** What lets the parts under it be seen, by how much. */
const SEEN_THROUGH: Record<string, number> = {
  connector: 0.72,
  press: 0.35,
  'core-sleeve': 0.38,
  'core-tape': 0.45,
  mica: 0.5,
  resin: 0.28,
  'end-cap': 0.8,
}
const SOFT = ['core-sleeve', 'core-tape', 'mica']

export function BodyShape({ body, x, y, low, high, state, lit, quiet, onLayer }: ShapeProps) {
  if (Math.max(...body.top.map((p) => p[0] ?? 0)) < low || Math.min(...body.top.map((p) => p[0] ?? 0)) > high)
    return null
  const touch =
    body.layer && onLayer ? { onClick: () => onLayer(body.layer), style: { cursor: 'pointer' } } : {}
  const ghost = state === 'to come'
  if (ghost && quiet && !lit) return null
  const stroke = lit ? 'var(--color-warning)' : 'var(--color-base-content)'
  if (hollow(body.kind)) return <Outer body={body} x={x} y={y} ghost={ghost} lit={lit} touch={touch} />
  if (SOFT.includes(body.kind))
    return (
      <path
        {...touch}
        d={outline(body, x, y)}
        fill={ghost ? 'none' : fill(body)}
        fillOpacity={SEEN_THROUGH[body.kind]}
        stroke={lit ? 'var(--color-warning)' : fill(body)}
        strokeWidth={lit ? 2.5 : 1.3}
        strokeDasharray={ghost ? '5 4' : undefined}
      />
    )
  if (body.kind === 'resin')
    return ghost ? null : (
      <path d={outline(body, x, y)} fill={fill(body)} fillOpacity={SEEN_THROUGH.resin} pointerEvents="none" />
    )
  if (body.kind === 'conductor')
    return <path d={outline(body, x, y)} fill={fill(body)} fillOpacity={0.85} pointerEvents="none" />
  return (
    <path
      {...touch}
      d={outline(body, x, y)}
      fill={ghost ? 'none' : fill(body)}
      fillOpacity={SEEN_THROUGH[body.kind] ?? 1}
      stroke={stroke}
      strokeOpacity={lit ? 1 : 0.55}
      strokeWidth={lit ? 2.5 : 0.8}
      strokeDasharray={ghost ? '4 3' : undefined}
    />
  )
}

function Outer({
  body,
  x,
  y,
  ghost,
  lit,
  touch,
}: {
  body: Body
  x: ShapeProps['x']
  y: ShapeProps['y']
  ghost: boolean
  lit: boolean
  touch: object
}) {
  const mirror = (points: Body['top']) => points.map((p) => [p[0] ?? 0, -(p[1] ?? 0)] as const)
  const upper = `${path([...body.top, ...[...body.bottom].reverse()], x, y)}Z`
  const lower = `${path([...mirror(body.top), ...mirror([...body.bottom].reverse())], x, y)}Z`
  const paint = paintOf(body.kind, body.colour)
  const stroke = lit ? 'var(--color-warning)' : paint
  const sealed = body.kind === 'outer-sleeve' || body.kind === 'end-piece'
  const ends = !sealed ? [] : body.dry ? [body.bottom[0]] : [body.bottom[0], body.bottom.at(-1)]
  return (
    <g {...touch}>
      <path
        d={`${path([...body.top, ...[...mirror(body.top)].reverse()], x, y)}Z`}
        fill={paint}
        fillOpacity={ghost ? 0.02 : 0.09}
      />
      {[upper, lower].map((d) => (
        <path
          key={d}
          d={d}
          fill={ghost ? 'none' : paint}
          fillOpacity={body.kind === 'mesh' ? 0.5 : 0.85}
          stroke={stroke}
          strokeWidth={lit ? 2.5 : 1.2}
          strokeDasharray={ghost ? '6 4' : undefined}
        />
      ))}
      {!ghost &&
        ends.flatMap((p, i) =>
          [1, -1].map((side) => (
            <ellipse
              key={`${p?.[0]}:${side}`}
              cx={x(p?.[0] ?? 0) + (i ? 2 : -2)}
              cy={y((p?.[1] ?? 0) * side) - side}
              rx={4}
              ry={2.4}
              fill="#d98326"
            />
          )),
        )}
    </g>
  )
}
