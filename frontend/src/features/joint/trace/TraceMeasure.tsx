import { Link } from 'react-router'
import type { Schemas } from '../../../api/client'
import { heard, QuantityField, TextField } from '../../../components/fields'
import { inField, sign } from '../../../model/units'
import { useSettings } from '../../../settings'
import type { FormProps } from '../forms'
import type { useJoint } from '../useJoint'
import { Circuit } from './Circuit'
import { FlatCable } from './FlatCable'

type Hook = ReturnType<typeof useJoint>
type Trace = Schemas['DraftTrace']
type Cable = NonNullable<Trace['cable']>
type Side = Schemas['DraftSide']
/** A flat cable from outside in, its ends and its circuit. */
export function TraceMeasure({ joint, draft }: FormProps) {
  const { unit } = useSettings()
  const found = joint.query.data
  if (!found) return null
  const trace: Trace = draft.trace ?? {}
  const cable: Cable = trace.cable ?? { construction: 'self-regulating' }
  const set = (change: Partial<Trace>) => joint.edit({ trace: { ...trace, ...change } })
  const zone = cable.construction === 'zone'
  const doubts = found.questions.filter((q) => !q.path.includes('/cable/'))
  return (
    <div className="grid gap-8 xl:grid-cols-[1.1fr_1fr]">
      <section aria-label="The cable" className="flex flex-col gap-3">
        <div className="flex flex-wrap items-end gap-3">
          <h1 className="grow">The flat cable</h1>
          <Link className="btn btn-primary" to={`/joints/${found.ref}/choose`}>
            On to Choose
          </Link>
        </div>
        <FlatCable
          cable={cable}
          at="/trace/cable"
          lay={(change) => set({ cable: { ...cable, ...change } })}
          joint={joint}
        />
      </section>
      <section aria-label="Ends and circuit" className="flex flex-col gap-5">
        {doubts.map((q) => (
          <p key={q.path} className="note flex flex-wrap items-center gap-2" role="status">
            <span className="grow">{q.message}</span>
            {q.suggestion_mm !== null && (
              <button
                type="button"
                className="btn btn-sm"
                onClick={() => set({ circuit: { ...trace.circuit, spiral_extra: q.suggestion_mm } })}
              >
                It is{' '}
                {q.path.endsWith('spiral_extra')
                  ? q.suggestion_mm
                  : `${inField(q.suggestion_mm, unit)} ${sign(unit)}`}
              </button>
            )}
          </p>
        ))}
        <Ends trace={trace} set={set} joint={joint} />
        <Circuit trace={trace} set={set} joint={joint} zone={zone} />
      </section>
    </div>
  )
}

interface EndsProps {
  trace: Trace
  set: (change: Partial<Trace>) => void
  joint: Hook
}

/** One to three ends: what comes in there, its free length, its loop. */
function Ends({ trace, set, joint }: EndsProps) {
  const zone = trace.cable?.construction === 'zone'
  const ends = trace.ends ?? {}
  const here = (['A', 'B', 'C'] as const).filter((e) => e === 'A' || ends[e])
  const change = (end: 'A' | 'B' | 'C', side: Side | null) =>
    set({ ends: { A: ends.A ?? {}, B: ends.B, C: ends.C, [end]: side } })
  const next = here.length < 3 ? (['A', 'B', 'C'] as const)[here.length] : undefined
  return (
    <div>
      <h2>Ends and loops</h2>
      {here.map((e) => {
        const side: Side = ends[e] ?? {}
        const path = `/trace/ends/${e}`
        const other = side.cable
        return (
          <div key={e} className="grid grid-cols-2 items-end gap-x-2 gap-y-1 py-1.5 sm:grid-cols-4">
            <TextField
              label={`End ${e}`}
              value={side.label ?? ''}
              onChange={(label) => change(e, { ...side, label })}
            />
            <QuantityField
              label={`Loop at ${e}`}
              mm={side.loop_mm}
              onChange={(loop_mm) => change(e, { ...side, loop_mm })}
              error={joint.error?.at(`${path}/loop_mm`)}
            />
            <QuantityField
              label={heard('drawn with radius', `at ${e}`)}
              mm={side.loop_radius_mm}
              onChange={(loop_radius_mm) => change(e, { ...side, loop_radius_mm })}
              error={joint.error?.at(`${path}/loop_radius_mm`)}
            />
            {(other ? other.construction === 'zone' : zone) && (e !== 'A' || here.length > 1) && (
              <QuantityField
                label={heard('Nearest point felt at', `end ${e}`)}
                mm={side.felt_mm}
                onChange={(felt_mm) => change(e, { ...side, felt_mm })}
                error={joint.error?.at(`${path}/felt_mm`)}
              />
            )}
            <QuantityField
              label={heard('Free length', `at ${e}`)}
              mm={side.free_mm}
              onChange={(free_mm) => change(e, { ...side, free_mm })}
              error={joint.error?.at(`${path}/free_mm`)}
            />
            {e !== 'A' && (
              <label className="col-span-full flex min-h-11 items-center gap-3 text-lg">
                <input
                  type="checkbox"
                  className="checkbox"
                  checked={Boolean(other)}
                  onChange={(ev) => change(e, { ...side, cable: ev.target.checked ? likeA(trace) : null })}
                />
                Another cable than at A comes in at {e}
              </label>
            )}
            {other && (
              <fieldset
                aria-label={`The cable of ${e}`}
                className="panel col-span-full flex flex-col gap-3 p-3"
              >
                <FlatCable
                  cable={other}
                  at={`${path}/cable`}
                  lay={(more) => change(e, { ...side, cable: { ...other, ...more } })}
                  joint={joint}
                />
              </fieldset>
            )}
          </div>
        )
      })}
      <div className="flex gap-4">
        {next && (
          <button type="button" className="link min-h-11" onClick={() => change(next, {})}>
            One more end, {next}
          </button>
        )}
        {here.length > 1 && (
          <button type="button" className="link min-h-11" onClick={() => change(here.at(-1) ?? 'C', null)}>
            Without {here.at(-1)}
          </button>
        )}
      </div>
    </div>
  )
}

/** What another cable starts from: the same kind, nothing measured. */
function likeA(trace: Trace): Cable {
  return { construction: trace.cable?.construction ?? 'self-regulating' }
}
