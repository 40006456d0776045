import type { Schemas } from '../../api/client'

interface Props {
  plan: Pick<Schemas['Plan'], 'breaks' | 'steps'>
  /** Only what these steps break; all of the plan where none are named. */
  steps?: Pick<Schemas['StepOut'], 'id'>[]
}

const MOST = 2 // sentences that differ only in their core or end, and titles of steps

/** The first of them, and in words how many more there are. */
function some(all: string[], join: string, rest: (more: number) => string): string {
  const own = [...new Set(all)]
  const more = own.length - MOST
  return [...own.slice(0, MOST), ...(more > 0 ? [rest(more)] : [])].join(join)
}

/** Laws of the work that the shown order breaks, each mend once with the steps it is for: the plan is given, and says
 *  so. */
export function Breaks({ plan, steps }: Props) {
  const ids = steps && new Set(steps.map((s) => s.id))
  const mine = plan.breaks?.filter((b) => !ids || ids.has(b.step)) ?? []
  const mends = [...new Set(mine.map((b) => b.mend))]
  const title = (id: string) => plan.steps.find((s) => s.id === id)?.title ?? id
  if (!mends.length) return null
  return (
    <section className="note" aria-label="What this order gets wrong">
      <p className="font-semibold">
        {steps ? 'As planned, something is missing here:' : 'In this order of work something is wrong:'}
      </p>
      <ul className="list-disc pl-6">
        {mends.map((mend) => {
          const told = mine.filter((b) => b.mend === mend)
          const words = some(
            told.map((b) => b.words),
            ' ',
            (more) => `And ${more} more like these.`,
          )
          const where = some(
            told.map((b) => title(b.step)),
            '; ',
            (more) => `and ${more} more`,
          )
          return (
            <li key={mend}>
              {!steps && `${where}: `}
              {words} <b>{mend}</b>
            </li>
          )
        })}
      </ul>
    </section>
  )
}

/** That the order of a plan of an earlier version was not held against the laws of the work, and why. */
export function Unplayed({ why }: { why: string | undefined }) {
  if (!why) return null // also what an earlier version kept on this device, which does not say
  return (
    <p className="quiet" role="note">
      This plan was made by an earlier version, and nobody has held its order against the laws of the work.{' '}
      {why} Plan again before you go on where that can still be done.
    </p>
  )
}
