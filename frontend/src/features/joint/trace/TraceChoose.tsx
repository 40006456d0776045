import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, take } from '../../../api/client'
import { FitRuler } from '../../../components/FitRuler'
import { ErrorNote, Loading } from '../../../components/notes'
import { PreparedEnd } from '../../../components/PreparedEnd'
import { Tabs } from '../../../components/Tabs'
import { makesOf, sheetMakes, useKinds } from '../../../components/useKinds'
import { useMay } from '../../../session'
import { Side } from '../choose/Side'
import type { ChooseProps } from '../forms'
import { Arithmetic } from './Arithmetic'

/** Which kit; what its leaflet makes of this cable; every tube against its window; the cable's arithmetic. */
export function TraceChoose({ joint, draft, look, planned }: ChooseProps) {
  const [tab, setTab] = useState('')
  const plan = look.data?.plan
  const opened =
    plan?.choices.find((c) => c.layer === tab) ?? plan?.choices.find((c) => !c.picked) ?? plan?.choices[0]
  return (
    <div className="grid gap-8 lg:grid-cols-[1fr_23rem]">
      <section className="flex min-w-0 flex-col gap-6">
        <Kits joint={joint} chosen={draft.sheet ?? ''} />
        {draft.sheet && look.isPending && <Loading what="what the leaflet makes of it" />}
        {draft.sheet && look.error && <ErrorNote error={look.error} again={() => look.refetch()} />}
        {plan?.trace && (
          <>
            <Arithmetic trace={plan.trace} labels={draft.trace?.ends} />
            {plan.choices.length > 0 && (
              <div>
                <h2>Tubes on this cable</h2>
                <Tabs
                  label="Tubes"
                  tabs={plan.choices.map((c) => ({ id: c.layer, title: c.title, bad: c.picked === null }))}
                  at={opened?.layer}
                  onTab={setTab}
                >
                  {opened && (
                    <div className="mt-2 max-w-4xl">
                      {!opened.picked && (
                        <p className="text-lg font-medium text-error">
                          {opened.candidates[0]?.name}: {opened.candidates[0]?.reason || opened.advice}.
                        </p>
                      )}
                      <FitRuler choice={opened} />
                    </div>
                  )}
                </Tabs>
              </div>
            )}
            <div className="grid gap-4">
              <h2>How each end is laid open</h2>
              {plan.trace.prepared.map((p) => (
                <PreparedEnd key={p.end} end={p} label={draft.trace?.ends?.[p.end as 'A']?.label ?? ''} />
              ))}
            </div>
          </>
        )}
      </section>
      <Side joint={joint} draft={draft} look={look} planned={planned} ends={false} />
    </div>
  )
}

/** Every kit's sheet, those that serve first; the rest with the reason why not. */
function Kits({ joint, chosen }: { joint: ChooseProps['joint']; chosen: string }) {
  const ref = joint.query.data?.ref ?? ''
  const version = joint.query.data?.version
  const works = useMay('jointer')
  const makes = makesOf(useKinds())
  const kits = useQuery({
    queryKey: ['kits', ref, version],
    queryFn: () => take(api.GET('/api/v1/joints/{ref}/kits', { params: { path: { ref } } })),
  })
  const [all, setAll] = useState(false)
  if (kits.isPending) return <Loading what="the kits" />
  if (kits.error) return <ErrorNote error={kits.error} again={() => kits.refetch()} />
  const items = kits.data.items
  const now = items.find((k) => k.id === chosen)
  const shown = now && !all ? [now] : items
  return (
    <div>
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1>{now ? 'The kit' : 'Which kit?'}</h1>
        {now && !all && (
          <button type="button" className="link min-h-11" onClick={() => setAll(true)}>
            Take another kit
          </button>
        )}
        <Link className="link ml-auto min-h-11" to="/sheets">
          All kit sheets
        </Link>
      </div>
      <ul className="rows">
        {shown.map((k) => (
          <li key={k.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
            {works && (k !== now || all) && (
              <button
                type="button"
                className={`btn ${k.serves && k !== now ? 'btn-primary' : ''}`}
                disabled={!k.serves || k === now}
                onClick={() => {
                  joint.edit({ sheet: k.id })
                  setAll(false)
                }}
              >
                {k === now ? 'Taken' : 'Take it'}
              </button>
            )}
            <span className="min-w-0 grow">
              <span className="text-lg font-semibold">{k.name}</span>{' '}
              <span className="quiet">
                {sheetMakes(makes, k.recipe).makes}, revision {k.revision}
                {k.state !== 'checked' && `, ${k.state}`}
              </span>
              {!k.serves && <span className="block text-error">Does not serve: {k.reason}.</span>}
            </span>
            <span className={k.on_hand ? '' : 'quiet'}>
              {k.on_hand === null ? 'none listed in stock' : `${k.on_hand} in stock`}
            </span>
            <Link className="link inline-flex min-h-11 items-center" to={`/sheets/${k.id}`}>
              Its sheet
            </Link>
          </li>
        ))}
      </ul>
      {items.length === 0 && <p className="text-lg">There is no kit sheet for heat-trace cable yet.</p>}
    </div>
  )
}
