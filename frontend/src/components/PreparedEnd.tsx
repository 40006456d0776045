/** A flat cable end laid open, to scale: seen on the flat, from the side, and end-on, with every cut. */
import type { Schemas } from '../api/client'
import { length, sign } from '../model/units'
import { useSettings } from '../settings'
import { lookOf, paintOf, textureOf } from './section'

type Prepared = Schemas['PreparedEnd']
type Layer = Prepared['layers'][number]
const LETTER = 8 // px of a letter of the words beside a cut
const ROW = 24
const NAMES: Record<string, string> = { 'bus-1': 'bus wire 1', 'bus-2': 'bus wire 2' }
const said = (layer: string) => NAMES[layer] ?? layer.replace('-', ' ')

interface Props {
  end: Prepared
  label?: string
  /** Room for the drawing, px: its lettering stays as large. */
  width?: number
}

export function PreparedEnd({ end, label, width: W = 640 }: Props) {
  const { unit } = useSettings()
  const wide = Math.max(...end.layers.map((l) => l.width_mm))
  const thick = Math.max(...end.layers.map((l) => l.thickness_mm))
  const scale = Math.min((W - 150) / end.reach_mm, 5.4)
  const x = (back: number) => 24 + (end.reach_mm - back) * scale
  const flat = 22 + (wide * scale) / 2
  const side = flat + (wide * scale) / 2 + 26 + (thick * scale) / 2
  const below = side + (thick * scale) / 2 + 16
  const cuts = [...end.cuts].sort((a, b) => b.at_mm - a.at_mm)
  const height = below + cuts.length * ROW + 10
  const band = (l: Layer, cy: number, h: number, off: number, i: number, key: string) => (
    <rect
      key={`${key}${i}`}
      x={x(l.to_mm)}
      y={cy - off * scale - (h * scale) / 2}
      width={Math.max(0, (l.to_mm - l.from_mm) * scale)}
      height={h * scale}
      fill={textureOf(lookOf(end.looks, l.kind))}
      stroke="var(--color-base-content)"
      strokeWidth={0.7}
      strokeOpacity={0.7}
    />
  )
  const onSide = [...end.layers].reverse()
  const ex = W - 62
  return (
    <figure aria-label={`End ${end.end} laid open`}>
      <svg
        viewBox={`0 0 ${W} ${height}`}
        className="w-full bg-base-100"
        style={{ maxWidth: W * 1.2 }}
        role="img"
        aria-label={`End ${end.end}${label ? `, ${label}` : ''}, to scale: ${cuts
          .map((c) => `${said(c.layer)} ${length(c.length_mm, unit)} ${sign(unit)}`)
          .join(', ')}`}
      >
        <text x={24} y={14} fontSize={13} fill="var(--color-base-content)">
          on the flat
        </text>
        {onSide.map((l, i) => band(l, flat, l.width_mm, l.y_mm, i, 'f'))}
        <text x={24} y={side - (thick * scale) / 2 - 6} fontSize={13} fill="var(--color-base-content)">
          from the side
        </text>
        {onSide.map((l, i) => band(l, side, l.thickness_mm, 0, i, 's'))}
        <text x={ex} y={14} fontSize={13} textAnchor="middle" fill="var(--color-base-content)">
          end-on
        </text>
        {end.end_on.map((l, i) => {
          const s = Math.min(96 / wide, 5.4)
          return (
            <rect
              key={`e${l.kind}${l.y_mm}`}
              x={ex - l.y_mm * s - (l.width_mm * s) / 2}
              y={flat - (l.thickness_mm * s) / 2}
              width={l.width_mm * s}
              height={l.thickness_mm * s}
              rx={(l.thickness_mm * s) / 2}
              fill={textureOf(lookOf(end.looks, l.kind))}
              stroke="var(--color-base-content)"
              strokeWidth={i ? 0.6 : 1}
              strokeOpacity={0.7}
            />
          )
        })}
        {cuts.map((c, i) => {
          const y = below + i * ROW + 10
          const right = Math.max(x(c.at_mm), x(c.from_mm))
          const words = LETTER * `${length(c.length_mm, unit)} ${said(c.layer)}`.length
          const behind = right + 8 + words <= W // else before it, else up to the edge
          const before = Math.min(x(c.at_mm), x(c.from_mm)) - 8
          const place = behind ? right + 8 : before >= words ? before : W - 4
          return (
            <g key={`${c.layer}${c.datum}`}>
              <path
                d={`M${x(c.at_mm)} ${flat - (wide * scale) / 2 - 4}V${y + 5}`}
                stroke="var(--color-warning)"
                strokeDasharray="4 3"
                strokeWidth={1.4}
              />
              <path d={`M${x(c.at_mm)} ${y}H${x(c.from_mm)}`} stroke="var(--color-base-content)" />
              <circle cx={x(c.from_mm)} cy={y} r={2.5} fill="var(--color-base-content)" />
              <text
                x={place}
                y={y + 5}
                fontSize={16}
                textAnchor={behind ? 'start' : 'end'}
                fill="var(--color-base-content)"
              >
                <tspan fontWeight={700}>{length(c.length_mm, unit)}</tspan> {said(c.layer)}
              </text>
            </g>
          )
        })}
      </svg>
      <figcaption className="flex flex-wrap gap-x-4 text-base">
        <b>
          End {end.end}
          {label ? `, ${label}` : ''}
        </b>
        {[...new Set(end.layers.map((l) => l.kind))].map((k) => (
          <span key={k} className="flex items-center gap-1.5">
            <span
              aria-hidden
              className="inline-block size-3 border border-base-content/60"
              style={{ background: paintOf(lookOf(end.looks, k)) }}
            />
            {lookOf(end.looks, k).said}
          </span>
        ))}
        <span className="font-semibold text-warning">Never touching: {end.keep_clear.join('; ')}</span>
      </figcaption>
    </figure>
  )
}
