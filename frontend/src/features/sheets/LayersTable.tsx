import { FigureField } from './FigureField'
import { Labelled, Tick } from './PartsTable'
import { type Asked, GROUPS, KINDS, kindOf, newRow, type Part, partsFor, type Row } from './rowkinds'
import { AddRow, MoveRow, moved, Num, Pick, Word, Words } from './rows'
import type { At, Edit } from './typing'
import type { Leaflet } from './useSheet'

const WIRES = [
  ['bus-1', 'bus wire 1'],
  ['bus-2', 'bus wire 2'],
  ['braid', 'braid'],
] as const
const ON = [...WIRES.slice(0, 2), ['braid', 'pigtail'], ['supply', 'supply wires']] as const
const SCHOOLS = [
  ['', 'as a strip, cut out'],
  ['wires', 'wires peeled out, rest snipped'],
] as const
const DATUMS = [
  ['outer-jacket-cut', "the outer jacket's cut"],
  ['inner-jacket-cut', "the inner jacket's cut"],
  ['cable-end', "the cable's end"],
] as const
const FOR = [
  ['', 'every cable'],
  ['self-regulating', 'self-regulating'],
  ['power-limiting', 'power-limiting'],
  ['zone', 'zone cable'],
] as const
const ENDS: Record<string, string[]> = {
  'trace-splice': ['A', 'B'],
  'trace-tee': ['A', 'B', 'C'],
  'trace-power-end': ['A', 'B'],
}

/** What crimps join: those ticked, or both bus wires and the braid where nobody said. */
export const joinedBy = (x: Row) => (x.joins?.length ? x.joins : WIRES.map(([wire]) => wire))

export function withWire(x: Row, wire: (typeof WIRES)[number][0], on: boolean): Row['joins'] {
  const others = joinedBy(x).filter((w) => w !== wire)
  const next = on ? [...others, wire] : others
  return next.length ? next : joinedBy(x) // a row of crimps joins something
}

const isCut = (x: Row) => x.kind === 'cut' || x.kind === 'strip-core'
const onWires = (x: Row) => (x.on?.length ? x.on : (['bus-1', 'bus-2'] as const))

function placesOf(recipe: string): (readonly [string, string])[] {
  const joined = recipe === 'trace-splice' || recipe === 'trace-tee'
  const ends = (ENDS[recipe] ?? []).map((e) => [e, `end ${e}`] as const)
  return [['', 'every end'], ...ends, ...(joined ? [['joint', 'over both sides'] as const] : [])]
}

interface Props {
  leaflet: Leaflet
  recipe: string
  edit: Edit
  at: At
}

/** The work in its order: move a row and the order of the steps moves with it. */
export function LayersTable({ leaflet, recipe, edit, at }: Props) {
  const rows = leaflet.layers ?? []
  const parts = leaflet.parts ?? []
  const put = (i: number, change: Partial<Row>) =>
    edit({ layers: rows.map((x, k) => (k === i ? { ...x, ...change } : x)) })
  return (
    <section aria-label="Rows">
      <h2>The work, row by row</h2>
      <p className="quiet">
        In the leaflet's order. Isolation, tests, wipes, looks, waits and holds come by themselves and are
        marked as added; no sheet can leave them out.
      </p>
      {leaflet.note && <p className="note">{leaflet.note}</p>}
      {at('/leaflet/layers') && <p className="font-medium text-error">{at('/leaflet/layers')}</p>}
      <ol className="rows">
        {rows.map((x, i) => (
          <li key={x.id} aria-label={`Row ${i + 1}`} className="flex flex-wrap items-start gap-2 py-2">
            <b className="w-8 self-center text-xl">{i + 1}</b>
            <span className="w-full max-w-64 self-center text-lg font-semibold">
              {kindOf(x).words}
              {[
                at(`/leaflet/layers/${i}`),
                at(`/leaflet/layers/${i}/kind`),
                at(`/leaflet/layers/${i}/id`),
              ].map(
                (words) =>
                  words && (
                    <span key={words} className="block text-sm font-medium text-error">
                      {words}
                    </span>
                  ),
              )}
            </span>
            <RowFields
              row={x}
              n={i + 1}
              parts={parts}
              places={placesOf(recipe)}
              put={(change) => put(i, change)}
              at={(path, deep) => at(`/leaflet/layers/${i}/${path}`, deep)}
            />
            <OwnWords row={x} n={i + 1} put={(change) => put(i, change)} at={at} />
            <MoveRow
              what={`row ${i + 1}`}
              at={i}
              count={rows.length}
              move={(to) => edit({ layers: moved(rows, i, to) })}
              remove={() => edit({ layers: rows.filter((_, k) => k !== i) })}
            />
          </li>
        ))}
      </ol>
      <AddRow
        label="One more row"
        groups={GROUPS.map(([name, kinds]) => [name, kinds.map((k) => [k.words, k.words] as const)] as const)}
        add={(words) => {
          const kind = KINDS.find((k) => k.words === words)
          if (kind) edit({ layers: [...rows, newRow(kind, rows, parts)] })
        }}
      />
    </section>
  )
}

interface FieldsProps {
  row: Row
  n: number
  parts: Part[]
  places: readonly (readonly [string, string])[]
  put: (change: Partial<Row>) => void
  /** What is said of a field of this row. */
  at: At
}

