import type { Schemas } from '../../../api/client'
import { diameter, length, sign, sleeveName } from '../../../model/units'
import { useSettings } from '../../../settings'

type Plan = Schemas['Plan']
type Choice = Schemas['ChoiceOut']

/** The plain answer for one sleeve: which, cut to what, and why. */
export function Answer({ choice, plan }: { choice: Choice; plan: Plan }) {
  const { unit } = useSettings()
  const picked = choice.candidates.find((c) => c.part_id === choice.picked)
  const part = plan.parts.find((p) => p.part_id === choice.picked && choice.layers.includes(p.layer))
  const window = `Must pass ${diameter(choice.pass_od_mm, unit)}, must grip ${diameter(choice.seal_od_mm, unit)} ${sign(unit)}: ratio needed ${choice.ratio_needed.toFixed(3)}.`
  if (!picked)
    return (
      <div className="mt-3">
        <p className="answer text-error">Nothing in stock fits</p>
        <p className="mt-1 text-lg font-medium">{choice.advice}</p>
        <p className="quiet text-lg">{window}</p>
      </div>
    )
  return (
    <div className="mt-3">
      <p className="answer">
        {sleeveName(picked.expanded_id_mm, picked.recovered_id_mm, unit)}, cut{' '}
        {unit === 'mm' ? picked.cut_length_mm : length(picked.cut_length_mm ?? 0, unit)} {sign(unit)}
      </p>
      <p className="mt-1 max-w-4xl text-lg">
        <b>{picked.name}.</b> {part?.reason}
      </p>
      {choice.decided && <p className="max-w-4xl text-lg">{choice.decided}</p>}
      <p className="quiet text-lg">{window}</p>
      {plan.chosen_together && <p className="note mt-2 max-w-4xl">{plan.chosen_together}</p>}
    </div>
  )
}
