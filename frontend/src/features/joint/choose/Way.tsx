import type { Schemas } from '../../../api/client'
import { diameter, duration, length, sign } from '../../../model/units'
import { useSettings } from '../../../settings'

type Plan = Schemas['Plan']

interface Props {
  way: Schemas['Remedy']
  plan: Plan
  use?: () => void
  /** Whether the way is of before the last change. */
  behind?: boolean
}

/** One complete alternative: what comes of it, its parts and lengths, one touch away from being the plan. */
export function Way({ way, plan, use, behind = false }: Props) {
  const { unit } = useSettings()
  const minutes = way.minutes
    ? way.minutes.hands +
      way.minutes.waiting -
      (plan.verdict === 'planned' ? plan.minutes.hands + plan.minutes.waiting : 0)
    : null
  return (
    <li className="py-2.5">
      <div className="flex items-baseline justify-between gap-3">
        <span className="text-lg font-semibold">{way.title}</span>
        {minutes !== null && (
          <b className="whitespace-nowrap">
            {plan.verdict === 'planned' ? (minutes >= 0 ? '+' : '−') : ''}
            {duration(Math.abs(minutes))}
          </b>
        )}
      </div>
      <p>{way.why}</p>
      {way.joint_length_mm !== null && (
        <p className="quiet">
          {length(way.joint_length_mm, unit)} {sign(unit)} long,{' '}
          {diameter(way.greatest_diameter_mm ?? 0, unit)} {sign(unit)} thick
          {way.cost !== null && `, ${way.cost.toFixed(2)} of parts`}
        </p>
      )}
      {way.parts.length > 0 && (
        <details className="mt-1">
          <summary className="cursor-pointer font-medium">Parts, lengths, what to thread on</summary>
          <ul className="list-disc pl-5">
            {grouped(way.parts).map(([words, count]) => (
              <li key={words}>
                {count > 1 && `${count} × `}
                {words}
              </li>
            ))}
          </ul>
          {way.cores.length > 0 && (
            <p>
              Cores on {Object.keys(way.cores[0]?.by_end ?? {}).join(' / ')}:{' '}
              {way.cores
                .map(
                  (c) =>
                    `${c.core}: ${Object.values(c.by_end)
                      .map((mm) => length(mm, unit))
                      .join(' / ')}`,
                )
                .join('; ')}
            </p>
          )}
          {way.park && (
            <p>
              Thread on:{' '}
              {way.park.by_end
                .map((tail) => `${tail.end} ${tail.parts.map((p) => p.part_id).join(', ') || 'nothing'}`)
                .join('; ')}
            </p>
          )}
        </details>
      )}
      {use && (
        <button type="button" className="btn btn-sm mt-1" disabled={behind} onClick={use}>
          Use this way
        </button>
      )}
    </li>
  )
}

/** Parts in words, equal ones counted. */
function grouped(parts: Schemas['Remedy']['parts']): [string, number][] {
  const found = new Map<string, number>()
  for (const p of parts) {
    const words = `${p.name}${p.cut_length_mm ? `, cut ${p.cut_length_mm}` : ''}`
    found.set(words, (found.get(words) ?? 0) + Math.ceil(p.quantity))
  }
  return [...found]
}
