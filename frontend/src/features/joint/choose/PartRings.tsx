import type { Schemas } from '../../../api/client'
import { useWidth } from '../../../components/useWidth'
import { length, sign } from '../../../model/units'
import { useSettings } from '../../../settings'

type Choice = Schemas['ChoiceOut']
type Candidate = Schemas['CandidateOut']

const TALL = 74
const SAID = { solder: 'solder', seal: 'sealing ring' } as const

/** The rings inside a part, to scale along the cable, over the place that lies bare. */
export function PartRings({ choice, part }: { choice: Choice; part: Candidate }) {
  const { unit } = useSettings()
  const { ref, width } = useWidth<HTMLElement>(600)
  if (!choice.bare_mm || !part.rings.length) return null
  const [from = 0, to = 0] = choice.bare_mm
  const low = Math.min(from, ...part.rings.map((r) => r.from_mm))
  const high = Math.max(to, ...part.rings.map((r) => r.to_mm))
  const x = (mm: number) => 10 + ((mm - low) / (high - low)) * (width - 20)
  const said = `${length(to - from, unit)} ${sign(unit)} bare screen`
  return (
    <figure ref={ref} className="mt-3 max-w-2xl" aria-label={`Rings of ${part.name} over ${said}`}>
      <svg viewBox={`0 0 ${width} ${TALL}`} className="w-full" role="img" aria-hidden="true">
        <rect x={x(low)} y={22} width={x(high) - x(low)} height={24} className="fill-none stroke-primary" />
        <rect
          x={x(from)}
          y={14}
          width={x(to) - x(from)}
          height={40}
          className="fill-secondary/20 stroke-secondary"
          strokeDasharray="4 3"
        />
        {part.rings.map((r) => (
          <g key={`${r.what}${r.from_mm}`}>
            <rect
              x={x(r.from_mm)}
              y={22}
              width={x(r.to_mm) - x(r.from_mm)}
              height={24}
              className={r.what === 'solder' ? 'fill-neutral' : 'fill-warning'}
            />
            <text
              x={Math.min(Math.max(x((r.from_mm + r.to_mm) / 2), 45), width - 45)}
              y={70}
              textAnchor="middle"
              className="fill-current"
              fontSize={14}
            >
              {SAID[r.what]}
            </text>
          </g>
        ))}
        <text x={x((from + to) / 2)} y={11} textAnchor="middle" className="fill-current" fontSize={14}>
          {said}
        </text>
      </svg>
    </figure>
  )
}
