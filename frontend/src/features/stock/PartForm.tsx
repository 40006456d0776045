import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { ApiError, api, take } from '../../api/client'
import { NumberField, QuantityField, TextField } from '../../components/fields'
import { ErrorNote } from '../../components/notes'
import type { Part } from './StockPage'

type Kind = 'sleeve' | 'connector'
type Figures = Record<string, string | number | boolean | string[] | null>
const LENGTHS: Record<Kind, [string, string, string?][]> = {
  sleeve: [
    ['expanded_id_mm', 'Inside as supplied, at least'],
    ['recovered_id_mm', 'Inside when free, at most'],
    ['recovered_wall_mm', 'Wall when free'],
    ['stock_length_mm', 'Length of a piece', 'Empty for a reel'],
  ],
  connector: [
    ['od_mm', 'Outside diameter'],
    ['length_mm', 'Length'],
    ['insertion_mm', 'Insertion depth, each side'],
    ['growth_mm', 'Grows when crimped, each side'],
  ],
}
const NUMBERS: Record<Kind, [string, string, string, string?][]> = {
  sleeve: [
    ['longitudinal_change_pct', 'Length change when free', '%', 'Minus when it gets shorter'],
    ['voltage_v', 'Rated voltage', 'V'],
    ['shrink_c', 'Shrinks from', '°C'],
    ['scorch_c', 'Scorches at', '°C'],
    ['price_per_m', 'Price', 'per m'],
  ],
  connector: [
    ['area_least_mm2', 'Takes from', 'mm²'],
    ['area_most_mm2', 'Takes to', 'mm²'],
    ['presses', 'Presses, each side', ''],
    ['price_each', 'Price', 'each'],
  ],
}

/** Add a part with its first lot, or edit one. Nothing typed is lost when the server says no. */
export function PartForm({ kind, part, close }: { kind: Kind; part?: Part; close: () => void }) {
  const [figures, setFigures] = useState<Figures>(() => ({ ...(part?.figures as Figures | undefined) }))
  const [lot, setLot] = useState('')
  const [quantity, setQuantity] = useState<number | null>(null)
  const [useBy, setUseBy] = useState('')
  const client = useQueryClient()
  const set = (key: string) => (value: string | number | boolean | string[] | null) =>
    setFigures((f) => ({ ...f, [key]: value === '' ? null : value }))
  const save = useMutation({
    mutationFn: () => {
      if (part)
        return take(
          api.PUT('/api/v1/stock/{part_id}', {
            params: { path: { part_id: part.part_id }, header: { 'If-Match': `"${part.version}"` } },
            body: { figures: tidy(figures) },
          }),
        )
      const first = lot
        ? { name: lot, quantity: (quantity ?? 0) * (kind === 'sleeve' ? 1000 : 1), use_by: useBy || null }
        : null
      return take(api.POST('/api/v1/stock', { body: { kind, figures: tidy(figures), lot: first } }))
    },
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['stock'] })
      close()
    },
  })
  const fault = save.error instanceof ApiError ? save.error : null
  const at = (key: string) => fault?.at(`/figures/${key}`)
  const known = [...LENGTHS[kind], ...NUMBERS[kind]].map(([k]) => `/figures/${k}`)
  const value = (key: string) => (typeof figures[key] === 'number' ? (figures[key] as number) : null)
  return (
    <form
      className="mt-4 grid gap-4 bg-base-100 p-4 sm:grid-cols-2 lg:grid-cols-4"
      onSubmit={(e: FormEvent) => {
        e.preventDefault()
        save.mutate()
      }}
    >
      <h2 className="col-span-full">{part ? `Edit ${part.part_id}` : `A new ${kind}`}</h2>
      {!part && (
        <TextField
          label="Part id"
          value={String(figures.id ?? '')}
          onChange={set('id')}
          error={at('id')}
          hint="As it is written on the reel or box"
        />
      )}
      <TextField label="Name" value={String(figures.name ?? '')} onChange={set('name')} error={at('name')} />
      {LENGTHS[kind].map(([key, label, hint]) => (
        <QuantityField
          key={key}
          label={label}
          hint={hint}
          mm={value(key)}
          onChange={set(key)}
          error={at(key)}
        />
      ))}
      {NUMBERS[kind].map(([key, label, unit, hint]) => (
        <NumberField
          key={key}
          label={label}
          unit={unit}
          hint={hint}
          value={value(key)}
          onChange={set(key)}
          error={at(key)}
        />
      ))}
      {kind === 'sleeve' ? (
        <>
          <TextField
            label="Properties"
            value={Array.isArray(figures.properties) ? figures.properties.join(', ') : ''}
            onChange={(t) => set('properties')(t.split(',').map((w) => w.trimStart()))}
            error={at('properties')}
            hint="oil-resistant, uv-resistant, zero-halogen, flame-retardant"
          />
          <div className="flex flex-col gap-2 pt-6">
            {(['lined', 'stiff'] as const).map((k) => (
              <label key={k} className="flex items-center gap-2">
                <input
                  type="checkbox"
                  className="checkbox checkbox-primary"
                  checked={Boolean(figures[k])}
                  onChange={(e) => set(k)(e.target.checked)}
                />
                {k === 'lined' ? 'adhesive-lined (dual-wall)' : 'stiff, thick wall'}
              </label>
            ))}
          </div>
        </>
      ) : (
        <TextField label="Die" value={String(figures.die ?? '')} onChange={set('die')} error={at('die')} />
      )}
      {!part && (
        <fieldset className="col-span-full grid gap-4 sm:grid-cols-3">
          <legend className="field-label mb-1">First lot, if there is some on hand</legend>
          <TextField label="Lot" value={lot} onChange={setLot} error={fault?.at('/lot/name')} />
          <NumberField
            label="On hand"
            unit={kind === 'sleeve' ? 'm' : 'pieces'}
            value={quantity}
            onChange={setQuantity}
            error={fault?.at('/lot/quantity')}
          />
          <TextField
            label="Use by"
            type="date"
            value={useBy}
            onChange={setUseBy}
            error={fault?.at('/lot/use_by')}
          />
        </fieldset>
      )}
      {fault && (
        <div className="col-span-full">
          <ErrorNote error={fault} skip={[...known, '/figures/id', '/figures/name']} />
        </div>
      )}
      <div className="col-span-full flex gap-3">
        <button type="submit" className="btn btn-primary" disabled={save.isPending}>
          {part ? 'Save' : 'Add to the stock'}
        </button>
        <button type="button" className="btn" onClick={close}>
          Not now
        </button>
      </div>
    </form>
  )
}

/** Properties without blanks. */
function tidy(figures: Figures): Figures {
  const words = figures.properties
  return Array.isArray(words)
    ? { ...figures, properties: words.map((w) => w.trim()).filter(Boolean) }
    : figures
}
