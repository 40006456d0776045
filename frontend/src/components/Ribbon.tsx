/** The joint ribbon: a longitudinal section to scale, both cables running off to the sides. */
import { type KeyboardEvent, useMemo } from 'react'
import { diameter, length, sign } from '../model/units'
import { useSettings } from '../settings'
import { BodyShape, type ShapeProps } from './RibbonBody'
import { type Body, crossingAt, isFlat, light, lookOf, path, type Section } from './section'
import { useView } from './useView'
import { useWidth } from './useWidth'

interface Props {
  section: Section
  labels: { A: string; B: string }
  height?: number
  /** Layers that are built; undefined draws a plan, with everything there. */
  built?: Set<string>
  /** Layers the present step works on. */
  lit?: Set<string>
  range?: [number, number]
  at?: number
  onAt?: (x: number) => void
  onLayer?: (layer: string) => void
  bare?: boolean
  /** Ways the gun goes, from where it starts, in mm of the drawing. */
  routes?: readonly (readonly (readonly number[])[])[]
}

const EDGE = 26

export function Ribbon({
  section,
  labels,
  height = 236,
  built,
  lit,
  range,
  at,
  onAt,
  onLayer,
  bare,
  routes,
}: Props) {
  const { unit } = useSettings()
  const { ref, width } = useWidth(900)
  const covered =
    section.dimensions.find((d) => d.kind === 'whole') ?? section.dimensions.find((d) => d.kind === 'covered')
  const wanted = range ?? [
    (covered?.from_mm ?? section.from_mm + 40) - EDGE,
    (covered?.to_mm ?? section.to_mm - 40) + EDGE,
  ]
  const [lowest, highest] = useMemo(() => heightsOf(section), [section])
  const room = height - (bare ? 24 : 92)
  const base = Math.min(width / (wanted[1] - wanted[0]), room / (highest - lowest))
  // what is seen when nothing is enlarged; a joint that is thick for its length shows more of the cable
  const around = (wanted[0] + wanted[1]) / 2
  const seen: [number, number] = [around - width / base / 2, around + width / base / 2]
  const point = (px: number, view: { zoom: number; middle: number }) =>
    onAt?.(
      Math.min(section.to_mm, Math.max(section.from_mm, view.middle + (px - width / 2) / (base * view.zoom))),
    )
  const { view, hands, enlarge, reset } = useView(seen, base, (px) => point(px, view))
  const scale = base * view.zoom
  const middle = view.middle
  const x = (v: number) => width / 2 + (v - middle) * scale
  const cy = (bare ? height / 2 : 36 + room / 2) + ((highest + lowest) / 2) * scale
  const y = (v: number) => cy - v * scale
  const low = middle - width / scale / 2
  const high = middle + width / scale / 2
  const bodies = useMemo(() => [...section.bodies].sort((a, b) => a.depth_mm - b.depth_mm), [section])
  const here = at === undefined ? undefined : crossingAt(section, at)
  const key = (e: KeyboardEvent) => {
    if (e.key === '+' || e.key === '-') return enlarge(e.key === '+' ? 1.5 : 1 / 1.5)
    const step = e.shiftKey ? 10 : 1
    const by = e.key === 'ArrowLeft' ? -step : e.key === 'ArrowRight' ? step : 0
    if (!by || !onAt) return
    e.preventDefault()
    onAt(Math.min(section.to_mm, Math.max(section.from_mm, (at ?? 0) + by)))
  }
  const clip = (d: (typeof section.dimensions)[number]) => d.to_mm > low && d.from_mm < high
  return (
    <div ref={ref} className="relative w-full select-none">
      {view.zoom > 1 && (
        <button type="button" className="btn absolute top-1 right-1 z-10" onClick={reset}>
          Whole joint
        </button>
      )}
      {/* biome-ignore lint/a11y/noSvgWithoutTitle: named by aria-label; a title would pop up over the read-out */}
      <svg
        width={width}
        height={height}
        className="block touch-pan-y"
        {...(onAt
          ? {
              role: 'slider',
              tabIndex: 0,
              'aria-label': 'Place along the joint',
              'aria-valuemin': Math.round(section.from_mm),
              'aria-valuemax': Math.round(section.to_mm),
              'aria-valuenow': Math.round(at ?? 0),
              'aria-valuetext': here
                ? `${Math.round(at ?? 0)} mm from the centre, ${here.outside_mm.toFixed(1)} mm thick`
                : undefined,
            }
          : { role: 'img', 'aria-label': 'Section of the joint, to scale' })}
        {...(onAt ? hands : {})}
        onKeyDown={key}
      >
        <Grid low={low} high={high} x={x} height={height} />
        {bodies.map((b) => (
          <BodyShape
            key={b.id}
            body={b}
            look={lookOf(section.looks, b.kind)}
            x={x}
            y={y}
            low={low}
            high={high}
            state={!built || !b.layer ? 'there' : built.has(b.layer) ? 'there' : 'to come'}
            lit={Boolean(b.layer && lit?.has(b.layer))}
            quiet={Boolean(bare)}
            onLayer={onLayer}
          />
        ))}
        {routes?.map((way) => (
          <Route key={path(way, x, y)} way={way} x={x} y={y} />
        ))}
        {!bare && (
          <>
            <CoreNames
              bodies={bodies.filter((b) => lookOf(section.looks, b.kind).role === 'core')}
              x={x}
              y={y}
              scale={scale}
            />
            {view.zoom === 1 && (
              <SideLabels
                bodies={bodies.filter((b) => lookOf(section.looks, b.kind).role === 'cable')}
                labels={labels}
                x={x}
                y={y}
                width={width}
                low={low}
                high={high}
              />
            )}
            {section.dimensions
              .filter(clip)
              .filter((d) => d.kind !== 'whole')
              .map((d) => (
                <Measure
                  key={`${d.kind}${d.from_mm}`}
                  from={x(d.from_mm)}
                  to={x(d.to_mm)}
                  y={d.kind === 'covered' ? 18 : height - 20}
                  text={`${length(d.value_mm, unit)}${d.kind === 'covered' ? ` ${sign(unit)} ${d.label}` : ''}`}
                  strong={d.kind === 'covered'}
                />
              ))}
          </>
        )}
        {at !== undefined && here && (
          <g pointerEvents="none">
            <line
              x1={x(at)}
              x2={x(at)}
              y1={28}
              y2={height - 32}
              stroke="var(--color-base-content)"
              strokeDasharray="3 3"
            />
            <g transform={`translate(${Math.min(width - 70, Math.max(70, x(at)))} ${height - 44})`}>
              <rect x={-64} y={-15} width={128} height={21} rx={3} fill="var(--color-base-content)" />
              <text textAnchor="middle" fontSize={14} fontWeight={600} fill="var(--color-base-100)">
                {!isFlat(section) && '⌀ '}
                {diameter(Math.round(here.outside_mm * 10) / 10, unit)} at{' '}
                {length(Math.abs(Math.round(at)), unit)} {at < -0.5 ? 'A' : at > 0.5 ? 'B' : ''}
              </text>
            </g>
          </g>
        )}
      </svg>
    </div>
  )
}

