import type { Schemas } from '../../api/client'
import { endsOf, ForCable } from './CutsTable'
import { FigureField } from './FigureField'
import { Labelled, Tick } from './PartsTable'
import { MoveRow, moved, Num, Pick, Word, Words } from './rows'
import type { At, Edit } from './typing'
import type { Leaflet } from './useSheet'

type Layer = Schemas['LeafletLayer']
const KINDS = [
  ['grommet', 'through a grommet'],
  ['braid-pigtail', 'braid: pull through, pigtail'],
  ['braid-fold', 'braid: lay back'],
  ['braid-trim', 'braid: trim'],
  ['strip-core', 'strip matrix or heating wire'],
  ['bus-stagger', 'tape the bus wires apart'],
  ['tube', 'shrink tube'],
  ['boot', 'boot'],
  ['cap', 'end cap'],
  ['sealant', 'sealant'],
  ['tape', 'tape'],
  ['crimp', 'crimps'],
  ['terminals', 'land on terminals'],
  ['box', 'close the box'],
  ['step', 'another step'],
] as const
const WITH_PART = [
  'grommet',
  'braid-pigtail',
  'braid-fold',
  'bus-stagger',
  'tube',
  'boot',
  'cap',
  'sealant',
  'tape',
  'crimp',
  'terminals',
  'box',
  'step',
]
const WIRES = [
  ['bus-1', 'bus wire 1'],
  ['bus-2', 'bus wire 2'],
  ['braid', 'braid'],
] as const
const REACHES = ['tube', 'boot', 'cap', 'tape']
const SCHOOLS = [
  ['', 'as a strip, cut out'],
  ['wires', 'wires peeled out, rest snipped'],
] as const
const DATUMS = [
  ['outer-jacket-cut', 'outer jacket'],
  ['inner-jacket-cut', 'inner jacket'],
  ['cable-end', "cable's end"],
] as const

/** What crimps join: those ticked, or both bus wires and the braid where nobody said. */
export const joinedBy = (x: Layer) => (x.joins?.length ? x.joins : WIRES.map(([wire]) => wire))

export function withWire(x: Layer, wire: (typeof WIRES)[number][0], on: boolean): Layer['joins'] {
  const others = joinedBy(x).filter((w) => w !== wire)
  const next = on ? [...others, wire] : others
  return next.length ? next : joinedBy(x) // a row of crimps joins something
}

interface Props {
  leaflet: Leaflet
  recipe: string
  edit: Edit
  at: At
}

