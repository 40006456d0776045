import type { Schemas } from '../../../api/client'
import { length, sign } from '../../../model/units'
import { useSettings } from '../../../settings'
import { ZoneCut, zoneCuts } from './ZoneCut'

interface Props {
  trace: Schemas['TraceOut']
  /** The ends as they are called. */
  labels?: Schemas['DraftTrace']['ends'] | null
}

/** What the cable comes to: length, fixings, bend, loops, where to cut, breaker. Only what was asked. */
export function Arithmetic({ trace, labels }: Props) {
  const { unit } = useSettings()
  const mm = (v: number) => `${length(v, unit)} ${sign(unit)}`
  const rows: [string, string][] = []
  if (trace.cable_m !== null) rows.push(['Cable to order', `${trace.cable_m.toFixed(2)} m`])
  if (trace.fixings !== null)
    rows.push([
      `Fixings${trace.fixing_tape ? ` with ${trace.fixing_tape}` : ''}, no metal band over the cable`,
      String(trace.fixings),
    ])
  if (trace.bend_radius_mm !== null)
    rows.push(['Bends no tighter, at this temperature', mm(trace.bend_radius_mm)])
  for (const l of trace.loops)
    if (l.remakes_left !== null)
      rows.push([
        `Loop at ${l.end}, ${mm(l.loop_mm ?? 0)}: each remake takes ${mm(l.per_remake_mm)}, ${mm(l.least_loop_mm)} must stay`,
        l.remakes_left === 1 ? '1 remake left' : `${l.remakes_left} remakes left`,
      ])
  if (trace.cold_tail_mm !== null) rows.push(['Stays cold beyond the last point', mm(trace.cold_tail_mm)])
  const cuts = zoneCuts(trace)
  for (const z of cuts) rows.push([z.words, `cut ${mm(z.cut_mm)}`])
  if (trace.circuit)
    rows.push([trace.circuit.words, `${trace.circuit.length_m.toFixed(1)} of ${trace.circuit.most_m} m`])
  rows.push(['Insulation is tested at', `${trace.test_v} V DC`])
  return (
    <section aria-label="The cable's arithmetic">
      <h2>The cable</h2>
      <dl className="rows max-w-4xl text-lg">
        {rows.map(([what, figure]) => (
          <div key={what} className="flex items-baseline gap-4 py-1">
            <dt className="grow">{what}</dt>
            <dd className="text-right font-bold whitespace-nowrap">{figure}</dd>
          </div>
        ))}
      </dl>
      {cuts.length > 0 && (
        <div className="mt-3 flex flex-col gap-4">
          {cuts.map((z) => (
            <ZoneCut key={z.end} zone={z} label={labels?.[z.end as 'A']?.label ?? ''} />
          ))}
        </div>
      )}
    </section>
  )
}
