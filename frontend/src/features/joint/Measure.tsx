import { useState } from 'react'
import { Link } from 'react-router'
import type { Schemas } from '../../api/client'
import { Field, heard, QuantityField, SelectField } from '../../components/fields'
import { AMERICAN, METRIC, sizeSaid } from '../../model/areas'
import { useSettings } from '../../settings'
import type { FormProps } from './forms'
import { type EndProps, Layers, Unlike } from './MeasureLayers'
import { Reading, simulatedOf } from './Reading'

type End = Schemas['DraftEnd']
type Core = Schemas['DraftCore']
type Side = 'A' | 'B'
const COLOURS = ['brown', 'black', 'grey', 'blue', 'green-yellow', 'red', 'white', 'yellow', 'orange']
const SIZES: readonly (readonly [string, readonly number[]])[] = [
  ['mm²', METRIC],
  ['AWG and kcmil', AMERICAN.map((s) => s.mm2)],
]
const KNOWN = new Set(SIZES.flatMap(([, sizes]) => sizes))
const USUAL = ['brown', 'black', 'grey', 'blue', 'green-yellow']

export function Measure({ joint, draft, kind }: FormProps) {
  const found = joint.query.data
  if (!found) return null
  const ends = { A: draft.ends?.A ?? {}, B: draft.ends?.B ?? {} }
  const count = Math.max(ends.A.cores?.length ?? 0, ends.B.cores?.length ?? 0)
  const setCount = (n: number) => {
    const sized = (end: End): End => ({
      ...end,
      cores: Array.from({ length: n }, (_, i): Core => end.cores?.[i] ?? blank(i, n, end.cores?.[0])),
    })
    const fewer = kind.branches && (ends.B.cores?.length ?? 0) > 0 && (ends.B.cores?.length ?? 0) < n
    joint.edit({ ends: { A: sized(ends.A), B: fewer ? ends.B : sized(ends.B) } })
  }
  const set = (side: Side, end: End) => joint.edit({ ends: { ...ends, [side]: end } })
  const same = () => {
    const { label } = ends.B
    set('B', { ...structuredClone(ends.A), label, free_mm: ends.B.free_mm, slack_mm: ends.B.slack_mm })
    const marks = simulatedOf(joint).filter((p) => !p.startsWith('/ends/B'))
    const copied = marks.filter((p) => p.startsWith('/ends/A')).map((p) => p.replace('/ends/A', '/ends/B'))
    if (copied.length) joint.edit({ simulated: [...marks, ...copied] })
  }
  // cores that are alike are questioned alike, and their reading stands here once
  const asked = new Set(found.questions.map((q) => `${q.path.replace(/cores\/\d+/, '')} ${q.suggestion_mm}`))
    .size
  return (
    <div>
      <div className="flex flex-wrap items-end gap-6">
        <fieldset>
          <legend className="field-label mb-1">Cores</legend>
          <div className="join">
            {[1, 2, 3, 4, 5].map((n) => (
              <button
                key={n}
                type="button"
                aria-pressed={count === n}
                className={`btn join-item min-w-12 text-lg ${count === n ? 'btn-primary' : ''}`}
                onClick={() => setCount(n)}
              >
                {n}
              </button>
            ))}
          </div>
        </fieldset>
        <p className="quiet max-w-xl pb-1">
          Two readings at 90° where it is not round: the greater must be passed, the lesser gripped. A
          calliper reading always wins.
        </p>
        <div className="ml-auto flex items-center gap-3">
          <button type="button" className="btn" onClick={same} disabled={!ends.A.cores?.length}>
            End B reads the same
          </button>
          <Link className="btn btn-primary" to={`/joints/${found.ref}/choose`}>
            On to Choose
          </Link>
        </div>
      </div>
      {count === 0 && <p className="mt-6 text-lg">How many cores does the cable have?</p>}
      {asked > 0 && (
        <p className="note mt-4 font-medium" role="status">
          {asked === 1 ? 'One reading is' : `${asked} readings are`} questioned below. They are kept as you
          typed them.
        </p>
      )}
      {count > 0 && (
        <div className="mt-4 grid gap-8 xl:grid-cols-2">
          {(['A', 'B'] as const).map((side) => (
            <EndForm
              key={`${side}${count}`}
              side={side}
              end={ends[side]}
              other={ends[side === 'A' ? 'B' : 'A']}
              set={(e) => set(side, e)}
              joint={joint}
              tap={kind.branches}
            />
          ))}
        </div>
      )}
    </div>
  )
}

