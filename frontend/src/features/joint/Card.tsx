import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api, type Draft, type Schemas, take } from '../../api/client'
import { Field, NumberField, QuantityField, SelectField, TextField } from '../../components/fields'
import { Caution } from '../../components/notes'
import { type Kind, makesOf, sheetMakes, useKinds } from '../../components/useKinds'
import { DUTIES, type Duty } from './duties'
import { kindOf } from './forms'
import type { useJoint } from './useJoint'

type CardData = Schemas['DraftCard']
interface Props {
  joint: ReturnType<typeof useJoint>
  draft: Draft
  kinds: Kind[]
}

export function Card({ joint, draft, kinds }: Props) {
  const lines = useQuery({ queryKey: ['lines'], queryFn: () => take(api.GET('/api/v1/lines')) })
  const found = joint.query.data
  if (!found) return null
  const card: CardData = draft.card ?? {}
  const set = (change: Partial<CardData>) => joint.edit({ card: { ...card, ...change } })
  const end = (name: 'A' | 'B', label: string) =>
    joint.edit({ ends: { ...draft.ends, [name]: { ...draft.ends?.[name], label } } })
  const missing = (path: string) => found.missing.find((m) => m.path === path)
  const fault = (path: string) => joint.error?.at(path)
  const toggle = (duty: Duty) => {
    const now = card.duties ?? []
    set({
      duties: now.includes(duty)
        ? now.filter((d) => d !== duty)
        : [...now.filter((d) => d !== 'dry' || duty === 'dry'), duty],
    })
  }
  const kind = kindOf(kinds, draft)
  const ends = kind?.form === 'ends'
  const build = draft.build ?? {}
  const made = (change: Partial<Schemas['BuildIn']>) => joint.edit({ build: { ...build, ...change } })
  return (
    <div className="grid gap-8 lg:grid-cols-[1fr_1fr_20rem]">
      <section className="flex flex-col gap-4">
        <h2>What and where</h2>
        <SelectField
          label="Kind of joint"
          value={kind?.name ?? ''}
          options={kinds.map((k) => [k.name, k.title] as const)}
          onChange={(v) => joint.edit({ family: v as Schemas['JointPatch']['family'] })}
        />
        <TextField
          label="What it is"
          value={joint.patch.title ?? found.title}
          onChange={(title) => joint.edit({ title })}
        />
        <TextField
          label="Where"
          value={card.where ?? ''}
          onChange={(where) => set({ where })}
          hint={missing('/card/where')}
        />
        <TextField label="Why" value={card.why ?? ''} onChange={(why) => set({ why })} />
        <TextField
          label="Cable"
          value={card.cable ?? ''}
          onChange={(cable) => set({ cable })}
          hint="As printed on its sheath"
        />
        <div className="grid grid-cols-2 gap-3">
          <Field label="Line">
            {({ id }) => (
              <select
                id={id}
                className="select w-full"
                value={String(joint.patch.line_id ?? found.line_id ?? '')}
                onChange={(e) => joint.edit({ line_id: e.target.value ? Number(e.target.value) : null })}
              >
                <option value="">none</option>
                {lines.data?.items.map((l) => (
                  <option key={l.id} value={l.id}>
                    {l.name}
                  </option>
                ))}
              </select>
            )}
          </Field>
          <NumberField
            label="Along the line"
            unit="m"
            value={joint.patch.at_m ?? found.at_m}
            onChange={(at_m) => joint.edit({ at_m })}
            error={fault('/at_m')}
          />
        </div>
      </section>
      <section className="flex flex-col gap-4">
        <h2>What it must stand</h2>
        <div className="grid grid-cols-2 gap-3">
          <NumberField
            label="Rated voltage"
            unit="V"
            value={card.rated_voltage_v}
            onChange={(rated_voltage_v) => set({ rated_voltage_v })}
            hint={missing('/card/rated_voltage_v')}
            error={fault('/card/rated_voltage_v')}
          />
          <NumberField
            label="Temperature there"
            unit="°C"
            value={card.ambient_c}
            onChange={(ambient_c) => set({ ambient_c })}
            error={fault('/card/ambient_c')}
          />
        </div>
        <fieldset>
          <legend className="field-label mb-2">It will live in</legend>
          <div className="grid grid-cols-2 gap-2 sm:grid-cols-3">
            {DUTIES.map(([duty, words]) => (
              <label
                key={duty}
                className={`flex min-h-12 cursor-pointer items-center gap-3 border px-3 ${card.duties?.includes(duty) ? 'border-primary bg-primary/10 font-semibold' : 'border-base-300'}`}
              >
                <input
                  type="checkbox"
                  className="checkbox checkbox-primary"
                  checked={card.duties?.includes(duty) ?? false}
                  onChange={() => toggle(duty)}
                />
                {words}
              </label>
            ))}
          </div>
        </fieldset>
        {ends && (
          <label className="flex min-h-12 cursor-pointer items-center gap-3">
            <input
              type="checkbox"
              className="checkbox checkbox-primary"
              checked={build.cold_only ?? false}
              onChange={(e) => made({ cold_only: e.target.checked })}
            />
            No heat of any kind is allowed there: cold methods only
          </label>
        )}
        {ends && (
          <div className="grid grid-cols-2 gap-3">
            <TextField
              label="Side A comes from"
              value={draft.ends?.A?.label ?? ''}
              onChange={(l) => end('A', l)}
            />
            <TextField
              label="Side B goes to"
              value={draft.ends?.B?.label ?? ''}
              onChange={(l) => end('B', l)}
            />
          </div>
        )}
        <div className="grid grid-cols-2 gap-3">
          <TextField
            label="Permit"
            value={card.permit ?? ''}
            onChange={(permit) => set({ permit })}
            hint="Number, where one is needed"
          />
          <TextField
            label="Permit runs out"
            type="datetime-local"
            value={localTime(card.permit_until)}
            onChange={(t) => set({ permit_until: t ? new Date(t).toISOString() : null })}
            hint="No heat after that"
          />
        </div>
        {ends ? (
          <More joint={joint} draft={draft} made={made} />
        ) : (
          <NumberField
            label="Circuit length tested"
            unit="m"
            value={card.cable_length_m}
            onChange={(cable_length_m) => set({ cable_length_m })}
            hint="For insulation per km"
          />
        )}
        <Link className="btn btn-primary mt-2 self-start" to={`/joints/${found.ref}/measure`}>
          On to Measure
        </Link>
      </section>
      <aside className="flex flex-col gap-3">
        <Caution>
          Before any cut: identify the cable, isolate every feed at both ends, lock, prove dead, prove the
          prover, discharge.
        </Caution>
        <p className="quiet">
          Not a substitute for local codes or a licensed person. Cables that need stress control and voltages
          above the rule book's ceiling are refused.
        </p>
        {kind?.cautions.map((words) => (
          <Caution key={words}>{words}</Caution>
        ))}
        {kind?.form !== 'asks' && (
          <p className="quiet">
            A splice is electrically sound but weak in pull: finish all pulling first, relieve the strain
            after.
          </p>
        )}
      </aside>
    </div>
  )
}

