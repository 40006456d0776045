import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { ApiError, api, type Schemas, take } from '../../api/client'
import { NumberField, TextField } from '../../components/fields'
import { ErrorNote } from '../../components/notes'
import { scaleOf, stored, unitOf } from './figures'
import type { Kind, Part } from './kinds'
import { PartForm } from './PartForm'

/** A part laid open: its lots, counting, deliveries, editing, retiring. */
export function PartLots({ part, works }: { part: Part; works: boolean }) {
  const [editing, setEditing] = useState(false)
  const client = useQueryClient()
  const retire = useMutation({
    mutationFn: () =>
      take(
        api.POST('/api/v1/stock/{part_id}/retired', {
          params: { path: { part_id: part.part_id } },
          body: { retired: !part.retired },
        }),
      ),
    onSuccess: () => client.invalidateQueries({ queryKey: ['stock'] }),
  })
  if (editing) return <PartForm kind={part.kind as Kind} part={part} close={() => setEditing(false)} />
  return (
    <div className="mb-3 grid gap-6 bg-base-100 p-4 lg:grid-cols-[1fr_1fr]">
      <section>
        <h2>Lots</h2>
        {part.lots.length === 0 && <p className="quiet">None on hand.</p>}
        <ul className="rows">
          {part.lots.map((l) => (
            <Lot key={l.id} part={part} lot={l} works={works} />
          ))}
        </ul>
        {works && <Delivery part={part} />}
      </section>
      <section>
        <h2>Figures</h2>
        <dl className="grid grid-cols-[12rem_1fr] gap-y-0.5">
          {Object.entries(part.figures)
            .filter(([k, v]) => k !== 'id' && v !== null && !(Array.isArray(v) && !v.length))
            .map(([k, v]) => (
              <div key={k} className="contents">
                <dt className="quiet">{k.replaceAll('_', ' ')}</dt>
                <dd className="font-medium">
                  {Array.isArray(v) ? v.join(', ') : v === true ? 'yes' : v === false ? 'no' : String(v)}
                </dd>
              </div>
            ))}
        </dl>
        {works && (
          <div className="mt-3 flex gap-3">
            <button type="button" className="btn btn-sm" onClick={() => setEditing(true)}>
              Edit
            </button>
            <button type="button" className="btn btn-sm" onClick={() => retire.mutate()}>
              {part.retired ? 'Take back in' : 'Retire'}
            </button>
          </div>
        )}
      </section>
    </div>
  )
}

function Lot({ part, lot, works }: { part: Part; lot: Schemas['LotOut']; works: boolean }) {
  const [found, setFound] = useState<number | null>(null)
  const [counting, setCounting] = useState(false)
  const client = useQueryClient()
  const count = useMutation({
    mutationFn: () =>
      take(
        api.POST('/api/v1/stock/{part_id}/lots/{lot_id}/count', {
          params: { path: { part_id: part.part_id, lot_id: lot.id } },
          body: { quantity: stored(part.kind, found ?? 0) },
        }),
      ),
    onSuccess: async () => {
      setCounting(false)
      await client.invalidateQueries({ queryKey: ['stock'] })
    },
  })
  const fault = count.error instanceof ApiError ? count.error : null
  return (
    <li className="py-1.5">
      <div className="flex flex-wrap items-center gap-x-4">
        <b className="w-24">{lot.name}</b>
        <span className="text-lg font-semibold">
          {lot.quantity / scaleOf(part.kind)} {unitOf(part.kind)}
        </span>
        <span className="quiet">
          {[
            lot.reserved ? `${lot.reserved / scaleOf(part.kind)} reserved` : '',
            lot.use_by ? `use by ${lot.use_by}` : '',
            lot.opened ? 'opened' : '',
            lot.place,
          ]
            .filter(Boolean)
            .join(', ')}
        </span>
        <a
          className="btn btn-ghost btn-sm ml-auto"
          href={`/api/v1/stock/${encodeURIComponent(part.part_id)}/lots/${lot.id}/label.pdf`}
          target="_blank"
          rel="noreferrer"
        >
          Label
        </a>
        {works && (
          <button type="button" className="btn btn-ghost btn-sm" onClick={() => setCounting(!counting)}>
            Count
          </button>
        )}
      </div>
      {counting && (
        <form
          className="mt-2 flex items-end gap-3"
          onSubmit={(e: FormEvent) => {
            e.preventDefault()
            count.mutate()
          }}
        >
          <NumberField
            autoFocus
            label={`Found of ${lot.name}`}
            unit={unitOf(part.kind)}
            value={found}
            onChange={setFound}
            error={fault?.at('/quantity')}
          />
          <button type="submit" className="btn btn-primary" disabled={found === null}>
            Put down
          </button>
        </form>
      )}
    </li>
  )
}

function Delivery({ part }: { part: Part }) {
  const [name, setName] = useState('')
  const [quantity, setQuantity] = useState<number | null>(null)
  const [useBy, setUseBy] = useState('')
  const client = useQueryClient()
  const add = useMutation({
    mutationFn: () =>
      take(
        api.POST('/api/v1/stock/{part_id}/lots', {
          params: { path: { part_id: part.part_id } },
          body: {
            name: name.trim() || undefined,
            quantity: stored(part.kind, quantity ?? 0),
            use_by: useBy || null,
          },
        }),
      ),
    onSuccess: async () => {
      setName('')
      setQuantity(null)
      await client.invalidateQueries({ queryKey: ['stock'] })
    },
  })
  return (
    <form
      className="mt-3 grid grid-cols-2 items-end gap-3 sm:grid-cols-[1fr_1fr_1fr_auto]"
      onSubmit={(e: FormEvent) => {
        e.preventDefault()
        add.mutate()
      }}
    >
      <TextField label="New lot" value={name} onChange={setName} hint="Empty where none is printed" />
      <NumberField label="Delivered" unit={unitOf(part.kind)} value={quantity} onChange={setQuantity} />
      <TextField label="Use by" type="date" value={useBy} onChange={setUseBy} />
      <button type="submit" className="btn" disabled={quantity === null}>
        Book in
      </button>
      {add.error && (
        <div className="col-span-full">
          <ErrorNote error={add.error} />
        </div>
      )}
    </form>
  )
}
