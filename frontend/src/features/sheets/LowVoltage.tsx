import { useQuery } from '@tanstack/react-query'
import { api, type Schemas, take } from '../../api/client'
import { MoveRow, moved, Num, Pick, Word } from './rows'
import type { At } from './typing'
import type { Sheet } from './useSheet'

type Serves = NonNullable<Sheet['serves']>
type Slot = keyof NonNullable<Sheet['parts']>
type Step = NonNullable<Sheet['steps']>[number]
type StepName = Schemas['StepName']

interface Props {
  sheet: Sheet
  edit: (change: Partial<Sheet>) => void
  at: At
  /** The steps such a joint has, in their order. */
  steps: StepName[]
}

/** The leaflet of a low-voltage kit: what it serves, how it is built, the figures it sets, steps it adds. */
export function LowVoltage({ sheet, edit, at, steps }: Props) {
  return (
    <>
      <RoundServes sheet={sheet} edit={edit} at={at} />
      <Ways sheet={sheet} edit={edit} />
      <Figures sheet={sheet} edit={edit} at={at} />
      <OwnSteps sheet={sheet} edit={edit} at={at} steps={steps} />
      <Cautions sheet={sheet} edit={edit} />
    </>
  )
}

const RANGES = [
  ['cores_least', 'Cores from', ''],
  ['cores_most', 'to', ''],
  ['area_least_mm2', 'Conductors from', 'mm²'],
  ['area_most_mm2', 'to', 'mm²'],
  ['sheath_least_mm', 'Sheath from', 'mm'],
  ['sheath_most_mm', 'to', 'mm'],
  ['voltage_most_v', 'Up to', 'V'],
] as const
const ARMOUR = [
  ['', 'armoured or not'],
  ['only', 'armoured only'],
  ['not', 'not armoured'],
] as const

/** The round cables the kit is for. */
function RoundServes({ sheet, edit, at }: Omit<Props, 'steps'>) {
  const serves: Serves = sheet.serves ?? {}
  const put = (change: Partial<Serves>) => edit({ serves: { ...serves, ...change } })
  const armour = serves.armoured == null ? '' : serves.armoured ? 'only' : 'not'
  return (
    <section aria-label="Cables served">
      <h2>Cables it serves</h2>
      <div className="flex flex-wrap items-end gap-2">
        {RANGES.map(([key, label, unit]) => (
          <Num
            key={key}
            label={label}
            unit={unit}
            value={serves[key]}
            onChange={(v) =>
              put({ [key]: v ?? (key === 'cores_least' ? 1 : key === 'cores_most' ? 5 : null) })
            }
            error={at(`/serves/${key}`)}
          />
        ))}
        <Pick
          label="Armour"
          value={armour}
          options={ARMOUR}
          onChange={(v) => put({ armoured: v === '' ? null : v === 'only' })}
        />
      </div>
      {at('/serves') && <p className="font-medium text-error">The kit {at('/serves')}</p>}
    </section>
  )
}

const CLOSURES = [
  ['', 'what fits'],
  ['sleeve', 'a heat-shrink sleeve'],
  ['wrap-around', 'a wrap-around sleeve'],
  ['resin', 'cast resin'],
  ['sleeve-resin', 'a sleeve, then cast resin'],
] as const
const CORES = [
  ['', 'what fits'],
  ['sleeve', 'a sleeve each'],
  ['tape', 'tape'],
] as const
const SCHOOLS = [
  ['', 'as the planner has it'],
  ['in-turn', 'one core after the other'],
  ['together', 'all together, in turns'],
] as const
const SLOTS: readonly (readonly [Slot, string, string])[] = [
  ['core_sleeve', 'Core sleeve', 'sleeve'],
  ['outer_sleeve', 'Outer sleeve', 'sleeve'],
  ['inner_sleeve', 'Inner sleeve', 'sleeve'],
  ['barrier', 'Fire barrier', 'sleeve'],
  ['shell', 'Shell', 'shell'],
]

/** What closes the joint, what covers its cores, and the parts of the stock that are the kit's own. */
function Ways({ sheet, edit }: Omit<Props, 'steps' | 'at'>) {
  const stock = useQuery({
    queryKey: ['stock', false],
    queryFn: () => take(api.GET('/api/v1/stock', { params: { query: {} } })),
  })
  const parts = sheet.parts ?? {}
  const fill = (slot: Slot, id: string) => {
    const { [slot]: _, ...rest } = parts
    edit({ parts: id ? { ...rest, [slot]: id } : rest })
  }
  return (
    <section aria-label="How it is built">
      <h2>How it is built</h2>
      <div className="flex flex-wrap gap-3">
        <Pick
          label="Closed by"
          value={sheet.closure ?? ''}
          options={CLOSURES}
          onChange={(v) => edit({ closure: (v || null) as Sheet['closure'] })}
        />
        <Pick
          label="Cores covered by"
          value={sheet.core_insulation ?? ''}
          options={CORES}
          onChange={(v) => edit({ core_insulation: (v || null) as Sheet['core_insulation'] })}
        />
        <Pick
          label="Cores shrunk"
          value={sheet.cores_shrunk ?? ''}
          options={SCHOOLS}
          onChange={(v) => edit({ cores_shrunk: (v || null) as Sheet['cores_shrunk'] })}
        />
      </div>
      <h3 className="mt-4">Parts of the stock that belong to it</h3>
      <div className="flex flex-wrap gap-3">
        {SLOTS.map(([slot, label, kind]) => {
          const found = (stock.data?.items ?? []).filter((p) => p.kind === kind)
          const own = parts[slot]
          const options: [string, string][] = found.map((p) => [
            p.part_id,
            String(p.figures.name || p.part_id),
          ])
          if (own && !found.some((p) => p.part_id === own))
            options.unshift([own, `${own}, not in this stock`])
          return (
            <Pick
              key={slot}
              label={label}
              value={own ?? ''}
              options={[['', 'chosen by its window'], ...options]}
              onChange={(v) => fill(slot, v)}
            />
          )
        })}
      </div>
    </section>
  )
}

