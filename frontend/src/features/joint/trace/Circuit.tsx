import type { Schemas } from '../../../api/client'
import { NumberField, QuantityField, SelectField, TextField } from '../../../components/fields'
import type { useJoint } from '../useJoint'

type Trace = Schemas['DraftTrace']
type CircuitData = NonNullable<Trace['circuit']>
type Allowance = Schemas['AllowanceIn']

interface Props {
  trace: Trace
  set: (change: Partial<Trace>) => void
  joint: ReturnType<typeof useJoint>
  zone: boolean
}

/** Run, allowances, breaker: what the cable's arithmetic needs. Everything may be left out. */
export function Circuit({ trace, set, joint, zone }: Props) {
  const c: CircuitData = trace.circuit ?? {}
  const put = (change: Partial<CircuitData>) => set({ circuit: { ...c, ...change } })
  const rows = c.allowances ?? []
  const row = (i: number, change: Partial<Allowance>) =>
    put({ allowances: rows.map((a, k) => (k === i ? { ...a, ...change } : a)) })
  const fault = (key: string) => joint.error?.at(`/trace/circuit/${key}`)
  const number = (key: keyof CircuitData, label: string, unit: string, hint?: string) => (
    <NumberField
      label={label}
      unit={unit}
      value={c[key] as number | null | undefined}
      onChange={(v) => put({ [key]: v })}
      hint={hint}
      error={fault(key)}
    />
  )
  return (
    <div>
      <h2>Run and circuit</h2>
      <div className="grid grid-cols-2 gap-x-2 gap-y-1 sm:grid-cols-4">
        {number('run_m', 'Pipe run', 'm')}
        {number('spiral_extra', 'Spiral, more cable', '', '0.1 is 10 % more')}
        <QuantityField
          label="Between fixings"
          mm={c.fixing_spacing_mm}
          onChange={(v) => put({ fixing_spacing_mm: v })}
          error={fault('fixing_spacing_mm')}
        />
        <QuantityField
          label="For a connection"
          mm={c.connection_mm}
          onChange={(v) => put({ connection_mm: v })}
          hint="Each end"
          error={fault('connection_mm')}
        />
        {number('circuit_m', 'Circuit before', 'm')}
        {number('added_m', 'comes to it', 'm')}
        {number('breaker_a', 'Breaker', 'A')}
        {number('start_c', 'Coldest start', '°C')}
        {zone && (
          <QuantityField
            label="First point felt at"
            mm={c.felt_mm}
            onChange={(v) => put({ felt_mm: v })}
            hint="From the present end"
            error={fault('felt_mm')}
          />
        )}
        <SelectField
          label="Entry of the box"
          value={trace.mounting?.entry ?? 'side'}
          options={[
            ['side', 'at the side'],
            ['top', 'on top'],
            ['underside', 'underneath'],
          ]}
          onChange={(v) => set({ mounting: { mounted: true, ...trace.mounting, entry: v as 'side' } })}
        />
      </div>
      <label className="flex min-h-11 cursor-pointer items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-primary"
          checked={trace.mounting?.mounted ?? true}
          onChange={(e) => set({ mounting: { entry: 'side', ...trace.mounting, mounted: e.target.checked } })}
        />
        the cable is fixed to the pipe already
      </label>
      {rows.map((a, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows have no name until one is typed
        <div key={i} className="grid grid-cols-[1fr_7rem_5rem_auto] items-end gap-2 py-1">
          <TextField label="More cable on" value={a.what} onChange={(what) => row(i, { what })} />
          <QuantityField label="each" mm={a.each_mm} onChange={(v) => row(i, { each_mm: v ?? 0 })} />
          <NumberField label="count" value={a.count} onChange={(v) => row(i, { count: v ?? 0 })} />
          <button
            type="button"
            className="btn"
            onClick={() => put({ allowances: rows.filter((_, k) => k !== i) })}
          >
            Remove
          </button>
        </div>
      ))}
      <button
        type="button"
        className="link min-h-11"
        onClick={() => put({ allowances: [...rows, { what: 'valve', each_mm: 500, count: 1 }] })}
      >
        A valve, flange or support more
      </button>
    </div>
  )
}
