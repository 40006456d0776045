import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Link, useNavigate } from 'react-router'
import { api, take } from '../../../api/client'
import { Caution, ErrorNote } from '../../../components/notes'
import { diameter, duration, length, sign } from '../../../model/units'
import { useMay } from '../../../session'
import { useSettings } from '../../../settings'
import { Breaks } from '../Breaks'
import { behind, type ChooseProps } from '../forms'
import type { Saving } from '../useJoint'
import { Connector } from './Connector'
import { Way } from './Way'

const WORKED_OUT = 'Working it out …'
const UNSAVED = 'What you typed is not saved yet'
/** What is waited for before the joint can be planned, by how saving stands. */
const WAITS: Record<Saving, string> = {
  saved: WORKED_OUT,
  waiting: WORKED_OUT,
  saving: WORKED_OUT,
  offline: UNSAVED,
  conflict: UNSAVED,
  refused: UNSAVED,
}

/** What the joint comes to, the way to plan it, and every other way. */
export function Side({
  joint,
  draft,
  look,
  planned,
  ends,
}: Omit<ChooseProps, 'kind'> & {
  /** Whether cores are joined between two ends. */
  ends: boolean
}) {
  const { unit } = useSettings()
  const client = useQueryClient()
  const navigate = useNavigate()
  const works = useMay('jointer')
  const ref = joint.query.data?.ref ?? ''
  const freeze = useMutation({
    mutationFn: async () => {
      const version = await joint.settle()
      return take(
        api.POST('/api/v1/joints/{ref}/plans', {
          params: { path: { ref }, header: { 'If-Match': `"${version}"` } },
        }),
      )
    },
    onSuccess: async () => {
      await Promise.all(
        ['work', 'joint', 'board', 'look'].map((k) => client.invalidateQueries({ queryKey: [k] })),
      )
      navigate(`/joints/${ref}/cut`)
    },
  })
  if (!look.data) return null
  const { plan, ways, differences } = look.data
  const old = behind(joint, look)
  const fits = plan.verdict === 'planned'
  const others = fits ? ways : plan.remedies
  const changed = planned && differences.length > 0
  const { outer_parks_on: _side, ...slots } = draft.choice ?? {}
  const own = Object.values(slots).some(Boolean)
  return (
    <aside className="flex flex-col gap-4">
      {fits && (
        <dl className="grid grid-cols-[1fr_auto] gap-x-4 text-lg">
          <dt>
            {plan.gap_mm === null
              ? 'Hands and waiting'
              : plan.stagger_steps === 1
                ? 'In line'
                : `Staggered in ${plan.stagger_steps} steps`}
          </dt>
          <dd className="font-semibold">{duration(plan.minutes.hands + plan.minutes.waiting)}</dd>
          {plan.gap_mm !== null && (
            <>
              <dt className="quiet">between the cuts</dt>
              <dd className="font-semibold">
                {length(plan.gap_mm ?? 0, unit)} {sign(unit)}
              </dd>
            </>
          )}
          <dt className="quiet">{ends ? 'whole joint' : 'covered, end to end'}</dt>
          <dd className="font-semibold">
            {length(plan.joint_length_mm ?? 0, unit)} {sign(unit)}
          </dd>
          <dt className="quiet">{ends ? 'thickest' : 'widest'}</dt>
          <dd className="font-semibold">
            {diameter(plan.greatest_diameter_mm ?? 0, unit)} {sign(unit)}
          </dd>
          {plan.cost !== null && (
            <>
              <dt className="quiet">parts</dt>
              <dd className="font-semibold">{plan.cost.toFixed(2)}</dd>
            </>
          )}
        </dl>
      )}
      {plan.insert && (
        <div className={`note ${plan.insert.joints > 1 ? 'font-medium' : ''}`}>
          <p>{plan.insert.words}</p>
          <ul className="list-disc pl-5">
            {plan.insert.checked.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
        </div>
      )}
      {plan.warnings.map((w) => (
        <Caution key={w}>{w}</Caution>
      ))}
      <Breaks plan={plan} />
      {changed && (
        <div className="note">
          <p className="font-semibold">This is not the plan of revision {planned.number}:</p>
          <ul className="list-disc pl-5">
            {differences.slice(0, 8).map((d) => (
              <li key={d}>{d}</li>
            ))}
          </ul>
          {differences.length > 8 && <p>and {differences.length - 8} more.</p>}
          <p className="mt-1">What is cut stays cut; only what changed is asked again.</p>
        </div>
      )}
      {fits && works && (!planned || changed || old) && (
        <button
          type="button"
          className="btn btn-primary btn-tall"
          disabled={freeze.isPending || old}
          onClick={() => freeze.mutate()}
        >
          {old
            ? WAITS[joint.saving]
            : planned
              ? `Plan again, revision ${planned.number + 1}`
              : 'Plan it like this'}
        </button>
      )}
      {fits && planned && !changed && !(works && old) && (
        <Link className="btn btn-primary btn-tall" to={`/joints/${ref}/cut`}>
          Planned, revision {planned.number}. On to Cut
        </Link>
      )}
      {freeze.error && <ErrorNote error={freeze.error} />}
      <section>
        <h2>{fits ? 'Other ways' : 'What would help'}</h2>
        {own && (
          <button type="button" className="link" onClick={() => joint.edit({ choice: {} })}>
            Let the sleeves be chosen again
          </button>
        )}
        {look.data.unfinished && (
          <p className="note">
            These are not all: to work out the rest would take more than one question may. Fewer parts in
            stock, or some chosen by hand, bring more.
          </p>
        )}
        {others.length === 0 && <p className="quiet">None with what is in stock.</p>}
        <ul className="rows mt-1">
          {others.map((r) => (
            <Way
              key={r.id}
              way={r}
              plan={plan}
              behind={old}
              use={works && Object.keys(r.change).length ? () => joint.edit(r.change) : undefined}
            />
          ))}
        </ul>
      </section>
      {ends && (
        <Connector
          joint={joint}
          draft={draft}
          offers={plan.picks.find((p) => p.layer === 'connector')?.offers}
        />
      )}
    </aside>
  )
}
