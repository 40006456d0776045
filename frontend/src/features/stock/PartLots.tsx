import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { ApiError, api, type Schemas, take } from '../../api/client'
import { NumberField, TextField } from '../../components/fields'
import { ErrorNote } from '../../components/notes'
import { day } from '../../model/when'
import { useSettings } from '../../settings'
import { counted, type Kind, type Part, said, stored, unitSaid, type Value } from './kinds'
import { PartForm } from './PartForm'

/** A part laid open: its lots, counting, deliveries, editing, retiring. */
export function PartLots({ kind, part, works }: { kind: Kind; part: Part; works: boolean }) {
  const { unit } = useSettings()
  const [editing, setEditing] = useState(false)
  const client = useQueryClient()
  const retire = useMutation({
    mutationFn: () =>
      take(
        api.POST('/api/v1/stock/{part_id}/retired', {
          params: { path: { part_id: part.part_id }, header: { 'If-Match': `"${part.version}"` } },
          body: { retired: !part.retired },
        }),
      ),
    onSettled: () => client.invalidateQueries({ queryKey: ['stock'] }),
  })
  if (editing) return <PartForm kind={kind} part={part} close={() => setEditing(false)} />
  return (
    <div className="mb-3 grid gap-6 bg-base-100 p-4 lg:grid-cols-[1fr_1fr]">
      <section>
        <h2>Lots</h2>
        {part.lots.length === 0 && <p className="quiet">None on hand.</p>}
        <ul className="rows">
          {part.lots.map((l) => (
            <Lot key={l.id} kind={kind} part={part} lot={l} works={works} />
          ))}
        </ul>
        {works && <Delivery kind={kind} part={part} />}
      </section>
      <section>
        <h2>Figures</h2>
        <dl className="grid grid-cols-[12rem_1fr] gap-y-0.5">
          {kind.figures
            .map((f) => [f, said(f, part.figures[f.key] as Value | undefined, unit)] as const)
            .filter(([, words]) => words)
            .map(([f, words]) => (
              <div key={f.key} className="contents">
                <dt className="quiet">{f.form === 'flag' ? '' : f.label}</dt>
                <dd className="font-medium">
                  {words} {unitSaid(f, unit)}
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
        {retire.error && <ErrorNote error={retire.error} />}
      </section>
    </div>
  )
}

interface LotProps {
  kind: Kind
  part: Part
  lot: Schemas['LotOut']
  works: boolean
}

function Lot({ kind, part, lot, works }: LotProps) {
  const [found, setFound] = useState<number | null>(null)
  const [counting, setCounting] = useState(false)
  const [opened, setOpened] = useState(lot.opened)
  const [storedC, setStoredC] = useState<number | null>(null)
  const ages = kind.figures.find((f) => f.key === 'opened_days')
  const days = ages ? said(ages, part.figures.opened_days as Value | undefined, 'mm') : ''
  const opening = opened && !lot.opened
  const client = useQueryClient()
  const count = useMutation({
    mutationFn: () =>
      take(
        api.POST('/api/v1/stock/{part_id}/lots/{lot_id}/count', {
          params: {
            path: { part_id: part.part_id, lot_id: lot.id },
            header: { 'If-Match': `"${part.version}"` },
          },
          body: {
            quantity: stored(kind, found ?? 0),
            ...(ages ? { opened, ...(opening && storedC !== null ? { stored_c: storedC } : {}) } : {}),
          },
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
          {counted(kind, lot.quantity)} {kind.unit}
        </span>
        <span className="quiet">
          {[
            lot.reserved ? `${counted(kind, lot.reserved)} reserved` : '',
            lot.use_by ? `use by ${day(lot.use_by)}` : '',
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
          className="mt-2 flex flex-wrap items-end gap-3"
          onSubmit={(e: FormEvent) => {
            e.preventDefault()
            count.mutate()
          }}
        >
          <NumberField
            autoFocus
            label={`Found of ${lot.name}`}
            unit={kind.unit}
            hint={opened && days ? 'Of an opened one what is left: 0.4 of it.' : undefined}
            value={found}
            onChange={setFound}
            error={fault?.at('/quantity')}
          />
          {ages && (
            <label className="flex min-h-11 items-center gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-primary"
                checked={opened}
                onChange={(e) => setOpened(e.target.checked)}
              />
              {`${(found ?? 0) > 1 && !lot.opened ? 'one of them ' : ''}opened`}
              {days ? `: it lasts ${days} ${ages.unit} from today` : ''}
            </label>
          )}
          {ages && opening && days && (
            <NumberField
              label="Kept at"
              unit="°C"
              hint="Empty at room temperature; colder it lasts longer."
              value={storedC}
              onChange={setStoredC}
              error={fault?.at('/stored_c')}
            />
          )}
          <button type="submit" className="btn btn-primary" disabled={found === null}>
            Put down
          </button>
          {count.error && !fault?.problem.errors.length && <ErrorNote error={count.error} />}
        </form>
      )}
    </li>
  )
}

function Delivery({ kind, part }: { kind: Kind; part: Part }) {
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
            quantity: stored(kind, quantity ?? 0),
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
      <NumberField label="Delivered" unit={kind.unit} value={quantity} onChange={setQuantity} />
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
