import type { UseQueryResult } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import type { Draft, Schemas } from '../../../api/client'
import { FitRuler } from '../../../components/FitRuler'
import { ErrorNote, Loading } from '../../../components/notes'
import { Tabs } from '../../../components/Tabs'
import { TraceChoose } from '../trace/TraceChoose'
import type { useJoint } from '../useJoint'
import type { Work } from '../useWork'
import { Answer } from './Answer'
import { Connector } from './Connector'
import { HowBuilt } from './HowBuilt'
import { Picks } from './Picks'
import { ResinPanel } from './ResinPanel'
import { Side } from './Side'
import { Staggers } from './Staggers'

const PARTS = 'other-parts'

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
  if (draft.family === 'heat-trace')
    return <TraceChoose joint={joint} draft={draft} look={look} planned={planned} />
  if (look.isPending) return <Loading what="what fits" />
  if (look.error)
    return (
      <div className="max-w-3xl">
        <ErrorNote error={look.error} again={() => look.refetch()} />
        <Connector joint={joint} draft={draft} offers={undefined} />
      </div>
    )
  const plan = look.data.plan
  const others = plan.picks.filter((p) => p.layer !== 'connector')
  const failing = plan.choices.find((c) => !c.picked)?.layer ?? (others.some((p) => !p.picked) ? PARTS : null)
  const tabs = [
    ...plan.choices.map((c) => ({ id: c.layer, title: c.title, good: c.picked !== null })),
    ...(others.length ? [{ id: PARTS, title: 'other parts', good: others.every((p) => p.picked) }] : []),
  ]
  const chosen = tab ?? choiceOfLayer(plan, wanted)?.layer ?? (wanted && others.length ? PARTS : null)
  const at = tabs.find((t) => t.id === (chosen ?? failing)) ?? tabs.at(others.length ? -2 : -1) ?? tabs[0]
  const opened = plan.choices.find((c) => c.layer === at?.id)
  return (
    <div className="grid gap-8 lg:grid-cols-[1fr_23rem]">
      <section className="min-w-0">
        <HowBuilt joint={joint} draft={draft} />
        <Tabs label="Layers" tabs={tabs} at={at?.id} onTab={setTab} />
        {opened ? (
          <>
            <Answer choice={opened} plan={plan} />
            <div className="mt-3 max-w-4xl">
              <FitRuler
                choice={opened}
                onPick={(part) => {
                  const key = slotOf(opened.layer)
                  if (key) joint.edit({ choice: { ...draft.choice, [key]: part } })
                }}
              />
            </div>
          </>
        ) : (
          <>
            {draft.build?.closure === 'resin' && <ResinPanel joint={joint} draft={draft} plan={plan} />}
            <Picks picks={others} />
          </>
        )}
        <Staggers
          rows={look.data.staggers}
          now={plan.stagger_steps}
          use={(steps) => joint.edit({ stagger_steps: steps })}
        />
      </section>
      <Side joint={joint} draft={draft} look={look.data} planned={planned} />
    </div>
  )
}

/** Which slot of the choice a layer's part settles. */
function slotOf(layer: string): string {
  if (layer.startsWith('core-sleeve') || layer.startsWith('end-cap')) return 'core_sleeve'
  return { 'outer-sleeve': 'outer_sleeve', 'inner-sleeve': 'inner_sleeve', barrier: 'barrier' }[layer] ?? ''
}

function place(path: string): string {
  const layer = /^\/trace\/cable\/(outer_jacket|inner_jacket|core)/.exec(path)
  if (layer) return `${(layer[1] ?? '').replace('_', ' ').replace('core', 'matrix or overlay')}: `
  const end = /^\/ends\/([AB])(?:\/cores\/(\d))?/.exec(path)
  if (!end) return ''
  return `End ${end[1]}${end[2] ? `, core ${Number(end[2]) + 1}` : ''}: `
}

function choiceOfLayer(plan: Plan, layer: string): Choice | undefined {
  if (!layer) return undefined
  const core = layer.replace(/^(crimp|bolted|soldered|mica|core-tape)-/, 'core-sleeve-')
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
