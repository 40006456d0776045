import { type UseQueryResult, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { api, type Draft, type Schemas, take } from '../../api/client'
import { FitRuler } from '../../components/FitRuler'
import { Field } from '../../components/fields'
import { Caution, ErrorNote, Loading } from '../../components/notes'
import { diameter, duration, length, sign, sleeveName } from '../../model/units'
import { useMay } from '../../session'
import { useSettings } from '../../settings'
import type { useJoint } from './useJoint'
import type { Work } from './useWork'

type Hook = ReturnType<typeof useJoint>
type Plan = Schemas['Plan']
type Choice = Schemas['ChoiceOut']
interface Props {
  joint: Hook
  draft: Draft
  look: UseQueryResult<Schemas['Look']>
  planned: Work | undefined
}

export function Choose({ joint, draft, look, planned }: Props) {
  const found = joint.query.data
  const [params] = useSearchParams()
  const wanted = params.get('layer') ?? ''
  const [tab, setTab] = useState<string | null>(null)
  if (!found) return null
  if (found.missing.length)
    return (
      <div className="max-w-2xl text-lg">
        <h1>Not enough is measured yet</h1>
        <ul className="mt-3 list-disc pl-6">
          {found.missing.map((m) => (
            <li key={m.path + m.message}>
              <Link
                className="link"
                to={`/joints/${found.ref}/${m.path.startsWith('/card') ? 'card' : 'measure'}`}
              >
                {place(m.path)}
                {m.message}
              </Link>
            </li>
          ))}
        </ul>
      </div>
    )
  if (look.isPending) return <Loading what="what fits" />
  if (look.error)
    return (
      <div className="max-w-3xl">
        <ErrorNote error={look.error} again={() => look.refetch()} />
        <Connector joint={joint} draft={draft} />
      </div>
    )
  const plan = look.data.plan
  const outer = plan.choices.at(-1)
  const failing = plan.choices.find((c) => !c.picked)
  const opened =
    plan.choices.find((c) => c.layer === (tab ?? '')) ?? choiceOfLayer(plan, wanted) ?? failing ?? outer
  if (!opened) return null
  return (
    <div className="grid gap-8 lg:grid-cols-[1fr_23rem]">
      <section className="min-w-0">
        <div role="tablist" aria-label="Layers" className="flex flex-wrap gap-x-6">
          {plan.choices.map((c) => (
            <button
              key={c.layer}
              type="button"
              role="tab"
              aria-selected={c === opened}
              className={`min-h-11 border-b-3 text-lg ${c === opened ? 'border-primary font-bold' : 'border-transparent font-medium'} ${c.picked ? '' : 'text-error'}`}
              onClick={() => setTab(c.layer)}
            >
              {c.title}
              {!c.picked && ' ✕'}
            </button>
          ))}
        </div>
        <Answer choice={opened} plan={plan} />
        <div className="mt-3 max-w-4xl">
          <FitRuler
            choice={opened}
            onPick={(part) => {
              const key = opened.layer === 'outer-sleeve' ? 'outer_sleeve' : 'core_sleeve'
              joint.edit({ choice: { ...draft.choice, [key]: part } })
            }}
          />
        </div>
      </section>
      <Side joint={joint} draft={draft} look={look.data} planned={planned} />
    </div>
  )
}

function place(path: string): string {
  const end = /^\/ends\/([AB])(?:\/cores\/(\d))?/.exec(path)
  if (!end) return ''
  return `End ${end[1]}${end[2] ? `, core ${Number(end[2]) + 1}` : ''}: `
}

function choiceOfLayer(plan: Plan, layer: string): Choice | undefined {
  if (!layer) return undefined
  const core = layer.replace('crimp-', 'core-sleeve-')
  return (
    plan.choices.find((c) => c.layer === core) ??
    plan.choices.find(
      (c) =>
        core.startsWith('core-sleeve-') &&
        c.layer.startsWith('core-sleeve-') &&
        c.title.match(/\d+/g)?.includes(core.slice(12)),
    )
  )
}

function Answer({ choice, plan }: { choice: Choice; plan: Plan }) {
  const { unit } = useSettings()
  const picked = choice.candidates.find((c) => c.part_id === choice.picked)
  const part = plan.parts.find(
    (p) => p.part_id === choice.picked && (choice.layer === 'outer-sleeve') === (p.layer === 'outer-sleeve'),
  )
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
      <p className="quiet text-lg">{window}</p>
      {plan.chosen_together && <p className="note mt-2 max-w-4xl">{plan.chosen_together}</p>}
    </div>
  )
}

