import type { Schemas } from '../../../api/client'
import { FitRuler } from '../../../components/FitRuler'
import { diameter, sign } from '../../../model/units'
import { useSettings } from '../../../settings'

type Choice = Schemas['ChoiceOut']

/** A part with several mouths: the part first, then every mouth on a ruler of its own, one under the other. */
export function Mouths({
  mouths,
  asked,
  onPick,
}: {
  mouths: Choice[]
  asked: string
  onPick: (part: string) => void
}) {
  const { unit } = useSettings()
  const first = mouths[0]
  const picked = first?.candidates.find((c) => c.part_id === first.picked)
  return (
    <div className="mt-3">
      <p className={`answer ${picked ? '' : 'text-error'}`}>
        {picked ? picked.name : `No ${first?.of} in stock fits every mouth`}
      </p>
      <p className="mt-1 text-lg">
        {picked ? 'Used as it comes.' : 'Each ruler says where it fails.'}{' '}
        <span className="quiet">bears</span> <b>{asked}</b>
      </p>
      {mouths.map((m) => (
        <section key={m.layer} aria-label={m.title} className="mt-5 max-w-4xl">
          <h2 className="flex flex-wrap items-baseline gap-x-5">
            {m.title.slice(0, 1).toUpperCase() + m.title.slice(1)}
            <span className="text-base font-normal">
              <span className="quiet">must pass</span>{' '}
              <b>
                {diameter(m.pass_od_mm, unit)} {sign(unit)}
              </b>
              , <span className="quiet">must grip</span>{' '}
              <b>
                {diameter(m.seal_od_mm, unit)} {sign(unit)}
              </b>
            </span>
          </h2>
          <FitRuler choice={m} onPick={m.slot ? onPick : undefined} />
        </section>
      ))}
    </div>
  )
}
