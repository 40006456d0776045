/** One body of the ribbon: solid, seen through, or a cover cut open. */
import { type Body, type Look, outline, paintOf, path, textureOf } from './section'

export interface ShapeProps {
  body: Body
  look: Look
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

export function BodyShape({ body, look, x, y, low, high, state, lit, quiet, onLayer }: ShapeProps) {
  const fill = textureOf(look, body.colour)
  if (Math.max(...body.top.map((p) => p[0] ?? 0)) < low || Math.min(...body.top.map((p) => p[0] ?? 0)) > high)
    return null
  const touch =
    body.layer && onLayer ? { onClick: () => onLayer(body.layer), style: { cursor: 'pointer' } } : {}
  const ghost = state === 'to come'
  if (ghost && quiet && !lit) return null
  const stroke = lit ? 'var(--color-warning)' : 'var(--color-base-content)'
  if (look.form === 'hollow')
    return <Outer body={body} look={look} x={x} y={y} ghost={ghost} lit={lit} touch={touch} />
  if (look.form === 'ring')
    return (
      <path
        {...touch}
        d={outline(body, x, y)}
        fill={ghost ? 'none' : fill}
        fillOpacity={look.see_through}
        stroke={lit ? 'var(--color-warning)' : fill}
        strokeWidth={lit ? 2.5 : 1.3}
        strokeDasharray={ghost ? '5 4' : undefined}
      />
    )
  if (look.form === 'veil')
    return ghost ? null : (
      <path d={outline(body, x, y)} fill={fill} fillOpacity={look.see_through} pointerEvents="none" />
    )
  if (look.role === 'conductor')
    return <path d={outline(body, x, y)} fill={fill} fillOpacity={look.see_through} pointerEvents="none" />
  return (
    <path
      {...touch}
      d={outline(body, x, y)}
      fill={ghost ? 'none' : fill}
      fillOpacity={look.see_through}
      stroke={stroke}
      strokeOpacity={lit ? 1 : 0.55}
      strokeWidth={lit ? 2.5 : 0.8}
      strokeDasharray={ghost ? '4 3' : undefined}
    />
  )
}

function Outer({
  body,
  look,
  x,
  y,
  ghost,
  lit,
  touch,
}: {
  body: Body
  look: Look
  x: ShapeProps['x']
  y: ShapeProps['y']
  ghost: boolean
  lit: boolean
  touch: object
}) {
  const mirror = (points: Body['top']) => points.map((p) => [p[0] ?? 0, -(p[1] ?? 0)] as const)
  const upper = `${path([...body.top, ...[...body.bottom].reverse()], x, y)}Z`
  const lower = `${path([...mirror(body.top), ...mirror([...body.bottom].reverse())], x, y)}Z`
  const paint = paintOf(look, body.colour)
  const stroke = lit ? 'var(--color-warning)' : paint
  const ends = !look.sealed ? [] : body.dry ? [body.bottom[0]] : [body.bottom[0], body.bottom.at(-1)]
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
          fillOpacity={0.85 * look.see_through}
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
