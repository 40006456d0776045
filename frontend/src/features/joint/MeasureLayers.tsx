import type { Schemas } from '../../api/client'
import { heard, QuantityField, SelectField } from '../../components/fields'
import { Reading } from './Reading'
import type { useJoint } from './useJoint'

type Core = Schemas['DraftCore']
type Armour = Schemas['DraftArmour']
type Lead = Schemas['DraftLeadSheath']
type End = Schemas['DraftEnd']

export interface EndProps {
  side: 'A' | 'B'
  end: End
  other: End
  set: (end: End) => void
  joint: ReturnType<typeof useJoint>
  tap: boolean
}

/** Armour and bedding, a sheath of lead, and whether the end sits in a gland already. */
export function Layers({ side, end, other, set, joint, tap }: EndProps) {
  const { armour, lead_sheath: lead } = end
  const lay = (change: Partial<Armour>) => set({ ...end, armour: { kind: 'wire', ...armour, ...change } })
  const leaden = (change: Partial<Lead>) => set({ ...end, lead_sheath: { ...lead, ...change } })
  const path = `/ends/${side}/armour`
  const under = `/ends/${side}/lead_sheath`
  return (
    <div className="mt-2">
      <div className="flex flex-wrap gap-x-6">
        {!end.unsheathed && (!tap || armour) && (
          <label className="flex min-h-11 cursor-pointer items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-primary"
              checked={Boolean(armour)}
              onChange={(e) =>
                set({
                  ...end,
                  armour: e.target.checked ? structuredClone(other.armour ?? { kind: 'wire' }) : null,
                })
              }
            />
            armoured<span className="sr-only">, end {side}</span>
          </label>
        )}
        {!end.unsheathed && (!tap || lead) && (
          <label className="flex min-h-11 cursor-pointer items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-primary"
              checked={Boolean(lead)}
              onChange={(e) =>
                set({
                  ...end,
                  lead_sheath: e.target.checked ? structuredClone(other.lead_sheath ?? {}) : null,
                })
              }
            />
            sheath of lead<span className="sr-only">, end {side}</span>
          </label>
        )}
        <label className="flex min-h-11 cursor-pointer items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-primary"
            checked={end.landed ?? false}
            onChange={(e) => set({ ...end, landed: e.target.checked })}
          />
          sits in a gland already<span className="sr-only">, end {side}</span>
        </label>
      </div>
      {armour && (
        <div className="grid items-end gap-x-2 gap-y-1 sm:grid-cols-[1fr_1fr_auto_6.4rem_6.4rem]">
          <Reading
            label="Bedding"
            of={`of end ${side}`}
            path={`${path}/bedding_od`}
            first={armour.bedding_od_mm}
            across={armour.bedding_od_across_mm}
            about={armour.bedding_od_mm ?? other.armour?.bedding_od_mm}
            set={(first, across) => lay({ bedding_od_mm: first, bedding_od_across_mm: across })}
            joint={joint}
          />
          <QuantityField
            label={heard('Wire or tape', `of end ${side}`)}
            mm={armour.thickness_mm}
            onChange={(thickness_mm) => lay({ thickness_mm })}
            error={joint.error?.at(`${path}/thickness_mm`)}
          />
          <SelectField
            label={heard('Armour', `of end ${side}`)}
            value={armour.kind ?? 'wire'}
            options={[
              ['wire', 'wires'],
              ['tape', 'tapes'],
              ['braid', 'braid'],
            ]}
            onChange={(v) => lay({ kind: v as Armour['kind'] })}
          />
        </div>
      )}
      {lead && (
        <div className="mt-2 grid items-end gap-x-2 gap-y-1 sm:grid-cols-[1fr_1fr_auto_6.4rem]">
          <Reading
            label="Inner sheath"
            of={`of end ${side}`}
            path={`${under}/inner_od`}
            first={lead.inner_od_mm}
            across={lead.inner_od_across_mm}
            about={lead.inner_od_mm ?? other.lead_sheath?.inner_od_mm}
            set={(first, across) => leaden({ inner_od_mm: first, inner_od_across_mm: across })}
            joint={joint}
          />
          <QuantityField
            label={heard('Wall of the lead', `of end ${side}`)}
            mm={lead.wall_mm}
            onChange={(wall_mm) => leaden({ wall_mm })}
            error={joint.error?.at(`${under}/wall_mm`)}
          />
        </div>
      )}
    </div>
  )
}

interface UnlikeProps {
  core: Core
  mains: string[]
  set: (change: Partial<Core>) => void
}

/** What only some cores are: another metal, a sector, joined to a core of another name. */
export function Unlike({ core, mains, set }: UnlikeProps) {
  const choices: [keyof Core, string, [string, string][]][] = [
    [
      'metal',
      'Metal',
      [
        ['copper', 'copper'],
        ['aluminium', 'aluminium'],
      ],
    ],
    [
      'shape',
      'Shape',
      [
        ['round', 'round'],
        ['sector', 'sector'],
      ],
    ],
  ]
  if (mains.length) choices.push(['joins', 'Joined to', mains.map((n) => [n, `core ${n}`])])
  return (
    <div className="col-span-full grid gap-2 sm:grid-cols-3">
      {choices.map(([key, label, options]) => (
        <SelectField
          key={key}
          label={label}
          value={String(core[key] ?? (key === 'joins' ? core.name : (options[0]?.[0] ?? '')))}
          options={options}
          onChange={(v) => set({ [key]: v })}
        />
      ))}
    </div>
  )
}
