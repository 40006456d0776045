import { useState } from 'react'
import { useSearchParams } from 'react-router'
import type { Schemas } from '../../../api/client'
import { FitRuler } from '../../../components/FitRuler'
import { ErrorNote, Loading } from '../../../components/notes'
import { Tabs } from '../../../components/Tabs'
import { askedFor } from '../duties'
import { type ChooseProps, placed } from '../forms'
import { Answer } from './Answer'
import { Connector } from './Connector'
import { HowBuilt } from './HowBuilt'
import { Mouths } from './Mouths'
import { Picks } from './Picks'
import { ResinPanel } from './ResinPanel'
import { Side } from './Side'
import { Staggers } from './Staggers'

const PARTS = 'other-parts'

type Plan = Schemas['Plan']
type Choice = Schemas['ChoiceOut']

/** Every layer's part against its window, how the joint is built, and what it comes to. */
export function RoundChoose({ joint, draft, kind, look, planned }: ChooseProps) {
  const found = joint.query.data
  const [params] = useSearchParams()
  const wanted = params.get('layer') ?? ''
  const [tab, setTab] = useState<string | null>(null)
  if (!found) return null
  const ends = kind.form === 'ends'
  if (look.isPending) return <Loading what="what fits" />
  if (look.error)
    return (
      <div className="max-w-3xl">
        <ErrorNote error={look.error} again={() => look.refetch()} />
        {ends && <Connector joint={joint} draft={draft} offers={undefined} />}
      </div>
    )
  const plan = look.data.plan
  const others = plan.picks.filter((p) => p.layer !== 'connector' || !p.picked)
  const failing = plan.choices.find((c) => !c.picked)?.layer ?? (others.some((p) => !p.picked) ? PARTS : null)
  const tabs = [
    ...plan.choices
      .filter((c) => !c.of || c === plan.choices.find((d) => d.of === c.of))
      .map((c) => ({ id: c.layer, title: c.of || c.title, bad: c.picked === null })),
    ...(others.length ? [{ id: PARTS, title: 'other parts', bad: others.some((p) => !p.picked) }] : []),
  ]
  const chosen = tab ?? choiceOfLayer(plan, wanted)?.layer ?? (wanted && others.length ? PARTS : null)
  const at = tabs.find((t) => t.id === (chosen ?? failing)) ?? tabs.at(others.length ? -2 : -1) ?? tabs[0]
  const opened = plan.choices.find((c) => c.layer === at?.id)
  const settle = (part: string) => opened?.slot && joint.edit(placed(draft, opened.slot, part))
  return (
    <div className="grid gap-8 lg:grid-cols-[1fr_23rem]">
      <section className="min-w-0">
        <Tabs label="Layers" tabs={tabs} at={at?.id} onTab={setTab}>
          {opened?.of ? (
            <Mouths
              mouths={plan.choices.filter((c) => c.of === opened.of)}
              asked={askedFor(draft)}
              onPick={settle}
            />
          ) : opened ? (
            <>
              <Answer choice={opened} plan={plan} asked={askedFor(draft)} />
              <div className="mt-3 max-w-4xl">
                <FitRuler choice={opened} onPick={settle} />
              </div>
            </>
          ) : (
            <>
              {draft.build?.closure?.endsWith('resin') && (
                <ResinPanel joint={joint} draft={draft} plan={plan} />
              )}
              <Picks picks={others} />
            </>
          )}
        </Tabs>
        {ends && (
          <section className="mt-6" aria-label="How it is built">
            <h2>How it is built</h2>
            <HowBuilt joint={joint} draft={draft} kind={kind} />
          </section>
        )}
        <Staggers
          rows={look.data.staggers}
          now={plan.stagger_steps}
          use={(steps) => joint.edit({ stagger_steps: steps })}
        />
      </section>
      <Side joint={joint} draft={draft} look={look} planned={planned} ends={ends} />
    </div>
  )
}

/** The choice that a layer's part comes from; for what else lies on a core, that of the sleeve over it. */
function choiceOfLayer(plan: Plan, layer: string): Choice | undefined {
  if (!layer) return undefined
  const core = plan.section?.bodies.find((b) => b.layer === layer)?.core
  return (
    plan.choices.find((c) => c.layers.includes(layer)) ??
    plan.choices.find((c) => core !== undefined && c.cores.includes(core))
  )
}