/** The work in its order: move a row and the order of the steps moves with it. */
export function LayersTable({ leaflet, recipe, edit, at }: Props) {
  const layers = leaflet.layers ?? []
  const put = (i: number, change: Partial<Layer>) =>
    edit({ layers: layers.map((x, k) => (k === i ? { ...x, ...change } : x)) })
  const add = () => {
    const taken = new Set(layers.map((x) => x.id))
    let n = layers.length + 1
    while (taken.has(`l${n}`)) n += 1
    edit({ layers: [...layers, { id: `l${n}`, kind: 'step' }] })
  }
  const parts = [
    ['', 'no part'] as const,
    ...(leaflet.parts ?? []).map((p) => [p.id, `${p.id} ${p.name ?? ''}`] as const),
  ]
  const joined = recipe === 'trace-splice' || recipe === 'trace-tee'
  const places = [...endsOf(recipe), ...(joined ? [['joint', 'over both sides'] as const] : [])]
  return (
    <section aria-label="Layers">
      <h2>In this order</h2>
      <p className="quiet">
        Isolation, tests, keep-clear inspections and holds come by themselves; no sheet can leave them out.
      </p>
      {leaflet.note && <p className="note">{leaflet.note}</p>}
      {at('/leaflet/layers') && <p className="font-medium text-error">{at('/leaflet/layers')}</p>}
      <ol className="rows">
        {layers.map((x, i) => {
          const here = `/leaflet/layers/${i}`
          return (
            <li key={x.id} aria-label={`Layer ${i + 1}`} className="flex flex-wrap items-start gap-2 py-2">
              <b className="w-6 self-center text-xl">{i + 1}</b>
              <span className="w-52">
                <Pick
                  label="What"
                  value={x.kind}
                  options={KINDS}
                  onChange={(v) => put(i, { kind: v as Layer['kind'] })}
                  error={at(`${here}/kind`) ?? at(`${here}/id`)}
                />
              </span>
              {WITH_PART.includes(x.kind) && (
                <span className="w-56">
                  <Pick
                    label="Part"
                    value={x.part ?? ''}
                    options={parts}
                    onChange={(v) => put(i, { part: v || null })}
                    error={at(`${here}/part`)}
                  />
                </span>
              )}
              {places.length > 1 && (
                <Pick
                  label="at"
                  value={x.at ?? ''}
                  options={places}
                  onChange={(v) => put(i, { at: (v || null) as Layer['at'] })}
                  error={at(`${here}/at`)}
                />
              )}
              {REACHES.includes(x.kind) && (
                <>
                  <Labelled words="reaches onto">
                    <FigureField
                      label={`Layer ${i + 1}, reaches onto`}
                      value={x.reach}
                      onChange={(reach) => put(i, { reach })}
                      error={at(`${here}/reach`, true)}
                    />
                  </Labelled>
                  <Pick
                    label="the"
                    value={x.datum ?? 'outer-jacket-cut'}
                    options={DATUMS}
                    onChange={(v) => put(i, { datum: v as Layer['datum'] })}
                  />
                </>
              )}
              {x.kind === 'crimp' && (
                <fieldset className="flex flex-wrap gap-3" aria-label={`Layer ${i + 1} joins`}>
                  <span className="field-label basis-full">joins, one crimp each</span>
                  {WIRES.map(([wire, words]) => (
                    <Tick
                      key={wire}
                      words={words}
                      on={joinedBy(x).includes(wire)}
                      set={(on) => put(i, { joins: withWire(x, wire, on) })}
                    />
                  ))}
                </fieldset>
              )}
              {x.kind === 'strip-core' && (
                <Pick
                  label="how"
                  value={x.school ?? ''}
                  options={SCHOOLS}
                  onChange={(v) => put(i, { school: (v || null) as Layer['school'] })}
                />
              )}
              {x.kind === 'tube' && (
                <>
                  <span className="pt-5">
                    <Tick words="pinched" on={x.pinched ?? false} set={(pinched) => put(i, { pinched })} />
                  </span>
                  {x.pinched && (
                    <span className="pt-5">
                      <Tick
                        words="between the bus wires"
                        on={x.between ?? false}
                        set={(between) => put(i, { between })}
                      />
                    </span>
                  )}
                  {x.pinched && (
                    <Num
                      label="held for"
                      unit="s"
                      value={x.hold_s}
                      onChange={(hold_s) => put(i, { hold_s })}
                    />
                  )}
                </>
              )}
              {(x.kind === 'terminals' || x.kind === 'box') && (
                <>
                  <Num
                    label={x.kind === 'box' ? 'Torque from (none: by hand)' : 'Torque from'}
                    unit="N·m"
                    value={x.torque_least_nm}
                    onChange={(v) => put(i, { torque_least_nm: v })}
                    error={at(`${here}/torque_least_nm`)}
                  />
                  <Num
                    label="to"
                    unit="N·m"
                    value={x.torque_most_nm}
                    onChange={(v) => put(i, { torque_most_nm: v })}
                    error={at(`${here}/torque_most_nm`)}
                  />
                </>
              )}
              {(x.kind === 'sealant' || x.kind === 'step') && (
                <Num
                  label="then wait"
                  unit="min"
                  value={x.minutes}
                  onChange={(minutes) => put(i, { minutes })}
                />
              )}

              {x.kind === 'step' && (
                <Word
                  wide
                  label="Title"
                  value={x.title ?? ''}
                  onChange={(title) => put(i, { title })}
                  error={at(`${here}/title`)}
                />
              )}
              <MoveRow
                what={`layer ${i + 1}`}
                at={i}
                count={layers.length}
                move={(to) => edit({ layers: moved(layers, i, to) })}
                remove={() => edit({ layers: layers.filter((_, k) => k !== i) })}
              />
              <Words
                label={`Words of layer ${i + 1}`}
                title={
                  [x.kind === 'step' ? '' : x.title, x.text, x.caution].filter(Boolean).join(' · ') ||
                  'in its own words'
                }
                filled={false}
              >
                <ForCable value={x.constructions} set={(constructions) => put(i, { constructions })} />
                {x.kind !== 'step' && (
                  <Word
                    wide
                    label="Own title"
                    value={x.title ?? ''}
                    onChange={(title) => put(i, { title })}
                    error={at(`${here}/title`)}
                  />
                )}
                <Word
                  wide
                  label="In its own words"
                  value={x.text ?? ''}
                  onChange={(text) => put(i, { text })}
                />
                <Word
                  wide
                  label="Caution"
                  value={x.caution ?? ''}
                  onChange={(caution) => put(i, { caution })}
                />
              </Words>
            </li>
          )
        })}
      </ol>
      <button type="button" className="btn mt-2" onClick={add}>
        One more layer
      </button>
    </section>
  )
}