function Side({
  joint,
  draft,
  look,
  planned,
}: {
  joint: Hook
  draft: Draft
  look: Schemas['Look']
  planned: Work | undefined
}) {
  const { unit } = useSettings()
  const client = useQueryClient()
  const navigate = useNavigate()
  const works = useMay('jointer')
  const ref = joint.query.data?.ref ?? ''
  const plan = look.plan
  const fits = plan.verdict === 'planned'
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
  const others = fits ? look.ways : plan.remedies
  const changed = planned && look.differences.length > 0
  const own = draft.choice?.core_sleeve || draft.choice?.outer_sleeve
  return (
    <aside className="flex flex-col gap-4">
      {fits && (
        <dl className="grid grid-cols-[1fr_auto] gap-x-4 text-lg">
          <dt>{plan.stagger_steps === 1 ? 'In line' : `Staggered in ${plan.stagger_steps} steps`}</dt>
          <dd className="font-semibold">{duration(plan.minutes.hands + plan.minutes.waiting)}</dd>
          <dt className="quiet">between the sheath cuts</dt>
          <dd className="font-semibold">
            {length(plan.gap_mm ?? 0, unit)} {sign(unit)}
          </dd>
          <dt className="quiet">whole joint</dt>
          <dd className="font-semibold">
            {length(plan.joint_length_mm ?? 0, unit)} {sign(unit)}
          </dd>
          <dt className="quiet">thickest</dt>
          <dd className="font-semibold">
            {diameter(plan.greatest_diameter_mm ?? 0, unit)} {sign(unit)}
          </dd>
        </dl>
      )}
      {plan.warnings.map((w) => (
        <Caution key={w}>{w}</Caution>
      ))}
      {changed && (
        <div className="note">
          <p className="font-semibold">This is not the plan of revision {planned.number}:</p>
          <ul className="list-disc pl-5">
            {look.differences.slice(0, 8).map((d) => (
              <li key={d}>{d}</li>
            ))}
          </ul>
          {look.differences.length > 8 && <p>and {look.differences.length - 8} more.</p>}
          <p className="mt-1">What is cut stays cut; only what changed is asked again.</p>
        </div>
      )}
      {fits && works && (!planned || changed) && (
        <button
          type="button"
          className="btn btn-primary btn-tall"
          disabled={freeze.isPending}
          onClick={() => freeze.mutate()}
        >
          {planned ? `Plan again, revision ${planned.number + 1}` : 'Plan it like this'}
        </button>
      )}
      {fits && planned && !changed && (
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
        {others.length === 0 && <p className="quiet">None with what is in stock.</p>}
        <ul className="rows mt-1">
          {others.map((r) => (
            <Way
              key={r.id}
              way={r}
              plan={plan}
              use={works && Object.keys(r.change).length ? () => joint.edit(r.change) : undefined}
            />
          ))}
        </ul>
      </section>
      <Connector joint={joint} draft={draft} />
    </aside>
  )
}

function Way({ way, plan, use }: { way: Schemas['Remedy']; plan: Plan; use?: () => void }) {
  const { unit } = useSettings()
  const minutes = way.minutes
    ? way.minutes.hands +
      way.minutes.waiting -
      (plan.verdict === 'planned' ? plan.minutes.hands + plan.minutes.waiting : 0)
    : null
  return (
    <li className="py-2.5">
      <div className="flex items-baseline justify-between gap-3">
        <span className="text-lg font-semibold">{way.title}</span>
        {minutes !== null && (
          <b className="whitespace-nowrap">
            {plan.verdict === 'planned' && minutes >= 0 ? '+' : ''}
            {Math.round(minutes)} min
          </b>
        )}
      </div>
      <p>{way.why}</p>
      {way.joint_length_mm !== null && (
        <p className="quiet">
          {length(way.joint_length_mm, unit)} long, {diameter(way.greatest_diameter_mm ?? 0, unit)} thick
        </p>
      )}
      {use && (
        <button type="button" className="btn btn-sm mt-1" onClick={use}>
          Use this way
        </button>
      )}
    </li>
  )
}

function Connector({ joint, draft }: { joint: Hook; draft: Draft }) {
  const stock = useQuery({
    queryKey: ['stock', false],
    queryFn: () => take(api.GET('/api/v1/stock', { params: { query: {} } })),
  })
  const areas = [...(draft.ends?.A?.cores ?? []), ...(draft.ends?.B?.cores ?? [])].map((c) => c.area_mm2 ?? 0)
  const suiting = stock.data?.items.filter((p) => {
    const low = Number(p.figures.area_least_mm2 ?? 0)
    const high = Number(p.figures.area_most_mm2 ?? 1e6)
    return p.kind === 'connector' && areas.every((a) => a >= low && a <= high)
  })
  return (
    <Field label="Connector" hint="The slimmest that suits every core is taken by itself">
      {({ id }) => (
        <select
          id={id}
          className="select w-full"
          value={draft.connector?.part_id ?? ''}
          onChange={(e) => joint.edit({ connector: e.target.value ? { part_id: e.target.value } : null })}
        >
          <option value="">chosen from stock</option>
          {suiting?.map((p) => (
            <option key={p.part_id} value={p.part_id}>
              {String(p.figures.name ?? p.part_id)}, ⌀ {String(p.figures.od_mm)}, {p.on_hand - p.reserved}{' '}
              free
            </option>
          ))}
        </select>
      )}
    </Field>
  )
}