interface MoreProps {
  joint: ReturnType<typeof useJoint>
  draft: Draft
  made: (change: Partial<Schemas['BuildIn']>) => void
}

/** What not every joint needs: damage taken out, the fault the earth carries, bending, a kit's sheet. */
function More({ joint, draft, made }: MoreProps) {
  const card = (change: Partial<CardData>) => joint.edit({ card: { ...draft.card, ...change } })
  const makes = makesOf(useKinds())
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => take(api.GET('/api/v1/sheets')) })
  const build = draft.build ?? {}
  const earth = build.earth
  const sheet = sheets.data?.items.find((s) => s.id === draft.sheet)
  const fault = (change: Partial<Schemas['EarthIn']>) => {
    const next = { fault_current_a: 0, clearing_time_s: 0.4, ...earth, ...change }
    made({ earth: next.fault_current_a > 0 && next.clearing_time_s > 0 ? next : null })
  }
  return (
    <fieldset className="grid grid-cols-2 gap-3 lg:grid-cols-3">
      <legend className="field-label mb-1">Where it applies</legend>
      <NumberField
        label="Cable length"
        unit="m"
        value={draft.card?.cable_length_m}
        onChange={(cable_length_m) => card({ cable_length_m })}
        hint="For insulation per km"
        error={joint.error?.at('/card/cable_length_m')}
      />
      <QuantityField
        label="Damage taken out"
        mm={build.removed_mm}
        onChange={(removed_mm) => made({ removed_mm })}
        hint="One joint or two"
      />
      <NumberField
        label="Earth fault current"
        unit="A"
        value={earth?.fault_current_a}
        onChange={(v) => fault({ fault_current_a: v ?? 0 })}
        hint="For strap and clamps"
      />
      <NumberField
        label="cleared within"
        unit="s"
        value={earth?.clearing_time_s}
        onChange={(v) => fault({ clearing_time_s: v ?? 0.4 })}
        error={joint.error?.at('/build/earth/clearing_time_s')}
      />
      <QuantityField
        label="Least bend radius"
        mm={build.bend_radius_mm}
        onChange={(bend_radius_mm) => made({ bend_radius_mm })}
        hint="Where it moves"
      />
      <div className="col-span-2">
        <SelectField
          label="Figures from a kit sheet"
          hint={sheet?.approval ?? undefined}
          value={draft.sheet ?? ''}
          options={[
            ['', "none: the rule book's own"],
            ...(sheets.data?.items ?? [])
              .filter((s) => !sheetMakes(makes, s.recipe).leaflet)
              .map((s) => [s.id, `${s.name}, revision ${s.revision}`] as const),
          ]}
          onChange={(v) => joint.edit({ sheet: v || null })}
        />
      </div>
    </fieldset>
  )
}

/** A moment as its field wants it: local, to the minute. */
function localTime(moment: string | null | undefined): string {
  if (!moment) return ''
  const at = new Date(moment)
  return new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16)
}
