import type { Schemas } from '../../api/client'
import { FigureField } from './FigureField'
import { Labelled, Tick } from './PartsTable'
import { MoveRow, Num, Word } from './rows'
import type { At, Edit } from './typing'
import type { Leaflet } from './useSheet'

type Bend = Schemas['BendStep']
type Circuit = Schemas['CircuitLimit']
const FIGURES = [
  ['per_remake', 'A remake uses'],
  ['least_loop', 'Loop that must stay'],
  ['lead', 'Pipe to the cable end (zone)'],
  ['node_most', 'Point on the pipe within (zone)'],
] as const

/** What the leaflet says of the cable itself: loops, bends, circuits, tests. */
export function Limits({ leaflet, edit, at }: { leaflet: Leaflet; edit: Edit; at: At }) {
  const bend = leaflet.bend ?? []
  const circuit = leaflet.circuit ?? []
  const bent = (i: number, change: Partial<Bend>) =>
    edit({ bend: bend.map((b, k) => (k === i ? { ...b, ...change } : b)) })
  const ran = (i: number, change: Partial<Circuit>) =>
    edit({ circuit: circuit.map((c, k) => (k === i ? { ...c, ...change } : c)) })
  return (
    <section aria-label="Cable data">
      <h2>Loops, bends, circuit</h2>
      <div className="flex flex-wrap gap-4">
        {FIGURES.map(([key, words]) => (
          <Labelled key={key} words={words}>
            <FigureField
              label={words}
              value={leaflet[key]}
              onChange={(v) => edit({ [key]: v })}
              error={at(`/leaflet/${key}`, true)}
            />
          </Labelled>
        ))}
        <Num
          label="Test at most"
          unit="V DC"
          value={leaflet.test_most_v}
          onChange={(test_most_v) => edit({ test_most_v })}
        />
        <span className="pt-5">
          <Tick
            words="cable fixed first"
            on={leaflet.mounted_first ?? false}
            set={(mounted_first) => edit({ mounted_first })}
          />
        </span>
      </div>
      <div className="mt-2 flex flex-wrap gap-3">
        <Word
          wide
          label="Companion kit needed"
          value={leaflet.companion ?? ''}
          onChange={(companion) => edit({ companion })}
        />
        <Word
          wide
          label="Fixed with"
          value={leaflet.fixing_tape ?? ''}
          onChange={(fixing_tape) => edit({ fixing_tape })}
        />
      </div>
      <ul className="rows mt-2">
        {bend.map((b, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: steps have no name
          <li key={`b${i}`} aria-label={`Bend ${i + 1}`} className="flex flex-wrap items-end gap-2 py-1">
            <Num label="From" unit="°C" value={b.from_c} onChange={(v) => bent(i, { from_c: v ?? 0 })} />
            <Num
              label="bends to"
              unit="mm"
              value={b.radius_mm}
              onChange={(v) => bent(i, { radius_mm: v ?? 0 })}
            />
            <MoveRow
              what={`bend ${i + 1}`}
              at={i}
              count={bend.length}
              remove={() => edit({ bend: bend.filter((_, k) => k !== i) })}
            />
          </li>
        ))}
        {circuit.map((c, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: rows have no name
          <li key={`c${i}`} aria-label={`Circuit ${i + 1}`} className="flex flex-wrap items-end gap-2 py-1">
            <Num
              label="Started at"
              unit="°C"
              value={c.start_c}
              onChange={(v) => ran(i, { start_c: v ?? 0 })}
            />
            <Num
              label="on a breaker of"
              unit="A"
              value={c.breaker_a}
              onChange={(v) => v && ran(i, { breaker_a: v })}
            />
            <Num label="at most" unit="m" value={c.most_m} onChange={(v) => v && ran(i, { most_m: v })} />
            <Num
              label="starts with"
              unit="A/m"
              value={c.start_up_a_per_m}
              onChange={(v) => ran(i, { start_up_a_per_m: v ?? 0 })}
            />
            <MoveRow
              what={`circuit row ${i + 1}`}
              at={i}
              count={circuit.length}
              remove={() => edit({ circuit: circuit.filter((_, k) => k !== i) })}
            />
          </li>
        ))}
      </ul>
      <div className="mt-2 flex gap-3">
        <button
          type="button"
          className="btn"
          onClick={() => edit({ bend: [...bend, { from_c: 0, radius_mm: 50 }] })}
        >
          One more bend
        </button>
        <button
          type="button"
          className="btn"
          onClick={() =>
            edit({ circuit: [...circuit, { start_c: 0, breaker_a: 16, most_m: 50, start_up_a_per_m: 0 }] })
          }
        >
          One more circuit row
        </button>
      </div>
    </section>
  )
}
