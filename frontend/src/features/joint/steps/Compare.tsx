import { diameter, sign } from '../../../model/units'
import { useSettings } from '../../../settings'
import type { WorkProps } from '../useWork'

/** What the plan was made from, to hold against the cables that lie here. */
export function Compare({ work }: Pick<WorkProps, 'work'>) {
  const { unit } = useSettings()
  const ends = [...new Set(work.measured.map((m) => m.end))]
  if (!work.measured.length) return null
  return (
    <section aria-label="Measured for the plan" className="bg-base-100 px-4 py-2">
      <h2>Measured for the plan, {sign(unit)}</h2>
      <div className={`grid gap-x-8 ${ends.length > 1 ? 'sm:grid-cols-2' : ''}`}>
        {ends.map((end) => (
          <table key={end} className="w-full text-lg">
            {end && <caption className="text-left font-semibold">End {end}</caption>}
            <tbody>
              {work.measured
                .filter((m) => m.end === end)
                .map((m) => (
                  <tr key={m.what}>
                    <td className="pr-3">{m.what}</td>
                    <td className="text-right font-semibold whitespace-nowrap">
                      {diameter(m.value_mm, unit)}
                      {m.across_mm !== null && `${m.flat ? ' × ' : ' and '}${diameter(m.across_mm, unit)}`}
                    </td>
                  </tr>
                ))}
            </tbody>
          </table>
        ))}
      </div>
    </section>
  )
}
