import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { ApiError, api, type Schemas, take } from '../../api/client'
import { NumberField, TextField } from '../../components/fields'
import { ErrorNote } from '../../components/notes'
import { type Figures, firstLot, type Kind, type Part, tidy, type Value } from './kinds'
import { PartField } from './PartField'

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
      return take(
        api.POST('/api/v1/stock', {
          body: { kind: kind.name as Schemas['PartIn']['kind'], figures: tidy(figures, kind), lot: first },
        }),
      )
    },
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['stock'] })
      close()
    },
  })
  const fault = save.error instanceof ApiError ? save.error : null
  const at = (key: string) => fault?.at(`/figures/${key}`)
  const known = kind.figures.map((f) => `/figures/${f.key}`)
  return (
    <form
      className="mt-4 grid gap-4 bg-base-100 p-4 sm:grid-cols-2 lg:grid-cols-4"
      onSubmit={(e: FormEvent) => {
        e.preventDefault()
        save.mutate()
      }}
    >
      <h2 className="col-span-full">
        {part ? `Edit ${part.part_id}` : `A new ${kind.name.replaceAll('-', ' ')}`}
      </h2>
      {!part && (
        <TextField
          label="Part id"
          value={String(figures.id ?? '')}
          onChange={set('id')}
          error={at('id')}
          hint="As it is written on the reel or box"
        />
      )}
      {kind.figures.map((f) => (
        <PartField
          key={f.key}
          figure={f}
          value={figures[f.key]}
          set={set(f.key)}
          error={at(f.key) ?? at(`${f.key}/0`)}
        />
      ))}
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
            unit={kind.unit}
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
          <ErrorNote error={fault} skip={[...known, '/figures/id']} />
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
