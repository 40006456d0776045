import type { Draft, Schemas } from '../../../api/client'
import { NumberField } from '../../../components/fields'
import { Caution } from '../../../components/notes'
import { duration } from '../../../model/units'
import type { useJoint } from '../useJoint'
import { PourLine } from './PourLine'

interface Props {
  joint: ReturnType<typeof useJoint>
  draft: Draft
  plan: Schemas['Plan']
}

/** How much resin, how long to pour it, when it is cured; and what those depend on. */
export function ResinPanel({ joint, draft, plan }: Props) {
  const build = draft.build ?? {}
  const set = (change: Partial<Schemas['BuildIn']>) => joint.edit({ build: { ...build, ...change } })
  const r = plan.resin
  const forecast = build.forecast ?? []
  const noted = (i: number, change: Partial<Schemas['ForecastIn']>) =>
    set({ forecast: forecast.map((f, k) => (k === i ? { ...f, ...change } : f)) })
  return (
    <section className="mt-3 max-w-4xl" aria-label="Resin">
      {r && (
        <>
          <p className="answer">
            {r.packs.map((p) => `${p.count} × ${p.part_id}`).join(' + ')}, {Math.round(r.required_ml)} ml
          </p>
          <p className="mt-1 text-lg">
            {Math.round(r.shell_ml)} ml in the shell, {Math.round(r.displaced_ml)} ml taken up by the joint:{' '}
            {Math.round(r.net_ml)} ml to fill. {Math.round(r.left_over_ml)} ml are left.
          </p>
          <dl className="mt-3 grid grid-cols-2 gap-x-6 gap-y-1 text-lg sm:grid-cols-4">
            {(
              [
                ['to pour after mixing', `${Math.floor(r.pour_window_min)} min`],
                ['pot life', `${Math.floor(r.pot_life_min)} min at ${r.resin_c} °C`],
                ['to handle after', duration(r.handle_min)],
                ['to test and energise after', duration(r.full_min)],
              ] as const
            ).map(([what, figure]) => (
              <div key={what} className="flex flex-col-reverse">
                <dt className="quiet text-base">{what}</dt>
                <dd className="text-2xl font-bold">{figure}</dd>
              </div>
            ))}
          </dl>
          <PourLine packs={r.timeline ?? []} alone={(build.persons ?? 1) < 2} />
        </>
      )}
      <div className="mt-4 grid gap-3 sm:grid-cols-2">
        <NumberField
          label="Packs when mixed"
          unit="°C"
          value={build.resin_c ?? null}
          onChange={(resin_c) => set({ resin_c })}
          hint="Empty: as cold as the place is then. A warmed pack gels sooner"
        />
        <NumberField
          label="People who mix and pour"
          unit=""
          value={build.persons ?? 1}
          onChange={(n) => set({ persons: Math.min(4, Math.max(1, Math.round(n ?? 1))) })}
        />
      </div>
      <fieldset className="mt-4">
        <legend className="field-label mb-1">Weather to come, as forecast</legend>
        {forecast.map((f, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: an entry has no other identity, and its hour is being typed
          <div key={i} className="mb-2 flex flex-wrap items-end gap-3">
            <NumberField
              label="In"
              unit="h"
              value={f.at_h}
              onChange={(v) => noted(i, { at_h: Math.max(0, v ?? 0) })}
            />
            <NumberField
              label="it is"
              unit="°C"
              value={f.temperature_c}
              onChange={(v) => noted(i, { temperature_c: v ?? 0 })}
            />
            <button
              type="button"
              className="btn"
              onClick={() => set({ forecast: forecast.filter((_, k) => k !== i) })}
            >
              Leave it out
            </button>
          </div>
        ))}
        <button
          type="button"
          className="btn"
          onClick={() =>
            set({
              forecast: [
                ...forecast,
                {
                  at_h: (forecast.at(-1)?.at_h ?? -6) + 6,
                  temperature_c: forecast.at(-1)?.temperature_c ?? draft.card?.ambient_c ?? 10,
                },
              ],
            })
          }
        >
          Add a temperature
        </button>
      </fieldset>
      <div className="mt-4 mb-6">
        <Caution>Gloves and eye protection, ventilate. Some resins need trained people by law.</Caution>
      </div>
    </section>
  )
}