/** What a row of its kind is asked, and nothing else. */
function RowFields({ row: x, n, parts, places, put, at }: FieldsProps) {
  const kind = kindOf(x)
  const own = partsFor(x, parts)
  const listed = own.some((p) => p.id === x.part) || !x.part ? own : [...own, { id: x.part }]
  const fields: Record<Asked, () => React.ReactNode> = {
    part: () => (
      <span className="w-56">
        <Pick
          label="Part"
          value={x.part ?? ''}
          options={[['', 'no part'], ...listed.map((p) => [p.id, `${p.id} ${p.name ?? ''}`] as const)]}
          onChange={(v) => put({ part: v || null })}
          error={at('part')}
        />
      </span>
    ),
    length: () => (
      <Labelled words={kind.length ?? 'length'}>
        <FigureField
          label={`Row ${n}, ${kind.length ?? 'length'}`}
          value={x.length}
          onChange={(length) => put({ length })}
          error={at('length', true) ?? at('layer')}
        />
      </Labelled>
    ),
    reach: () => (
      <Labelled words="reaches onto">
        <FigureField
          label={`Row ${n}, reaches onto`}
          value={x.reach}
          onChange={(reach) => put({ reach })}
          error={at('reach', true)}
        />
      </Labelled>
    ),
    datum: () => (
      <span className="w-48">
        <Pick
          label={isCut(x) ? 'measured from' : 'behind'}
          value={x.datum ?? (isCut(x) ? 'cable-end' : 'outer-jacket-cut')}
          options={DATUMS}
          onChange={(v) => put({ datum: v as Row['datum'] })}
        />
      </span>
    ),
    school: () => (
      <Pick
        label="how"
        value={x.school ?? ''}
        options={SCHOOLS}
        onChange={(v) => put({ school: (v || null) as Row['school'] })}
      />
    ),
    hold: () => <Num label="held for" unit="s" value={x.hold_s} onChange={(hold_s) => put({ hold_s })} />,
    joins: () => (
      <Ticks
        label={`Row ${n} joins`}
        words="joins, one piece each"
        choices={WIRES}
        on={joinedBy(x)}
        set={(wire, on) => put({ joins: withWire(x, wire, on) })}
      />
    ),
    on: () => (
      <Ticks
        label={`Row ${n} goes on`}
        words="on, one piece each"
        choices={ON}
        on={onWires(x)}
        set={(wire, on) => {
          const others = onWires(x).filter((w) => w !== wire)
          if (on || others.length) put({ on: on ? [...others, wire] : others }) // one wire it is on, at least
        }}
      />
    ),
    torque: () => (
      <>
        <Num
          label="Torque from"
          unit="N·m"
          value={x.torque_least_nm}
          onChange={(v) => put({ torque_least_nm: v })}
          error={at('torque_least_nm')}
        />
        <Num
          label="to"
          unit="N·m"
          value={x.torque_most_nm}
          onChange={(v) => put({ torque_most_nm: v })}
          error={at('torque_most_nm')}
        />
      </>
    ),
    turns: () => <Num label="or turns" value={x.turns} onChange={(turns) => put({ turns })} />,
    spring: () => <Tick words="hold by springs" on={x.spring ?? false} set={(spring) => put({ spring })} />,
    minutes: () => (
      <Num label="then wait" unit="min" value={x.minutes} onChange={(minutes) => put({ minutes })} />
    ),
    title: () => (
      <Word
        wide
        label="Title"
        value={x.title ?? ''}
        onChange={(title) => put({ title })}
        error={at('title')}
      />
    ),
  }
  return (
    <>
      {places.length > 1 && (
        <Pick
          label="at"
          value={x.at ?? ''}
          options={places}
          onChange={(v) => put({ at: (v || null) as Row['at'] })}
          error={at('at')}
        />
      )}
      {kind.asks.map((asked) => (
        <span key={asked} className="contents">
          {fields[asked]()}
        </span>
      ))}
    </>
  )
}

interface TicksProps<W extends string> {
  label: string
  words: string
  choices: readonly (readonly [W, string])[]
  on: readonly W[]
  set: (wire: W, on: boolean) => void
}

function Ticks<W extends string>({ label, words, choices, on, set }: TicksProps<W>) {
  return (
    <fieldset className="flex flex-wrap gap-3" aria-label={label}>
      <span className="field-label basis-full">{words}</span>
      {choices.map(([wire, said]) => (
        <Tick key={wire} words={said} on={on.includes(wire)} set={(to) => set(wire, to)} />
      ))}
    </fieldset>
  )
}

interface OwnProps {
  row: Row
  n: number
  put: (change: Partial<Row>) => void
  at: At
}

/** The leaflet's own words, its tolerance, and the cable that a row is for: folded away until wanted. */
function OwnWords({ row: x, n, put, at }: OwnProps) {
  const shown = [x.kind === 'step' ? '' : x.title, x.text, x.caution].filter(Boolean).join(' · ')
  return (
    <Words label={`Words of row ${n}`} title={shown || 'in its own words'} filled={false}>
      <Pick
        label="on"
        value={x.constructions?.length === 1 ? (x.constructions[0] ?? '') : ''}
        options={FOR}
        onChange={(v) => put({ constructions: (v ? [v] : []) as Row['constructions'] })}
      />
      {x.length && (
        <Num label="±" unit="mm" value={x.tolerance_mm} onChange={(tolerance_mm) => put({ tolerance_mm })} />
      )}
      {x.kind !== 'step' && (
        <Word
          wide
          label="Own title"
          value={x.title ?? ''}
          onChange={(title) => put({ title })}
          error={at(`/leaflet/layers/${n - 1}/title`)}
        />
      )}
      <Word wide label="In its own words" value={x.text ?? ''} onChange={(text) => put({ text })} />
      <Word wide label="Caution" value={x.caution ?? ''} onChange={(caution) => put({ caution })} />
    </Words>
  )
}
