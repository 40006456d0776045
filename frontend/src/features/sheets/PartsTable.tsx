import type { Schemas } from '../../api/client'
import { FigureField } from './FigureField'
import { AddRow, MoveRow, Num, Word } from './rows'
import type { At, Edit } from './typing'
import type { Leaflet } from './useSheet'

type Part = Schemas['LeafletPart']
const KINDS: (readonly [string, Pick<Part, 'what'> & Partial<Part>])[] = [
  ['shrink tube with adhesive', { what: 'tube', lined: true }],
  ['shrink tube without', { what: 'tube' }],
  ['end cap, heat shrinks it', { what: 'cap', lined: true }],
  ['end cap, pushed on', { what: 'cap' }],
  ['boot', { what: 'boot' }],
  ['sealant', { what: 'sealant' }],
  ['tape', { what: 'tape' }],
  ['plain sleeve', { what: 'sleeve' }],
  ['crimps', { what: 'crimp' }],
  ['twist-on connectors', { what: 'twist-on' }],
  ['ferrules', { what: 'ferrule' }],
  ['terminals', { what: 'terminals' }],
  ['grommet or gland', { what: 'grommet' }],
  ['plug', { what: 'plug' }],
  ['strap', { what: 'strap' }],
  ['box or enclosure', { what: 'box' }],
  ['another part', { what: 'other' }],
]
type Figures = { [K in keyof Part]-?: Part[K] extends number | null | undefined ? K : never }[keyof Part]
type Fields = readonly (readonly [Figures, string, string])[]
const WALL: Fields = [['wall_mm', 'Wall', 'mm']]
const HEAT: Fields = [
  ['shrink_c', 'Shrinks at', '°C'],
  ['scorch_c', 'scorches at', '°C'],
]
const OPENING: Fields = [
  ['width_least_mm', 'Width from', 'mm'],
  ['width_most_mm', 'to', 'mm'],
  ['thickness_least_mm', 'Thickness from', 'mm'],
  ['thickness_most_mm', 'to', 'mm'],
]
const SEALANT: Fields = [
  ['skin_min', 'Skins in', 'min'],
  ['cure_min', 'cures in', 'min'],
  ['at_c', 'at (none: 23 °C)', '°C'],
  ['also_c', 'and at', '°C'],
  ['also_skin_min', 'skins in', 'min'],
  ['also_cure_min', 'cures in', 'min'],
  ['least_c', 'Laid from', '°C'],
]
const AREA: Fields = [
  ['area_least_mm2', 'Takes from', 'mm²'],
  ['area_most_mm2', 'to', 'mm²'],
]
const SIZED = ['crimp', 'twist-on', 'ferrule', 'terminals']
const OPENINGS = ['boot', 'cap', 'grommet']

