import type { Schemas } from '../../api/client'
import { FigureField } from './FigureField'
import { Labelled } from './PartsTable'
import { MoveRow, Num, Pick, Word, Words } from './rows'
import type { At, Edit } from './typing'
import type { Leaflet } from './useSheet'

type Cut = Schemas['LeafletCut']
const LAYERS = [
  ['outer-jacket', 'outer jacket'],
  ['braid', 'braid'],
  ['inner-jacket', 'inner jacket'],
  ['core', 'all the braid holds'],
  ['matrix', 'matrix'],
  ['overlay', 'overlay, heating wire'],
  ['bus-1', 'bus wire 1'],
  ['bus-2', 'bus wire 2'],
  ['bus-insulation', "bus wires' own insulation, from their ends"],
] as const
const FOR = [
  ['', 'every cable'],
  ['self-regulating', 'self-regulating'],
  ['power-limiting', 'power-limiting'],
  ['zone', 'zone cable'],
] as const
type Constructions = Cut['constructions']

/** Cuts and layers may be for one kind of cable only. */
export function ForCable({ value, set }: { value: Constructions; set: (v: Constructions) => void }) {
  return (
    <Pick
      label="on"
      value={value?.length === 1 ? (value[0] ?? '') : ''}
      options={FOR}
      onChange={(v) => set((v ? [v] : []) as Constructions)}
    />
  )
}
const DATUMS = [
  ['cable-end', "the cable's end"],
  ['outer-jacket-cut', "the outer jacket's cut"],
  ['inner-jacket-cut', "the inner jacket's cut"],
] as const
const ENDS: Record<string, string[]> = {
  'trace-splice': ['A', 'B'],
  'trace-tee': ['A', 'B', 'C'],
  'trace-power-end': ['A', 'B'],
}

export function endsOf(recipe: string): (readonly [string, string])[] {
  return [['', 'every end'] as const, ...(ENDS[recipe] ?? []).map((e) => [e, `end ${e}`] as const)]
}

interface Props {
  leaflet: Leaflet
  recipe: string
  edit: Edit
  at: At
}

/** How far each layer comes off, as printed. */
export function CutsTable({ leaflet, recipe, edit, at }: Props) {
  const cuts = leaflet.cuts ?? []
  const put = (i: number, change: Partial<Cut>) =>
    edit({ cuts: cuts.map((c, k) => (k === i ? { ...c, ...change } : c)) })
  const next =
    LAYERS.find(
      ([id]) =>
        !['braid', 'overlay', 'core', 'bus-insulation'].includes(id) && !cuts.some((c) => c.layer === id),
    )?.[0] ?? 'outer-jacket'
  return (
    <section aria-label="Cuts">
      <h2>Cuts</h2>
      {at('/leaflet/cuts') && <p className="font-medium text-error">{at('/leaflet/cuts')}</p>}
      <ol className="rows">
        {cuts.map((c, i) => {
          const here = `/leaflet/cuts/${i}`
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: cuts have no name of their own
            <li key={i} aria-label={`Cut ${i + 1}`} className="flex flex-wrap items-start gap-2 py-2">
              <span className="w-44">
                <Pick
                  label="Layer"
                  value={c.layer}
                  options={LAYERS}
                  onChange={(v) => put(i, { layer: v as Cut['layer'] })}
                  error={at(`${here}/layer`)}
                />
              </span>
              <Labelled words="length">
                <FigureField
                  label={`Cut ${i + 1}, length`}
                  value={c.length}
                  onChange={(length) => put(i, { length: length ?? {} })}
                  error={at(`${here}/length`, true)}
                />
              </Labelled>
              <span className="w-44">
                <Pick
                  label="measured from"
                  value={c.datum ?? 'cable-end'}
                  options={DATUMS}
                  onChange={(v) => put(i, { datum: v as Cut['datum'] })}
                />
              </span>
              <Num
                label="±"
                unit="mm"
                value={c.tolerance_mm}
                onChange={(tolerance_mm) => put(i, { tolerance_mm })}
              />
              {ENDS[recipe] && (
                <Pick
                  label="at"
                  value={c.end ?? ''}
                  options={endsOf(recipe)}
                  onChange={(v) => put(i, { end: (v || null) as Cut['end'] })}
                />
              )}

              <MoveRow
                what={`cut ${i + 1}`}
                at={i}
                count={cuts.length}
                remove={() => edit({ cuts: cuts.filter((_, k) => k !== i) })}
              />
              <Words label={`Caution of cut ${i + 1}`} title={c.caution || 'caution'} filled={false}>
                <ForCable value={c.constructions} set={(constructions) => put(i, { constructions })} />
                <Word
                  wide
                  label="Caution"
                  value={c.caution ?? ''}
                  onChange={(caution) => put(i, { caution })}
                />
              </Words>
            </li>
          )
        })}
      </ol>
      <button
        type="button"
        className="btn mt-2"
        onClick={() => edit({ cuts: [...cuts, { layer: next, length: {} }] })}
      >
        One more cut
      </button>
    </section>
  )
}
