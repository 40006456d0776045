import type { Schemas } from '../../../api/client'
import { diameter, length, sign, sleeveName } from '../../../model/units'
import { useSettings } from '../../../settings'
import { PartRings } from './PartRings'

type Plan = Schemas['Plan']
type Choice = Schemas['ChoiceOut']

/** The plain answer for one sleeve: which, cut to what, what it is chosen for, and why. `asked`: what the whole joint
 *  must bear. */
export function Answer({ choice, plan, asked }: { choice: Choice; plan: Plan; asked: string }) {
  const { unit } = useSettings()
  const picked = choice.candidates.find((c) => c.part_id === choice.picked)
  const part = plan.parts.find((p) => p.part_id === choice.picked && choice.layers.includes(p.layer))
  const window = (
    <dl className="mt-2 flex flex-wrap gap-x-6 gap-y-1 text-lg">
      {[
        ['must pass', `${diameter(choice.pass_od_mm, unit)} ${sign(unit)}`],
        ['must grip', `${diameter(choice.seal_od_mm, unit)} ${sign(unit)}`],
        ['ratio needed', choice.ratio_needed.toFixed(2)],
        ['covers', `${length(choice.covered_mm, unit)} ${sign(unit)}`],
        ['bears', asked],
      ].map(([what, value]) => (
        <div key={what} className="flex gap-1.5">
          <dt className="quiet">{what}</dt>
          <dd className="font-semibold">{value}</dd>
        </div>
      ))}
    </dl>
  )
  if (!picked)
    return (
      <div className="mt-3">
        <p className="answer text-error">Nothing in stock fits</p>
        <p className="mt-1 text-lg font-medium">{choice.advice}</p>
        {window}
      </div>
    )
  const cut =
    picked.cut_length_mm === null
      ? 'as it comes'
      : `cut ${unit === 'mm' ? picked.cut_length_mm : length(picked.cut_length_mm ?? 0, unit)} ${sign(unit)}`
  return (
    <div className="mt-3">
      <p className="answer">
        {sleeveName(picked.expanded_id_mm, picked.recovered_id_mm, unit)}, {cut}
      </p>
      <p className="mt-1 max-w-4xl text-lg">
        <b>{picked.name}.</b> {part?.reason}
      </p>
      {choice.decided && <p className="max-w-4xl text-lg">{choice.decided}</p>}
      {window}
      <PartRings choice={choice} part={picked} />
      {plan.chosen_together && <p className="note mt-2 max-w-4xl">{plan.chosen_together}</p>}
    </div>
  )
}
