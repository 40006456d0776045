import { Link } from 'react-router'
import type { Schemas } from '../../../api/client'
import { NumberField, QuantityField, SelectField, TextField } from '../../../components/fields'
import { inField, sign } from '../../../model/units'
import { useSettings } from '../../../settings'
import type { FormProps } from '../forms'
import { Reading } from '../Reading'
import type { useJoint } from '../useJoint'
import { Circuit } from './Circuit'

type Hook = ReturnType<typeof useJoint>
type Trace = Schemas['DraftTrace']
type Cable = NonNullable<Trace['cable']>
type Flat = Schemas['DraftFlat']
type Side = Schemas['DraftSide']
const LAYERS = [
  ['outer_jacket', 'Outer jacket'],
  ['inner_jacket', 'Inner jacket'],
] as const
const KINDS = [
  ['self-regulating', 'self-regulating'],
  ['power-limiting', 'power-limiting'],
  ['zone', 'constant-wattage, zones'],
] as const

/** A flat cable from outside in, its ends and its circuit. */
export function TraceMeasure({ joint, draft }: FormProps) {
  const { unit } = useSettings()
  const found = joint.query.data
  if (!found) return null
  const trace: Trace = draft.trace ?? {}
  const cable: Cable = trace.cable ?? { construction: 'self-regulating' }
  const set = (change: Partial<Trace>) => joint.edit({ trace: { ...trace, ...change } })
  const lay = (change: Partial<Cable>) => set({ cable: { ...cable, ...change } })
  const zone = cable.construction === 'zone'
  const layers = [...LAYERS, ['core', zone ? 'Overlay' : 'Matrix']] as const
  const fault = (path: string) => joint.error?.at(path) ?? found.missing.find((m) => m.path === path)?.message
  const doubts = found.questions.filter((q) => !q.path.startsWith('/trace/cable/'))
  return (
    <div className="grid gap-8 xl:grid-cols-[1.1fr_1fr]">
      <section aria-label="The cable" className="flex flex-col gap-3">
        <div className="flex flex-wrap items-end gap-3">
          <h1 className="grow">The flat cable</h1>
          <Link className="btn btn-primary" to={`/joints/${found.ref}/choose`}>
            On to Choose
          </Link>
        </div>
        <div className="grid gap-3 sm:grid-cols-2">
          <SelectField
            label="Construction"
            value={cable.construction ?? 'self-regulating'}
            options={KINDS}
            onChange={(v) => lay({ construction: v as Cable['construction'] })}
          />
          <TextField label="As printed on it" value={cable.name ?? ''} onChange={(name) => lay({ name })} />
        </div>
        <p className="quiet">
          Width is the greater reading, thickness the lesser. Limp tubes pass by the girth, stiff ones by the
          width.
        </p>
        {layers.map(([key, words]) => {
          const flat: Flat = cable[key] ?? {}
          return (
            <div key={key} className="grid items-end gap-x-2 gap-y-1 sm:grid-cols-[1fr_1fr_auto_1fr]">
              <Reading
                label={`${words}, width`}
                second="thickness"
                of={`of the ${words.toLowerCase()}`}
                path={`/trace/cable/${key}/width`}
                secondPath={`/trace/cable/${key}/thickness_mm`}
                first={flat.width_mm}
                across={flat.thickness_mm}
                about={flat.width_mm}
                set={(width_mm, thickness_mm) => lay({ [key]: { ...flat, width_mm, thickness_mm } })}
                joint={joint}
              />
              {key === 'outer_jacket' ? (
                <QuantityField
                  label="Braid, one side"
                  mm={cable.braid_mm}
                  onChange={(braid_mm) => lay({ braid_mm })}
                  error={fault('/trace/cable/braid_mm')}
                />
              ) : (
                <span />
              )}
            </div>
          )
        })}
        <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
          <NumberField
            label="Bus wires"
            unit="mm²"
            value={cable.bus_area_mm2}
            onChange={(bus_area_mm2) => lay({ bus_area_mm2 })}
            error={fault('/trace/cable/bus_area_mm2')}
          />
          <QuantityField
            label="each across"
            mm={cable.bus_od_mm}
            onChange={(bus_od_mm) => lay({ bus_od_mm })}
            error={fault('/trace/cable/bus_od_mm')}
          />
          <NumberField
            label="Test voltage allowed"
            unit="V DC"
            value={cable.test_most_v}
            onChange={(test_most_v) => lay({ test_most_v })}
            hint="From its data; else 500"
            error={fault('/trace/cable/test_most_v')}
          />
          {zone && (
            <QuantityField
              label="Between points"
              mm={cable.node_mm}
              onChange={(node_mm) => lay({ node_mm })}
              error={fault('/trace/cable/node_mm')}
              hint="Connection points"
            />
          )}
        </div>
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
              label="drawn with radius"
              mm={side.loop_radius_mm}
              onChange={(loop_radius_mm) => change(e, { ...side, loop_radius_mm })}
              error={joint.error?.at(`${path}/loop_radius_mm`)}
            />
            {zone && (e !== 'A' || here.length > 1) && (
              <QuantityField
                label="Nearest point felt at"
                mm={side.felt_mm}
                onChange={(felt_mm) => change(e, { ...side, felt_mm })}
                error={joint.error?.at(`${path}/felt_mm`)}
              />
            )}
            <QuantityField
              label="Free length"
              mm={side.free_mm}
              onChange={(free_mm) => change(e, { ...side, free_mm })}
              error={joint.error?.at(`${path}/free_mm`)}
            />
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