function blank(i: number, n: number, like?: Core): Core {
  const colour =
    n === 1
      ? 'brown'
      : i === n - 1 && n >= 3
        ? 'green-yellow'
        : n === 3 && i === 1
          ? 'blue'
          : n === 2 && i === 1
            ? 'blue'
            : USUAL[i]
  return {
    name: String(i + 1),
    colour: colour ?? null,
    area_mm2: like?.area_mm2 ?? null,
    class: like?.class ?? 2,
  }
}

const MEASURED = [
  'insulation_od_mm',
  'insulation_od_across_mm',
  'area_mm2',
  'class',
  'metal',
  'shape',
  'conductor_od_mm',
] as const

/** Whether two cores have the same measures. */
function measuresAlike(a: Core, b: Core | undefined): boolean {
  return MEASURED.every((key) => (a[key] ?? null) === (b?.[key] ?? null))
}

/** A core with the measures of the first. */
function likeFirst(core: Core, first: Core | undefined): Core {
  return { ...core, ...Object.fromEntries(MEASURED.map((key) => [key, first?.[key]])) }
}

/** A core's name with its colour. */
function Colour({ side, core, set }: { side: Side; core: Core; set: (colour: Core['colour']) => void }) {
  return (
    <Field label={heard(`Core ${core.name}`, `of end ${side}, colour`)}>
      {({ id }) => (
        <select
          id={id}
          className="select w-full"
          value={core.colour ?? ''}
          onChange={(e) => set(e.target.value || null)}
        >
          <option value="">no colour</option>
          {COLOURS.map((k) => (
            <option key={k}>{k}</option>
          ))}
        </select>
      )}
    </Field>
  )
}

