import type { Schemas } from '../../api/client'

interface Props {
  plan: Pick<Schemas['Plan'], 'breaks' | 'steps'>
  /** Only what these steps break; all of the plan where none are named. */
  steps?: Pick<Schemas['StepOut'], 'id'>[]
}

/** Laws of the work that the shown order breaks, each sentence once with its mend: the plan is given, and says so. */
export function Breaks({ plan, steps }: Props) {
  const ids = steps && new Set(steps.map((s) => s.id))
  const mine = plan.breaks?.filter((b) => !ids || ids.has(b.step)) ?? []
  const mends = [...new Set(mine.map((b) => b.mend))]
  if (!mends.length) return null
  return (
    <section className="note" aria-label="What this order gets wrong">
      <p className="font-semibold">
        {steps ? 'As planned, something is missing here:' : 'In this order of work something is wrong:'}
      </p>
      <ul className="list-disc pl-6">
        {mends.map((mend) => (
          <li key={mend}>
            {[...new Set(mine.filter((b) => b.mend === mend).map((b) => b.words))].join(' ')} <b>{mend}</b>
          </li>
        ))}
      </ul>
    </section>
  )
}