/** A way of the gun: a dot where it starts, an arrow where it goes. */
function Route({
  way,
  x,
  y,
}: {
  way: readonly (readonly number[])[]
  x: ShapeProps['x']
  y: ShapeProps['y']
}) {
  const [from, to, before] = [way[0], way.at(-1), way.at(-2)]
  const turned = Math.atan2(y(to?.[1] ?? 0) - y(before?.[1] ?? 0), x(to?.[0] ?? 0) - x(before?.[0] ?? 0))
  return (
    <g pointerEvents="none" className="route">
      <path d={path(way, x, y)} fill="none" stroke="var(--color-warning)" strokeWidth={3} />
      <circle cx={x(from?.[0] ?? 0)} cy={y(from?.[1] ?? 0)} r={5} fill="var(--color-warning)" />
      <path
        d="M10 0L-4 -7L-4 7Z"
        fill="var(--color-warning)"
        transform={`translate(${x(to?.[0] ?? 0)} ${y(to?.[1] ?? 0)}) rotate(${(turned * 180) / Math.PI})`}
      />
    </g>
  )
}

function Grid({
  low,
  high,
  x,
  height,
}: {
  low: number
  high: number
  x: (v: number) => number
  height: number
}) {
  const lines = []
  for (let v = Math.ceil(low / 10) * 10; v <= high; v += 10)
    lines.push(
      <line
        key={v}
        x1={x(v)}
        x2={x(v)}
        y1={0}
        y2={height}
        stroke="var(--grid)"
        strokeWidth={v % 50 === 0 ? 1.4 : 0.6}
      />,
    )
  return <g>{lines}</g>
}

/** How far down and up a drawing goes, mm: as far on both sides, but for what turns off to one. */
function heightsOf(section: Section): [number, number] {
  const tops = section.bodies.flatMap((b) => b.top.map((p) => p[1] ?? 0))
  const bottoms = section.bodies.flatMap((b) => b.bottom.map((p) => p[1] ?? 0))
  const up = Math.max(...tops)
  const thick = section.crossings.reduce((most, c) => Math.max(most, c.outside_mm / 2), 0)
  return [up > 1.5 * thick ? Math.min(...bottoms, -thick) : -up, up]
}

/** Cores from top to bottom, so that their names step along the crutch instead of lying on each other. */
function rankOf(bodies: Body[], body: Body): number {
  const level = (b: Body) => (body.end === 'A' ? b.top[0] : b.top.at(-1))?.[1] ?? 0
  return bodies.filter((b) => b.end === body.end && level(b) > level(body)).length
}

