import type { Schemas } from '../../../api/client'
import { length, sign } from '../../../model/units'
import { useSettings } from '../../../settings'

const W = 420
const CABLE = 40
const HALF = 9

interface Props {
  zone: Schemas['ZoneCutOut']
  label: string
}

/** Every place at which a zone cable is cut: its fed end first. */
export function zoneCuts(trace: Schemas['TraceOut']): Schemas['ZoneCutOut'][] {
  return [...(trace.zone ? [trace.zone] : []), ...trace.node_cuts]
}

/** Where a zone cable is cut, to scale along its pipe: what goes, what stays cold, where it heats. */
export function ZoneCut({ zone: z, label }: Props) {
  const { unit } = useSettings()
  if (!z.shown_mm) return null
  const mm = (v: number) => `${length(v, unit)} ${sign(unit)}`
  const x = (from: number) => 8 + (from / z.shown_mm) * (W - 16)
  const warm = z.cut_mm + z.cold_mm
  const bar = (from: number, to: number, fill: string, outline = 'var(--color-base-content)') => (
    <rect
      x={x(from)}
      y={CABLE - HALF}
      width={Math.max(0, x(to) - x(from))}
      height={2 * HALF}
      fill={fill}
      stroke={outline}
    />
  )
  return (
    <figure className="max-w-2xl" aria-label={`Where to cut at ${z.end}`}>
      <figcaption className="text-lg">
        <b>
          End {z.end}
          {label ? `, ${label}` : ''}
        </b>
        : {z.cut_mm > 0.05 ? `cut ${mm(z.cut_mm)} off` : 'cut nothing off'}, {mm(z.cold_mm)} stay cold
        {z.early_mm ? `, ${mm(z.early_mm)} heat before the pipe` : ''}
      </figcaption>
      <svg viewBox={`0 0 ${W} 96`} className="w-full bg-base-100" role="img" aria-label={z.words}>
        <rect
          x={x(Math.max(0, z.pipe_from_mm))}
          y={CABLE - 22}
          width={W - x(Math.max(0, z.pipe_from_mm)) - 2}
          height={44}
          fill="url(#rb-metal)"
          opacity={0.55}
        />
        {z.cut_mm > 0.05 && bar(0, z.cut_mm, 'var(--color-base-100)', 'var(--color-warning)')}
        {bar(z.cut_mm, warm, 'var(--color-base-300)')}
        {bar(z.cut_mm, z.cut_mm + z.opened_mm, 'var(--copper)')}
        {bar(warm, z.shown_mm, 'var(--warm)')}
        {z.points_mm.map((p) => (
          <circle
            key={p}
            cx={x(p)}
            cy={CABLE}
            r={5}
            fill={p < warm - 1e-6 ? 'none' : 'var(--color-base-content)'}
            stroke="var(--color-base-content)"
            strokeWidth={1.5}
          />
        ))}
        {z.cut_mm > 0.05 && (
          <path
            d={`M${x(z.cut_mm)} 8V72`}
            stroke="var(--color-warning)"
            strokeWidth={3}
            strokeDasharray="7 4"
          />
        )}
        {labelled([warm, z.pipe_from_mm, z.cut_mm, 0], x).map((at) => (
          <text key={at} x={Math.min(W - 64, x(at))} y={90} fontSize={17} fill="var(--color-base-content)">
            {mm(at)}
          </text>
        ))}
      </svg>
      <ul className="flex flex-wrap gap-x-5 gap-y-1 text-base">
        {z.cut_mm > 0.05 && <Key fill="var(--color-base-100)" said="cut off" dashed />}
        {z.opened_mm > 0 && <Key fill="var(--copper)" said={`laid open, ${mm(z.opened_mm)}`} />}
        <Key fill="var(--color-base-300)" said="stays cold" />
        <Key fill="var(--warm)" said="heats" />
        <li className="flex items-center gap-1.5">
          <span aria-hidden className="inline-block size-3 rounded-full bg-base-content" />
          connection point
        </li>
        <li className="flex items-center gap-1.5">
          <span aria-hidden className="inline-block h-4 w-6" style={{ background: 'var(--metal)' }} />
          pipe{z.pipe_from_mm > 0 ? `, from ${mm(z.pipe_from_mm)} on` : ''}
        </li>
      </ul>
    </figure>
  )
}

/** The places that are labelled: each as far from those before it as a label is wide. */
function labelled(places: number[], x: (from: number) => number): number[] {
  return places.reduce<number[]>(
    (kept, at) => (kept.every((k) => Math.abs(x(k) - x(at)) > 78) ? kept.concat(at) : kept),
    [],
  )
}

function Key({ fill, said, dashed = false }: { fill: string; said: string; dashed?: boolean }) {
  return (
    <li className="flex items-center gap-1.5">
      <span
        aria-hidden
        className={`inline-block h-4 w-6 border ${dashed ? 'border-dashed border-warning' : 'border-base-content'}`}
        style={{ background: fill }}
      />
      {said}
    </li>
  )
}