/** Figures of the rule book that the leaflet sets otherwise. */
function Figures({ sheet, edit, at }: Omit<Props, 'steps'>) {
  const rules = useQuery({ queryKey: ['rules'], queryFn: () => take(api.GET('/api/v1/rules')) })
  const figures = sheet.figures ?? {}
  const may = (rules.data?.items ?? []).filter((r) => r.sheet)
  const free = may.filter((r) => !(r.key in figures))
  return (
    <section aria-label="Figures">
      <h2>Figures it sets</h2>
      <p className="quiet">Only what the leaflet says otherwise than the rule book. Safety gates stay.</p>
      <ul className="rows">
        {Object.entries(figures).map(([key, value]) => {
          const rule = may.find((r) => r.key === key)
          return (
            <li key={key} aria-label={rule?.name ?? key} className="flex flex-wrap items-end gap-3 py-1">
              <span className="grow self-center text-lg">
                {rule?.name ?? key}
                {rule && (
                  <span className="quiet">
                    {' '}
                    (else {String(rule.value)} {rule.unit})
                  </span>
                )}
              </span>
              <Num
                label="Here"
                unit={rule?.unit}
                value={value}
                onChange={(v) => v !== null && edit({ figures: { ...figures, [key]: v } })}
                error={at(`/figures/${key}`)}
              />
              <MoveRow
                what={rule?.name ?? key}
                at={0}
                count={1}
                remove={() => {
                  const { [key]: _, ...rest } = figures
                  edit({ figures: rest })
                }}
              />
            </li>
          )
        })}
      </ul>
      {free.length > 0 && (
        <div className="mt-2 max-w-xl">
          <Pick
            label="One more figure"
            value=""
            options={[['', 'choose what the leaflet sets'], ...free.map((r) => [r.key, r.name] as const)]}
            onChange={(key) => {
              const rule = may.find((r) => r.key === key)
              if (rule) edit({ figures: { ...figures, [key]: Number(rule.value) } })
            }}
          />
        </div>
      )}
    </section>
  )
}

/** Steps the leaflet adds, each between two of the joint's own. */
function OwnSteps({ sheet, edit, at, steps }: Props) {
  const own = sheet.steps ?? []
  const put = (i: number, change: Partial<Step>) =>
    edit({ steps: own.map((s, k) => (k === i ? { ...s, ...change } : s)) })
  const named = (now: string | null | undefined) => {
    const found = steps.map((s) => [s.id, s.title] as const)
    return now && !steps.some((s) => s.id === now)
      ? [[now, `${now}, not in such a joint`] as const, ...found]
      : found
  }
  const add = () => {
    const taken = new Set(own.map((s) => s.id))
    let n = own.length + 1
    while (taken.has(`step-${n}`)) n += 1
    edit({ steps: [...own, { id: `step-${n}`, title: 'What is done', after: steps[0]?.id ?? 'isolated' }] })
  }
  return (
    <section aria-label="Steps it adds">
      <h2>Steps it adds</h2>
      <ul className="rows">
        {own.map((s, i) => (
          <li key={s.id} aria-label={`Step ${s.title}`} className="flex flex-wrap items-end gap-2 py-2">
            <Word
              wide
              label={`Step ${i + 1}`}
              value={s.title}
              onChange={(title) => put(i, { title: title || s.title })}
              error={at(`/steps/${i}/title`) ?? at(`/steps/${i}/id`)}
            />
            <Pick
              label="after"
              value={s.after}
              options={named(s.after)}
              onChange={(after) => put(i, { after })}
              error={at(`/steps/${i}/after`)}
            />
            <Pick
              label="before"
              value={s.before ?? ''}
              options={[['', 'the joint is proved'], ...named(s.before)]}
              onChange={(before) => put(i, { before: before || null })}
              error={at(`/steps/${i}/before`)}
            />
            <MoveRow
              what={`step ${i + 1}`}
              at={i}
              count={own.length}
              move={(to) => edit({ steps: moved(own, i, to) })}
              remove={() => edit({ steps: own.filter((_, k) => k !== i) })}
            />
            <span className="basis-full">
              <Word
                wide
                label="What to do and to look at"
                value={s.text ?? ''}
                onChange={(text) => put(i, { text })}
              />
            </span>
          </li>
        ))}
      </ul>
      <button type="button" className="btn mt-2" onClick={add}>
        One more step
      </button>
    </section>
  )
}

/** What the leaflet warns of; shown with the joint's own cautions. */
function Cautions({ sheet, edit }: Omit<Props, 'steps' | 'at'>) {
  const cautions = sheet.cautions ?? []
  return (
    <section aria-label="Cautions">
      <h2>Cautions</h2>
      <ul className="rows">
        {cautions.map((c, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a caution has no name
          <li key={i} className="flex items-end gap-2 py-1">
            <Word
              wide
              label={`Caution ${i + 1}`}
              value={c}
              onChange={(v) => edit({ cautions: cautions.map((x, k) => (k === i ? v : x)) })}
            />
            <MoveRow
              what={`caution ${i + 1}`}
              at={i}
              count={cautions.length}
              remove={() => edit({ cautions: cautions.filter((_, k) => k !== i) })}
            />
          </li>
        ))}
      </ul>
      <button type="button" className="btn mt-2" onClick={() => edit({ cautions: [...cautions, ''] })}>
        One more caution
      </button>
    </section>
  )
}