function CoreNames({
  bodies,
  x,
  y,
  scale,
}: {
  bodies: Body[]
  x: ShapeProps['x']
  y: ShapeProps['y']
  scale: number
}) {
  if (scale < 1.6) return null
  return (
    <g pointerEvents="none">
      {bodies.map((b) => {
        const rank = rankOf(bodies, b)
        const near = b.end === 'A'
        const p = near ? b.top[0] : b.top.at(-1)
        const q = near ? b.bottom[0] : b.bottom.at(-1)
        const size = Math.min(15, ((p?.[1] ?? 0) - (q?.[1] ?? 0)) * scale * 0.75)
        if (size < 8) return null
        return (
          <text
            key={b.id}
            x={x(p?.[0] ?? 0) + (near ? 1 : -1) * (8 + rank * 17)}
            y={y(((p?.[1] ?? 0) + (q?.[1] ?? 0)) / 2) + size * 0.35}
            fontSize={size}
            fontWeight={700}
            stroke={light(b.colour) ? '#f2f4f2' : '#14181a'}
            strokeWidth={3.5}
            paintOrder="stroke"
            textAnchor={near ? 'start' : 'end'}
            fill={light(b.colour) ? '#101416' : '#fff'}
          >
            {b.core}
          </text>
        )
      })}
    </g>
  )
}

/** Where a cable's diameter is written: at its outer end, or where the picture cuts it off. */
function labelOf(body: Body, low: number, high: number) {
  const xs = body.top.map((p) => p[0] ?? 0)
  const [first = 0, last = 0] = [xs[0], xs.at(-1)]
  const middle = (low + high) / 2
  const off = (px: number, n: number) => Math.hypot(px - middle, body.top.at(n)?.[1] ?? 0)
  const left = off(first, 0) >= off(last, -1)
  const [a = 0, one = 0] = body.top.at(left ? 0 : -1) ?? []
  const [b = 0, other = 0] = body.bottom.at(left ? 0 : -1) ?? []
  const steep = Math.abs(a - b) > Math.abs(one - other)
  const at = Math.min(high, Math.max(low, left ? first : last))
  return {
    left: left || steep, // of one that goes up or down it stands beside it
    inside: !steep,
    x: steep ? Math.max(a, b) : at,
    top: Math.max(one, other),
    bottom: Math.min(one, other),
    od: Math.hypot(a - b, one - other),
  }
}

function SideLabels({
  bodies,
  labels,
  x,
  y,
  width,
  low,
  high,
}: {
  bodies: Body[]
  labels: Props['labels']
  x: ShapeProps['x']
  y: ShapeProps['y']
  width: number
  low: number
  high: number
}) {
  const { unit } = useSettings()
  return (
    <g pointerEvents="none" fontSize={15}>
      {bodies.map((b) => {
        const place = labelOf(b, low, high)
        const px = place.left ? Math.max(10, x(place.x) + 10) : Math.min(width - 10, x(place.x) - 10)
        const roomy = place.inside && y(place.bottom) - y(place.top) > 20
        const named = b.end === 'A' || b.end === 'B'
        return (
          <g key={b.id} textAnchor={place.left ? 'start' : 'end'} fontWeight={600}>
            <text
              x={px}
              y={roomy ? y((place.top + place.bottom) / 2) + 5 : y(place.top) + (place.inside ? -5 : 14)}
              fill={roomy ? '#fff' : 'var(--color-base-content)'}
              stroke={roomy ? '#14181a' : 'none'}
              strokeWidth={roomy ? 2 : 0}
              paintOrder="stroke"
            >
              ⌀ {diameter(place.od, unit)}
            </text>
            {named && (
              <text x={px} y={y(place.bottom) + (place.inside ? 22 : 34)} fill="var(--color-base-content)">
                {b.end === 'A'
                  ? `A${labels.A ? ` · ${labels.A}` : ''}`
                  : `${labels.B ? `${labels.B} · ` : ''}B`}
              </text>
            )}
          </g>
        )
      })}
    </g>
  )
}

function Measure({
  from,
  to,
  y,
  text,
  strong,
}: {
  from: number
  to: number
  y: number
  text: string
  strong?: boolean
}) {
  const colour = strong ? 'var(--sleeve)' : 'var(--color-base-content)'
  const wide = text.length * 7.4 + 10
  const inside = to - from > wide + 16
  const mid = (from + to) / 2
  return (
    <g pointerEvents="none" stroke={colour} strokeWidth={1.2}>
      <path
        d={`M${from} ${y - 5}v10M${to} ${y - 5}v10M${from} ${y}H${inside ? mid - wide / 2 : to}${inside ? `M${mid + wide / 2} ${y}H${to}` : ''}`}
        fill="none"
      />
      <text
        x={mid}
        y={inside ? y + 5 : y - 6}
        textAnchor="middle"
        fontSize={15}
        fontWeight={600}
        stroke="none"
        fill={colour}
      >
        {text}
      </text>
    </g>
  )
}
