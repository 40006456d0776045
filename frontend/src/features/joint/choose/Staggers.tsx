import type { Schemas } from '../../../api/client'
import { diameter, length, sign } from '../../../model/units'
import { useMay } from '../../../session'
import { useSettings } from '../../../settings'

type Row = Schemas['StaggerWay']

/** In line and staggered side by side, each drawn to one scale; the electrician decides. */
export function Staggers({ rows, now, use }: { rows: Row[]; now: number; use: (steps: number) => void }) {
  const { unit } = useSettings()
  const works = useMay('jointer')
  if (rows.length < 2) return null
  const longest = Math.max(...rows.map((r) => r.joint_length_mm ?? 0), 1)
  return (
    <section className="mt-8 max-w-4xl" aria-label="In line or staggered">
      <h2>In line or staggered</h2>
      <ul className="rows mt-1">
        {rows.map((r) => (
          <li
            key={r.steps}
            className="grid items-center gap-x-4 gap-y-1 py-2.5 md:grid-cols-[8rem_1fr_11rem_auto]"
          >
            <span className={`text-lg ${r.recommended ? 'font-bold' : 'font-medium'}`}>
              {r.steps === 1 ? 'In line' : `${r.steps} steps`}
              {r.recommended && <span className="block text-base font-medium">recommended</span>}
            </span>
            <span>
              {r.fits && <Outline row={r} longest={longest} />}
              <span className={r.fits ? '' : 'text-error'}>{r.why}</span>
              {r.shells.length > 0 && <span className="quiet"> Shells: {r.shells.join(', ')}.</span>}
              {r.sleeves.length > 0 && (
                <span className="quiet">
                  {' '}
                  {r.sleeves.length === 1 ? '1 sleeve fits' : `${r.sleeves.length} sleeves fit`}.
                </span>
              )}
            </span>
            <span className="text-right">
              <b>
                {r.joint_length_mm === null
                  ? `gap ${length(r.gap_mm ?? 0, unit)} ${sign(unit)}`
                  : `${length(r.joint_length_mm, unit)} ${sign(unit)} long`}
              </b>
              <span className="block">
                ⌀ {diameter(r.greatest_diameter_mm ?? r.cores_diameter_mm ?? 0, unit)} {sign(unit)}
                {r.greatest_diameter_mm === null && ' of cores'}
              </span>
            </span>
            {works && r.steps !== now ? (
              <button type="button" className="btn btn-sm" onClick={() => use(r.steps)}>
                Take it
              </button>
            ) : (
              <span className="quiet px-2">{r.steps === now ? 'now' : ''}</span>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}

const W = 300
const H = 44

/** The finished outside to scale; all rows share the scale, so that length and girth compare. */
function Outline({ row, longest }: { row: Row; longest: number }) {
  const scale = W / longest
  const points = row.profile.map((p) => [(p[0] ?? 0) * scale + W / 2, ((p[1] ?? 0) / 2) * scale] as const)
  const d = [
    ...points.map(([x, r]) => `${x} ${H / 2 - r}`),
    ...[...points].reverse().map(([x, r]) => `${x} ${H / 2 + r}`),
  ]
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      className="mb-1 block h-11 w-full"
      role="img"
      aria-label="Outline to scale"
    >
      <path d={`M${d.join('L')}Z`} fill="var(--sleeve)" fillOpacity={0.75} />
    </svg>
  )
}