function EndForm({ side, end, other, set, joint, tap }: EndProps) {
  const { unit } = useSettings()
  const path = `/ends/${side}`
  const cores = end.cores ?? []
  const [unlike, setUnlike] = useState(() =>
    cores.some((c) => c.metal === 'aluminium' || c.shape === 'sector' || (c.joins && c.joins !== c.name)),
  )
  const equal = cores.length > 1 && cores.every((c) => measuresAlike(c, cores[0]))
  const [once, setOnce] = useState(equal)
  const alike = once && equal
  /** A colour is one core's own; what is measured is every core's while they are alike. */
  const core = (i: number, change: Partial<Core>, own = false) =>
    set({ ...end, cores: cores.map((c, k) => (k === i || (alike && !own) ? { ...c, ...change } : c)) })
  const measured = alike ? cores.slice(0, 1) : cores
  const called = (c: Core) => (alike ? 'every core' : `core ${c.name}`)
  return (
    <section aria-label={`End ${side}`} className="bg-base-100 p-4">
      <h2 className="text-2xl">
        {side} <span className="quiet text-lg font-normal">{end.label}</span>
      </h2>
      <div className="mt-2 grid items-end gap-x-2 gap-y-1 sm:grid-cols-[1fr_1fr_auto_6.4rem_6.4rem]">
        {end.unsheathed ? (
          <p className="self-center sm:col-span-3">
            {cores.length > 1
              ? 'Covered conductors: the insulation of each is its outside.'
              : 'A single insulated wire: its insulation is its outside.'}
          </p>
        ) : (
          <Reading
            label="Sheath"
            of={`of end ${side}`}
            path={`${path}/sheath_od`}
            first={end.sheath_od_mm}
            across={end.sheath_od_across_mm}
            about={end.sheath_od_mm ?? other.sheath_od_mm}
            set={(first, across) => set({ ...end, sheath_od_mm: first, sheath_od_across_mm: across })}
            joint={joint}
          />
        )}
        <QuantityField
          label={heard('Free tail', `of end ${side}`)}
          mm={end.free_mm}
          onChange={(free_mm) => set({ ...end, free_mm })}
          error={joint.error?.at(`${path}/free_mm`)}
        />
        <QuantityField
          label={heard('Slack in loop', `of end ${side}`)}
          mm={end.slack_mm}
          onChange={(slack_mm) => set({ ...end, slack_mm })}
          error={joint.error?.at(`${path}/slack_mm`)}
        />
      </div>
      {!end.unsheathed && end.sheath_od_across_mm != null && (
        <label className="mt-2 flex min-h-12 cursor-pointer items-center gap-3">
          <input
            type="checkbox"
            className="checkbox checkbox-primary"
            checked={end.flat ?? false}
            onChange={(e) => set({ ...end, flat: e.target.checked })}
          />
          A flat cable: the two readings are its width and its thickness
          <span className="sr-only">, end {side}</span>
        </label>
      )}
      {(cores.length === 1 || tap) && !end.armour && !end.lead_sheath && (
        <label className="mt-2 flex min-h-12 cursor-pointer items-center gap-3">
          <input
            type="checkbox"
            className="checkbox checkbox-primary"
            checked={end.unsheathed ?? false}
            onChange={(e) =>
              set({
                ...end,
                unsheathed: e.target.checked,
                sheath_od_mm: null,
                sheath_od_across_mm: null,
              })
            }
          />
          {tap
            ? 'No sheath: covered conductors, each with its own insulation only'
            : 'No sheath: a single insulated wire, or one of an overhead line'}
          <span className="sr-only">, end {side}</span>
        </label>
      )}
      <Layers side={side} end={end} other={other} set={set} joint={joint} tap={tap} />
      {cores.length > 1 && (
        <label className="mt-2 flex min-h-11 cursor-pointer items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-primary"
            checked={alike}
            onChange={(e) => {
              setOnce(e.target.checked)
              if (e.target.checked) set({ ...end, cores: cores.map((c) => likeFirst(c, cores[0])) })
            }}
          />
          all cores alike: measured once<span className="sr-only">, end {side}</span>
        </label>
      )}
      {alike && (
        <div className="mt-1 grid grid-cols-[repeat(auto-fill,minmax(8.5rem,1fr))] gap-2">
          {cores.map((c, i) => (
            <Colour key={c.name} side={side} core={c} set={(colour) => core(i, { colour }, true)} />
          ))}
        </div>
      )}
      <div className="rows mt-3">
        {measured.map((c, i) => (
          <div
            key={c.name}
            className="grid items-end gap-x-2 gap-y-1 py-3 sm:grid-cols-[6.5rem_1fr_1fr_auto_6.2rem_6.5rem]"
          >
            {alike ? (
              <span className="self-center font-semibold">Every core</span>
            ) : (
              <Colour side={side} core={c} set={(colour) => core(i, { colour })} />
            )}
            <Reading
              label="Insulation"
              of={`of ${called(c)}, end ${side}`}
              alike={alike ? cores.slice(1).map((_, k) => `${path}/cores/${k + 1}/insulation_od`) : []}
              path={`${path}/cores/${i}/insulation_od`}
              first={c.insulation_od_mm}
              across={c.insulation_od_across_mm}
              about={c.insulation_od_mm ?? other.cores?.[i]?.insulation_od_mm ?? cores[0]?.insulation_od_mm}
              set={(first, across) => core(i, { insulation_od_mm: first, insulation_od_across_mm: across })}
              joint={joint}
            />
            <Field label={heard('Conductor', `of ${called(c)}, end ${side}`)}>
              {({ id }) => (
                <select
                  id={id}
                  className="select w-full"
                  value={String(c.area_mm2 ?? '')}
                  onChange={(e) => core(i, { area_mm2: e.target.value ? Number(e.target.value) : null })}
                >
                  <option value="">size …</option>
                  {c.area_mm2 && !KNOWN.has(c.area_mm2) && (
                    <option value={c.area_mm2}>{sizeSaid(c.area_mm2)}</option>
                  )}
                  {(unit === 'inch' ? [...SIZES].reverse() : SIZES).map(([said, sizes]) => (
                    <optgroup key={said} label={said}>
                      {sizes.map((a) => (
                        <option key={a} value={a}>
                          {sizeSaid(a)}
                        </option>
                      ))}
                    </optgroup>
                  ))}
                </select>
              )}
            </Field>
            <SelectField
              label={heard('Strands', `of ${called(c)}, end ${side}`)}
              value={String(c.class ?? 2)}
              options={[
                ['1', 'solid'],
                ['2', 'stranded'],
                ['5', 'flexible'],
              ]}
              onChange={(v) => core(i, { class: Number(v) as Core['class'] })}
            />
            {unlike && (
              <Unlike
                core={c}
                mains={side === 'B' ? (other.cores ?? []).map((o) => o.name) : []}
                set={(change) => core(i, change)}
              />
            )}
          </div>
        ))}
      </div>
      <button type="button" className="link mt-2 min-h-11" onClick={() => setUnlike(!unlike)}>
        {unlike ? 'Hide' : 'Aluminium, sector-shaped'}
        {side === 'B' && !unlike ? ', or joined to another name' : ''}
      </button>
    </section>
  )
}
