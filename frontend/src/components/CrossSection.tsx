/** The cut across the joint at one place, to scale, every circle told apart. */
import { diameter } from '../model/units'
import { useSettings } from '../settings'
import { coreColour, crossingAt, light, type Section } from './section'

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
  const names = crossing.circles.filter((o) => o.kind === 'connector' || o.kind === 'insulation')
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
          if (o.kind === 'core-sleeve' || o.kind === 'outer-sleeve') {
            const wall = ((o.od_mm - (o.inside_mm ?? o.od_mm)) / 2) * scale
            return (
              <circle
                key={key}
                cx={common.cx}
                cy={common.cy}
                r={common.r - wall / 2}
                fill={o.kind === 'outer-sleeve' ? 'var(--color-base-100)' : 'none'}
                stroke="var(--sleeve)"
                strokeOpacity={ghost ? 0.5 : o.kind === 'outer-sleeve' ? 0.9 : 0.6}
                strokeWidth={ghost ? 1 : Math.max(1, wall)}
                strokeDasharray={ghost ? '4 3' : undefined}
              />
            )
          }
          const paint =
            o.kind === 'sheath'
              ? 'var(--sheath)'
              : o.kind === 'connector'
                ? 'var(--metal)'
                : o.kind === 'conductor'
                  ? 'var(--copper)'
                  : coreColour(o.colour)
          return (
            <circle
              key={key}
              {...common}
              fill={ghost ? 'none' : paint}
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
            fill={light(o.colour) || o.kind === 'connector' ? '#101416' : '#fff'}
          >
            {o.core}
          </text>
        ))}
      </svg>
      <figcaption className="text-sm">
        <span className="quiet">across here </span>
        <b>⌀ {diameter(Math.round(crossing.outside_mm * 10) / 10, unit)}</b>
      </figcaption>
    </figure>
  )
}
