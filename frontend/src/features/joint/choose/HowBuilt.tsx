import type { Schemas } from '../../../api/client'
import { SelectField } from '../../../components/fields'
import type { FormProps } from '../forms'

type Build = Schemas['BuildIn']
type Key = 'closure' | 'core_insulation' | 'cores_shrunk' | 'fire' | 'thin_side' | 'purpose'
const STRAIGHT: [Key, string, [string, string][]][] = [
  [
    'closure',
    'Closed by',
    [
      ['', 'a sleeve'],
      ['wrap-around', 'a wrap-around sleeve'],
      ['resin', 'a shell with resin'],
      ['sleeve-resin', 'a sleeve, then resin over it'],
    ],
  ],
  [
    'core_insulation',
    'Cores insulated by',
    [
      ['', 'sleeves'],
      ['tape', 'tape'],
    ],
  ],
  [
    'cores_shrunk',
    'Cores shrunk',
    [
      ['', 'one after the other'],
      ['together', 'all together, in turns'],
    ],
  ],
  [
    'fire',
    'Against fire',
    [
      ['', 'nothing more'],
      ['barrier', 'a barrier over all'],
      ['mica', 'mica on each core'],
    ],
  ],
  [
    'thin_side',
    'Thinner sheath',
    [
      ['', 'as it is'],
      ['end-piece', 'stepped with an end piece'],
      ['tape', 'built up with tape'],
    ],
  ],
]
const TAP: typeof STRAIGHT = [
  [
    'purpose',
    'What for',
    [
      ['', 'a tap'],
      ['earthing', 'earthing the line for work'],
    ],
  ],
]
const WRAPS = [
  ['', 'none'],
  ['A', 'wrapped over A'],
  ['B', 'wrapped over B'],
  ['AB', 'wrapped over both'],
] as const
const KINDS = [
  ['', 'crimped or bolted'],
  ['crimp', 'crimped'],
  ['mechanical', 'bolted'],
  ['soldered', 'soldered'],
] as const

/** How the joint is built, each question one touch; what is left open is chosen from stock. */
export function HowBuilt({ joint, draft, kind }: FormProps) {
  const build: Build = draft.build ?? {}
  const set = (key: Key, value: string) => joint.edit({ build: { ...build, [key]: value || undefined } })
  return (
    <div className="mb-4 grid grid-cols-2 gap-3 md:grid-cols-3 xl:grid-cols-4">
      {(kind.branches ? TAP : STRAIGHT).map(([key, label, options]) => (
        <SelectField
          key={key}
          label={label}
          value={standing(build[key])}
          options={build.cold_only ? options.map(cold) : options}
          onChange={(v) => set(key, v)}
        />
      ))}
      {!kind.branches && (build.end_wraps?.length || draft.build?.closure !== 'resin') && (
        <SelectField
          label="Piece over an end"
          value={(build.end_wraps ?? []).join('')}
          options={WRAPS}
          onChange={(v) => joint.edit({ build: { ...build, end_wraps: [...v] as ('A' | 'B')[] } })}
        />
      )}
      {!kind.branches && (
        <SelectField
          label="Cores joined"
          value={draft.connector?.part_id ? '' : (draft.connector?.kind ?? '')}
          options={KINDS}
          onChange={(v) =>
            joint.edit({ connector: v ? { kind: v as Schemas['ConnectorIn']['kind'] } : null })
          }
        />
      )}
    </div>
  )
}

/** Where no heat is allowed, what is left open is settled by the planner. */
function cold([value, words]: readonly [string, string]): readonly [string, string] {
  const open = { 'a sleeve': 'whatever needs no heat', sleeves: 'whatever needs no heat' }
  return [value, open[words as keyof typeof open] ?? words]
}

/** The usual way stands as the first choice. */
function standing(value: string | null | undefined): string {
  return !value || ['sleeve', 'tap', 'in-turn'].includes(value) ? '' : value
}
