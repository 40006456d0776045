import { Num } from './rows'
import type { At } from './typing'
import type { Sheet } from './useSheet'

type ServesData = NonNullable<Sheet['serves']>
type Construction = NonNullable<ServesData['constructions']>[number]
const KINDS: [Construction, string][] = [
  ['self-regulating', 'self-regulating'],
  ['power-limiting', 'power-limiting'],
  ['zone', 'constant-wattage, zones'],
]
const LIMITS = [
  ['width_least_mm', 'Width from', 'mm'],
  ['width_most_mm', 'to', 'mm'],
  ['thickness_least_mm', 'Thickness from', 'mm'],
  ['thickness_most_mm', 'to', 'mm'],
  ['bus_least_mm2', 'Bus wires from', 'mm²'],
  ['bus_most_mm2', 'to', 'mm²'],
  ['voltage_most_v', 'Up to', 'V'],
] as const

/** The cables the kit is for. */
export function Serves({ sheet, edit, at }: { sheet: Sheet; edit: (serves: ServesData) => void; at: At }) {
  const serves = sheet.serves ?? {}
  const kinds = serves.constructions ?? []
  return (
    <section aria-label="Cables served">
      <h2>Cables it serves</h2>
      <div className="flex flex-wrap gap-x-5">
        {KINDS.map(([kind, words]) => (
          <label key={kind} className="flex min-h-11 cursor-pointer items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-primary"
              checked={kinds.includes(kind)}
              onChange={() =>
                edit({
                  ...serves,
                  constructions: kinds.includes(kind) ? kinds.filter((k) => k !== kind) : [...kinds, kind],
                })
              }
            />
            {words}
          </label>
        ))}
      </div>
      {at('/serves/constructions') && <p className="font-medium text-error">{at('/serves/constructions')}</p>}
      <div className="flex flex-wrap gap-2">
        {LIMITS.map(([key, label, unit]) => (
          <Num
            key={key}
            label={label}
            unit={unit}
            value={serves[key]}
            onChange={(v) => edit({ ...serves, [key]: v })}
            error={at(`/serves/${key}`)}
          />
        ))}
      </div>
    </section>
  )
}
