/** The cut across the joint at one place, to scale, every circle told apart. */
import { diameter } from '../model/units'
import { useSettings } from '../settings'
import { type Crossing, crossingAt, isFlat, light, lookOf, paintOf, type Section } from './section'

/** What lies here, from outside in, each named once. */
function layersAt(section: Section, crossing: Crossing): string {
  const names = crossing.circles.map((c) => lookOf(section.looks, c.kind).said)
  return [...new Set(names)].filter(Boolean).join(', ')
}

interface Props {
  section: Section
  at: number
  size?: number
  built?: Set<string>
}

export function CrossSection({ section, at, size = 168, built }: Props) {
  const { unit } = useSettings()
  const crossing = crossingAt(section, at)
  if (!crossing) return null
  const greatest = Math.max(...section.crossings.map((c) => c.outside_mm))
  const scale = (size - 12) / greatest
  const c = size / 2
  const roleOf = (kind: string) => lookOf(section.looks, kind).role
  const named = crossing.circles.filter((o) => ['connector', 'core'].includes(roleOf(o.kind)))
  const names = named.filter((o, i) => named.findIndex((x) => x.core === o.core) === i)
  return (
    <figure className="flex flex-col items-center">
      <svg
        width={size}
        height={size}
        role="img"
        aria-label={`Cross-section, ${crossing.outside_mm.toFixed(1)} mm over all`}
      >
        {crossing.circles.map((o, i) => {
          const ghost = built && o.layer && !built.has(o.layer)
          const common = { cx: c + o.x_mm * scale, cy: c - o.y_mm * scale, r: (o.od_mm / 2) * scale }
          const key = `${o.kind}${o.core}${i}`
          const look = lookOf(section.looks, o.kind)
          const hollow = look.form === 'hollow'
          const paint = paintOf(look, o.colour)
          if (o.thickness_mm !== null) {
            const [w, h] = [o.od_mm * scale, o.thickness_mm * scale]
            return (
              <rect
                key={key}
                x={common.cx - w / 2}
                y={common.cy - h / 2}
                width={w}
                height={h}
                rx={h / 2}
                fill={ghost || hollow ? 'var(--color-base-100)' : paint}
                stroke={hollow ? paint : 'var(--color-base-content)'}
                strokeOpacity={0.8}
                strokeWidth={hollow ? 2 : 0.8}
                strokeDasharray={ghost ? '4 3' : undefined}
              />
            )
          }
          if (look.form === 'ring' || look.form === 'band' || (hollow && o.inside_mm !== null)) {
            const wall = ((o.od_mm - (o.inside_mm ?? o.od_mm)) / 2) * scale
            return (
              <circle
                key={key}
                cx={common.cx}
                cy={common.cy}
                r={common.r - wall / 2}
                fill={hollow ? 'var(--color-base-100)' : 'none'}
                stroke={paint}
                strokeOpacity={ghost ? 0.5 : hollow ? 0.9 : 0.6}
                strokeWidth={ghost ? 1 : Math.max(1, wall)}
                strokeDasharray={
                  ghost ? '4 3' : o.width_mm ? `${o.width_mm * scale} ${2 * Math.PI * common.r}` : undefined
                }
                transform={
                  o.width_mm
                    ? `rotate(${-90 - (o.width_mm / o.od_mm) * 57.3} ${common.cx} ${common.cy})`
                    : undefined
                }
              />
            )
          }
          return (
            <circle
              key={key}
              {...common}
              fill={ghost ? 'none' : paint}
              fillOpacity={look.form === 'veil' ? look.see_through : 1}
              stroke="var(--color-base-content)"
              strokeOpacity={0.6}
              strokeWidth={0.8}
              strokeDasharray={ghost ? '3 3' : undefined}
            />
          )
        })}
        {names.map((o) => (
          <text
            key={`n${o.core}`}
            x={c + o.x_mm * scale}
            y={c - o.y_mm * scale + 5}
            textAnchor="middle"
            fontSize={14}
            fontWeight={700}
            fill={light(o.colour) || roleOf(o.kind) === 'connector' ? '#101416' : '#fff'}
          >
            {o.core}
          </text>
        ))}
      </svg>
      <figcaption className="text-center text-sm">
        <span className="quiet">{crossing.circles.length ? 'across here ' : 'no cable here '}</span>
        {crossing.circles.length > 0 && (
          <b>
            {isFlat(section) ? '' : '⌀ '}
            {diameter(Math.round(crossing.outside_mm * 10) / 10, unit)}
          </b>
        )}
        <span className="block leading-tight">{layersAt(section, crossing)}</span>
      </figcaption>
    </figure>
  )
}
