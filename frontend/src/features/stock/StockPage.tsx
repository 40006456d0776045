import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, keptAnswer, take } from '../../api/client'
import { TextField } from '../../components/fields'
import { ErrorNote, Loading } from '../../components/notes'
import { Tabs } from '../../components/Tabs'
import { useMay } from '../../session'
import { useSettings } from '../../settings'
import { ImportStock } from './ImportStock'
import { counted, factsOf, type Kind, type Part, sizeOf, useKinds } from './kinds'
import { PartForm } from './PartForm'
import { PartLots } from './PartLots'

export function StockPage() {
  const [chosen, setChosen] = useState('')
  const [text, setText] = useState('')
  const [retired, setRetired] = useState(false)
  const [open, setOpen] = useState<string | null>(null)
  const [panel, setPanel] = useState<'add' | 'import' | 'starter' | null>(null)
  const works = useMay('jointer')
  const { unit } = useSettings()
  const stock = useQuery({
    queryKey: ['stock', retired],
    queryFn: () =>
      keptAnswer(`stock:${retired}`, () =>
        take(api.GET('/api/v1/stock', { params: { query: { retired: retired ? 'yes' : 'no' } } })),
      ),
  })
  const kinds = useKinds()
  if (stock.isPending || kinds.isPending) return <Loading what="the stock" />
  if (stock.error) return <ErrorNote error={stock.error} again={() => stock.refetch()} />
  if (kinds.error) return <ErrorNote error={kinds.error} again={() => kinds.refetch()} />
  const kind = kinds.data.items.find((k) => k.name === chosen) ?? kinds.data.items[0]
  if (!kind) return null
  const words = text.toLowerCase()
  const shown = stock.data.items.filter(
    (p) =>
      p.kind === kind.name &&
      `${p.part_id} ${p.figures.name ?? ''} ${p.figures.colour ?? ''}`.toLowerCase().includes(words),
  )
  return (
    <main className="w-full p-4 md:p-6">
      <div className="flex flex-wrap items-end gap-4">
        <h1 className="mr-4">Stock</h1>
        <div className="w-56">
          <TextField label="Find" type="search" value={text} onChange={setText} />
        </div>
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="checkbox"
            checked={retired}
            onChange={(e) => setRetired(e.target.checked)}
          />{' '}
          show retired
        </label>
        <div className="ml-auto flex gap-3">
          {works && (
            <>
              <button
                type="button"
                className="btn btn-primary"
                onClick={() => setPanel(panel === 'add' ? null : 'add')}
              >
                Add a {kind.name.replaceAll('-', ' ')}
              </button>
              <button
                type="button"
                className="btn"
                onClick={() => setPanel(panel === 'import' ? null : 'import')}
              >
                Import a list
              </button>
            </>
          )}
          <a className="btn" href="/api/v1/stock.csv">
            Save as CSV
          </a>
        </div>
      </div>
      {stock.data.items.length === 0 && works && panel === null && (
        <section className="mt-6 bg-base-100 p-4" aria-label="Nothing on the shelf yet">
          <h2>Nothing on the shelf yet</h2>
          <p className="mt-1 text-lg">
            Parts are chosen from what is in stock. Begin with a list of everyday sizes, and put it right as
            you count.
          </p>
          <div className="mt-3 flex flex-wrap gap-3">
            <button type="button" className="btn btn-primary btn-tall" onClick={() => setPanel('starter')}>
              Look at the starter stock
            </button>
            <button type="button" className="btn btn-tall" onClick={() => setPanel('import')}>
              Import a list of my own
            </button>
          </div>
        </section>
      )}
      {(panel === 'import' || panel === 'starter') && (
        <ImportStock key={panel} starter={panel === 'starter'} close={() => setPanel(null)} />
      )}
      <div className="mt-4">
        <Tabs
          label="Kinds of part"
          tabs={kinds.data.items.map((k) => ({
            id: k.name,
            title: `${k.heading} ${stock.data.items.filter((p) => p.kind === k.name).length}`,
          }))}
          at={kind.name}
          onTab={setChosen}
        >
          {panel === 'add' && <PartForm key={kind.name} kind={kind} close={() => setPanel(null)} />}
          {shown.length === 0 && (
            <p className="mt-8 text-lg">
              {text
                ? 'Nothing in stock matches.'
                : `No ${kind.heading.toLowerCase()} in stock yet. Add the first, or import a list.`}
            </p>
          )}
          <ul className="rows mt-4">
            {shown.map((p) => (
              <li key={p.part_id} className={p.retired ? 'opacity-70' : ''}>
                <button
                  type="button"
                  aria-expanded={open === p.part_id}
                  className="grid min-h-12 w-full cursor-pointer grid-cols-[1fr_auto] items-center gap-x-4 py-1.5 text-left hover:bg-base-100 md:grid-cols-[10rem_1fr_16rem_11rem]"
                  onClick={() => setOpen(open === p.part_id ? null : p.part_id)}
                >
                  <b className="order-1 text-xl md:order-none">{sizeOf(kind, p, unit)}</b>
                  <span className="order-3 col-span-full md:order-none md:col-span-1">
                    <span className="font-medium">{String(p.figures.name ?? p.part_id)}</span>{' '}
                    <span className="quiet">{p.part_id}</span>
                    {p.retired && <b> retired</b>}
                  </span>
                  <span className="quiet order-4 col-span-full md:order-none md:col-span-1">
                    {factsOf(kind, p, unit)}
                  </span>
                  <OnHand kind={kind} part={p} />
                </button>
                {open === p.part_id && <PartLots kind={kind} part={p} works={works} />}
              </li>
            ))}
          </ul>
        </Tabs>
      </div>
    </main>
  )
}

function OnHand({ kind, part }: { kind: Kind; part: Part }) {
  const amount = (quantity: number) => `${counted(kind, quantity)} ${kind.unit}`
  const soon = part.lots.some(
    (l) => l.use_by && l.use_by < new Date(Date.now() + 90 * 86_400_000).toISOString().slice(0, 10),
  )
  return (
    <span className="order-2 text-right md:order-none">
      <b className={`text-lg ${part.on_hand - part.reserved <= 0 ? 'text-error' : ''}`}>
        {part.on_hand > 0 ? amount(part.on_hand) : 'none left'}
      </b>
      {part.reserved > 0 && <span className="quiet block text-sm">{amount(part.reserved)} reserved</span>}
      {soon && <span className="block text-sm font-medium text-warning">a lot ends soon</span>}
    </span>
  )
}
