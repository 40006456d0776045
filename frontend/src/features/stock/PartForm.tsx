import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { ApiError, api, take } from '../../api/client'
import { NumberField, QuantityField, SelectField, TextField } from '../../components/fields'
import { ErrorNote } from '../../components/notes'
import { pairsText, readPairs } from '../../model/pairs'
import { CHOICES, firstLot, LENGTHS, NUMBERS, PAIRS, readWords, unitOf } from './figures'
import type { Kind, Part } from './kinds'

type Figures = Record<string, Value>
type Value = string | number | boolean | string[] | Pair[] | null
type Pair = Record<string, number>

/** Add a part with its first lot, or edit one. Nothing typed is lost when the server says no. */
export function PartForm({ kind, part, close }: { kind: Kind; part?: Part; close: () => void }) {
  const [figures, setFigures] = useState<Figures>(() => ({ ...(part?.figures as Figures | undefined) }))
  const [lot, setLot] = useState('')
  const [quantity, setQuantity] = useState<number | null>(null)
  const [useBy, setUseBy] = useState('')
  const client = useQueryClient()
  const set = (key: string) => (value: Value) =>
    setFigures((f) => ({ ...f, [key]: value === '' ? null : value }))
  const save = useMutation({
    mutationFn: () => {
      if (part)
        return take(
          api.PUT('/api/v1/stock/{part_id}', {
            params: { path: { part_id: part.part_id }, header: { 'If-Match': `"${part.version}"` } },
            body: { figures: tidy(figures, kind) },
          }),
        )
      const first = firstLot(kind, lot, quantity, useBy)
      return take(api.POST('/api/v1/stock', { body: { kind, figures: tidy(figures, kind), lot: first } }))
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
      {CHOICES[kind].map(([key, label, options]) => (
        <SelectField
          key={key}
          label={label}
          value={String(figures[key] ?? options[0])}
          options={options.map((o) => [o, o] as const)}
          onChange={set(key)}
        />
      ))}
      {PAIRS[kind].map(([key, label, names, hint]) => (
        <TextField
          key={key}
          label={label}
          value={typeof figures[key] === 'string' ? figures[key] : pairsText(figures[key], names)}
          onChange={(t) => set(key)(t)}
          error={at(key) ?? at(`${key}/0`)}
          hint={hint}
        />
      ))}
      {kind === 'sleeve' && (
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
      )}
      {kind === 'kit' && (
        <KitSheetOf value={String(figures.sheet ?? '')} set={set('sheet')} error={at('sheet')} />
      )}
      {kind === 'connector' && (
        <>
          <TextField label="Die" value={String(figures.die ?? '')} onChange={set('die')} error={at('die')} />
          <TextField
            label="Metals"
            value={Array.isArray(figures.metals) ? figures.metals.join(', ') : ''}
            onChange={(t) => set('metals')(t.split(',').map((w) => w.trimStart()))}
            error={at('metals')}
            hint="copper, aluminium"
          />
        </>
      )}
      <TextField
        label="Properties"
        value={Array.isArray(figures.properties) ? figures.properties.join(', ') : ''}
        onChange={(t) => set('properties')(t.split(',').map((w) => w.trimStart()))}
        error={at('properties')}
        hint="oil-resistant, uv-resistant, zero-halogen, flame-retardant, hydrocarbon-resistant, cold-applied"
      />
      {!part && (
        <fieldset className="col-span-full grid gap-4 sm:grid-cols-3">
          <legend className="field-label mb-1">First lot, if there is some on hand</legend>
          <TextField
            label="Lot"
            value={lot}
            onChange={setLot}
            error={fault?.at('/lot/name')}
            hint="Left empty where none is printed: it is kept as the unmarked lot"
          />
          <NumberField
            label="On hand"
            unit={unitOf(kind)}
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

/** Lists without blanks, pairs read from their text. */
function tidy(figures: Figures, kind: Kind): Figures {
  const found = { ...figures }
  for (const key of ['properties', 'metals'])
    if (Array.isArray(found[key])) found[key] = readWords(found[key])
  for (const [key, , names] of PAIRS[kind])
    if (typeof found[key] === 'string') found[key] = readPairs(found[key], names)
  return found
}

/** The leaflet that lies in the box. */
function KitSheetOf({ value, set, error }: { value: string; set: (v: string) => void; error?: string }) {
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => take(api.GET('/api/v1/sheets')) })
  return (
    <SelectField
      label="Its sheet"
      value={value}
      hint={error}
      options={[['', 'choose …'], ...(sheets.data?.items ?? []).map((s) => [s.id, s.name] as const)]}
      onChange={set}
    />
  )
}