/** The packing list, with the sizes that decide whether a part serves. */
export function PartsTable({ leaflet, edit, at }: { leaflet: Leaflet; edit: Edit; at: At }) {
  const parts = leaflet.parts ?? []
  const put = (i: number, change: Partial<Part>) =>
    edit({ parts: parts.map((p, k) => (k === i ? { ...p, ...change } : p)) })
  const add = (words: string) => {
    const taken = new Set(parts.map((p) => p.id))
    const id = [...'ABCDEFGHJKLMNPQRSTUVWXYZ'].find((c) => !taken.has(c)) ?? `P${parts.length + 1}`
    const [, begins] = KINDS.find(([name]) => name === words) ?? ['', { what: 'other' as const }]
    edit({ parts: [...parts, { id, name: words.replace(/,.*| with.*/, ''), ...begins }] })
  }
  return (
    <section aria-label="Parts">
      <h2>In the box</h2>
      <ol className="rows">
        {parts.map((p, i) => {
          const here = `/leaflet/parts/${i}`
          const own = { part: p, here, at, put: (change: Partial<Part>) => put(i, change) }
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: a part's id is being typed
            <li key={i} aria-label={`Part ${p.id}`} className="flex flex-wrap items-start gap-2 py-2">
              <span className="w-16">
                <Word
                  label="Mark"
                  value={p.id}
                  onChange={(id) => put(i, { id: id || p.id })}
                  error={at(`${here}/id`)}
                />
              </span>
              <Word
                wide
                label={`Name of the ${(p.what ?? 'other').replace('other', 'part')}`}
                value={p.name ?? ''}
                onChange={(name) => put(i, { name })}
                error={at(here)}
              />
              <Num
                narrow
                label="Count"
                value={p.count ?? 1}
                onChange={(count) => put(i, { count: count ?? 1 })}
                error={at(`${here}/count`)}
              />
              <span className="self-end">
                <Tick words="in the box" on={p.supplied ?? true} set={(supplied) => put(i, { supplied })} />
              </span>
              <MoveRow
                what={`part ${p.id}`}
                at={i}
                count={parts.length}
                remove={() => edit({ parts: parts.filter((_, k) => k !== i) })}
              />
              {p.what === 'tube' && (
                <span className="flex w-full flex-wrap items-end gap-x-4 gap-y-1">
                  <Size words="opens to" name="opens to" of="opens" {...own} />
                  <Size words="closes to" name="closes to" of="closes" {...own} />
                  <Size words="long" name="long" of="length" {...own} />
                  <Numbers fields={WALL} {...own} />
                  <Num
                    label="Length change"
                    unit="%"
                    value={p.longitudinal_change_pct}
                    onChange={(v) => put(i, { longitudinal_change_pct: v ?? 0 })}
                  />
                  <Numbers fields={HEAT} {...own} />
                  <Tick words="adhesive" on={p.lined ?? false} set={(lined) => put(i, { lined })} />
                  <Tick words="stiff" on={p.stiff ?? false} set={(stiff) => put(i, { stiff })} />
                </span>
              )}
              {OPENINGS.includes(p.what ?? '') && (
                <span className="flex w-full flex-wrap items-end gap-2">
                  <Numbers fields={OPENING} {...own} />
                  <Size words={p.what === 'cap' ? 'deep' : 'long'} name="long" of="length" {...own} />
                  {p.what !== 'grommet' && (
                    <>
                      <Size words="opens to, if heat shrinks it" name="opens to" of="opens" {...own} />
                      <Size words="closes to" name="closes to" of="closes" {...own} />
                      <Numbers fields={WALL} {...own} />
                      <Tick words="adhesive" on={p.lined ?? false} set={(lined) => put(i, { lined })} />
                    </>
                  )}
                </span>
              )}
              {p.what === 'sealant' && (
                <span className="flex w-full flex-wrap items-end gap-2">
                  <Numbers fields={SEALANT} {...own} />
                </span>
              )}
              {SIZED.includes(p.what ?? '') && (
                <span className="flex w-full flex-wrap items-end gap-2">
                  <Numbers fields={AREA} {...own} />
                </span>
              )}
            </li>
          )
        })}
      </ol>
      <AddRow
        label="One more part"
        groups={[['In the box, or needed besides', KINDS.map(([words]) => [words, words] as const)]]}
        add={add}
      />
    </section>
  )
}

interface OwnProps {
  part: Part
  here: string
  at: At
  put: (change: Partial<Part>) => void
}

/** Figures of a part, each in its field. */
function Numbers({ fields, part, here, at, put }: OwnProps & { fields: Fields }) {
  return fields.map(([key, label, unit]) => (
    <Num
      key={key}
      label={label}
      unit={unit}
      value={part[key]}
      onChange={(v) => put({ [key]: v })}
      error={at(`${here}/${key}`)}
    />
  ))
}

interface SizeProps extends OwnProps {
  words: string
  name: string
  of: 'opens' | 'closes' | 'length'
}

/** A length of a part, as printed. */
function Size({ words, name, of, part, here, at, put }: SizeProps) {
  return (
    <Labelled words={words}>
      <FigureField
        label={`${part.id} ${name}`}
        value={part[of]}
        onChange={(figure) => put({ [of]: figure })}
        error={at(`${here}/${of}`, true)}
      />
    </Labelled>
  )
}

export function Labelled({ words, children }: { words: string; children: React.ReactNode }) {
  return (
    <span>
      <span className="field-label block">{words}</span>
      {children}
    </span>
  )
}

export function Tick({ words, on, set }: { words: string; on: boolean; set: (on: boolean) => void }) {
  return (
    <label className="flex min-h-11 cursor-pointer items-center gap-2">
      <input
        type="checkbox"
        className="checkbox checkbox-primary"
        checked={on}
        onChange={(e) => set(e.target.checked)}
      />
      {words}
    </label>
  )
}
