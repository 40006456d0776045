import type { Schemas } from '../../../api/client'
import { NumberField, QuantityField, SelectField, TextField } from '../../../components/fields'
import { Reading } from '../Reading'
import type { useJoint } from '../useJoint'

type Cable = Schemas['DraftTraceCable']
type Flat = Schemas['DraftFlat']
const LAYERS = [
  ['outer_jacket', 'Outer jacket'],
  ['inner_jacket', 'Inner jacket'],
] as const
const KINDS = [
  ['self-regulating', 'self-regulating'],
  ['power-limiting', 'power-limiting'],
  ['zone', 'constant-wattage, zones'],
] as const

interface Props {
  cable: Cable
  /** Its place in the draft. */
  at: string
  lay: (change: Partial<Cable>) => void
  joint: ReturnType<typeof useJoint>
}

/** A flat cable read from outside in. */
export function FlatCable({ cable, at, lay, joint }: Props) {
  const zone = cable.construction === 'zone'
  const layers = [...LAYERS, ['core', zone ? 'Overlay' : 'Matrix']] as const
  const missing = joint.query.data?.missing ?? []
  const fault = (path: string) => joint.error?.at(path) ?? missing.find((m) => m.path === path)
  return (
    <>
      <div className="grid gap-3 sm:grid-cols-2">
        <SelectField
          label="Construction"
          value={cable.construction ?? 'self-regulating'}
          options={KINDS}
          onChange={(v) => lay({ construction: v as Cable['construction'] })}
        />
        <TextField label="As printed on it" value={cable.name ?? ''} onChange={(name) => lay({ name })} />
      </div>
      <p className="quiet">
        Width is the greater reading, thickness the lesser. Limp tubes pass by the girth, stiff ones by the
        width.
      </p>
      {layers.map(([key, words]) => {
        const flat: Flat = cable[key] ?? {}
        return (
          <div key={key} className="grid items-end gap-x-2 gap-y-1 sm:grid-cols-[1fr_1fr_auto_1fr]">
            <Reading
              label={`${words}, width`}
              second="thickness"
              of={`of the ${words.toLowerCase()}`}
              path={`${at}/${key}/width`}
              secondPath={`${at}/${key}/thickness_mm`}
              first={flat.width_mm}
              across={flat.thickness_mm}
              about={flat.width_mm}
              set={(width_mm, thickness_mm) => lay({ [key]: { ...flat, width_mm, thickness_mm } })}
              joint={joint}
            />
            {key === 'outer_jacket' ? (
              <QuantityField
                label="Braid, one side"
                mm={cable.braid_mm}
                onChange={(braid_mm) => lay({ braid_mm })}
                error={fault(`${at}/braid_mm`)}
              />
            ) : (
              <span />
            )}
          </div>
        )
      })}
      <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
        <NumberField
          label="Bus wires"
          unit="mm²"
          value={cable.bus_area_mm2}
          onChange={(bus_area_mm2) => lay({ bus_area_mm2 })}
          error={fault(`${at}/bus_area_mm2`)}
        />
        <QuantityField
          label="each across"
          mm={cable.bus_od_mm}
          onChange={(bus_od_mm) => lay({ bus_od_mm })}
          error={fault(`${at}/bus_od_mm`)}
        />
        <NumberField
          label="Test voltage allowed"
          unit="V DC"
          value={cable.test_most_v}
          onChange={(test_most_v) => lay({ test_most_v })}
          hint="From its data; else 500"
          error={fault(`${at}/test_most_v`)}
        />
        {zone && (
          <QuantityField
            label="Between points"
            mm={cable.node_mm}
            onChange={(node_mm) => lay({ node_mm })}
            error={fault(`${at}/node_mm`)}
            hint="Connection points"
          />
        )}
      </div>
    </>
  )
}
