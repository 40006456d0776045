import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, keptAnswer, take } from '../../api/client'
import { TextField } from '../../components/fields'
import { ErrorNote, Loading } from '../../components/notes'
import { diameter, sign, sleeveName } from '../../model/units'
import { useMay } from '../../session'
import { useSettings } from '../../settings'
import { ImportStock } from './ImportStock'
import { KINDS, type Kind, type Part } from './kinds'
import { PartForm } from './PartForm'
import { PartLots } from './PartLots'

export function StockPage() {
  const [kind, setKind] = useState<Kind>('sleeve')
  const [text, setText] = useState('')
  const [retired, setRetired] = useState(false)
  const [open, setOpen] = useState<string | null>(null)
  const [panel, setPanel] = useState<'add' | 'import' | null>(null)
  const works = useMay('jointer')
  const { unit } = useSettings()
  const stock = useQuery({
    queryKey: ['stock', retired],
    queryFn: () =>
      keptAnswer(`stock:${retired}`, () =>
        take(api.GET('/api/v1/stock', { params: { query: { retired: retired ? 'yes' : 'no' } } })),
      ),
  })
  if (stock.isPending) return <Loading what="the stock" />
  if (stock.error) return <ErrorNote error={stock.error} again={() => stock.refetch()} />
  const words = text.toLowerCase()
  const shown = stock.data.items.filter(
    (p) =>
      p.kind === kind &&
      `${p.part_id} ${p.figures.name ?? ''} ${p.figures.colour ?? ''}`.toLowerCase().includes(words),
  )
  return (
    <main className="w-full p-4 md:p-6">
      <div className="flex flex-wrap items-end gap-4">
        <h1 className="mr-4">Stock</h1>
        <div className="join" role="tablist">
          {(Object.keys(KINDS) as Kind[]).map((k) => (
            <button
              key={k}
              type="button"
              role="tab"
              aria-selected={kind === k}
              className={`btn join-item ${kind === k ? 'btn-primary' : ''}`}
              onClick={() => setKind(k)}
            >
              {KINDS[k]} {stock.data.items.filter((p) => p.kind === k).length}
            </button>
          ))}
        </div>
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
                Add a {kind}
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
      {panel === 'import' && <ImportStock close={() => setPanel(null)} />}
      {panel === 'add' && <PartForm key={kind} kind={kind} close={() => setPanel(null)} />}
      {shown.length === 0 && (
        <p className="mt-8 text-lg">
          {text
            ? 'Nothing in stock matches.'
            : `No ${KINDS[kind].toLowerCase()} in stock yet. Add the first, or import a list.`}
        </p>
      )}
      <ul className="rows mt-4">
        {shown.map((p) => (
          <li key={p.part_id} className={p.retired ? 'opacity-70' : ''}>
            <button
              type="button"
              aria-expanded={open === p.part_id}
              className="grid min-h-12 w-full cursor-pointer grid-cols-[8rem_1fr] items-center gap-x-4 py-1.5 text-left hover:bg-base-100 md:grid-cols-[10rem_1fr_16rem_11rem]"
              onClick={() => setOpen(open === p.part_id ? null : p.part_id)}
            >
              <b className="text-xl">{size(p, unit)}</b>
              <span>
                <span className="font-medium">{String(p.figures.name ?? p.part_id)}</span>{' '}
                <span className="quiet">{p.part_id}</span>
                {p.retired && <b> retired</b>}
              </span>
              <span className="quiet">{facts(p, unit)}</span>
              <OnHand part={p} />
            </button>
            {open === p.part_id && <PartLots part={p} works={works} />}
          </li>
        ))}
      </ul>
    </main>
  )
}

function num(p: Part, key: string): number {
  const value = p.figures[key]
  return typeof value === 'number' ? value : 0
}

/** The figure a part is looked for by. */
function size(p: Part, unit: 'mm' | 'inch'): string {
  switch (p.kind) {
    case 'sleeve':
      return sleeveName(num(p, 'expanded_id_mm'), num(p, 'recovered_id_mm'), unit)
    case 'connector':
      return `⌀ ${diameter(num(p, 'od_mm'), unit)}`
    case 'shell':
      return `⌀ ${diameter(num(p, 'body_inside_mm'), unit)}`
    case 'resin':
      return `${num(p, 'volume_ml')} ml`
    case 'strap':
      return `${num(p, 'area_mm2')} mm²`
    case 'kit':
      return String(p.figures.sheet ?? '')
    case 'clamp':
      return `${diameter(num(p, 'od_least_mm'), unit)} to ${diameter(num(p, 'od_most_mm'), unit)}`
    default:
      return `${diameter(num(p, 'width_mm'), unit)} × ${diameter(num(p, 'thickness_mm'), unit)}`
  }
}

function facts(p: Part, unit: 'mm' | 'inch'): string {
  const kind = String(p.figures.kind ?? '')
  const form = String(p.figures.form ?? '')
  switch (p.kind) {
    case 'connector': {
      const tap = num(p, 'tap_area_most_mm2')
      const range = `${num(p, 'area_least_mm2')} to ${num(p, 'area_most_mm2')} mm²`
      return `${kind}, ${range}${tap ? `, tap to ${tap}` : ''}, ${diameter(num(p, 'length_mm'), unit)} ${sign(unit)} long`
    }
    case 'shell':
      return `${form || 'split'}, body ${diameter(num(p, 'body_length_mm'), unit)} ${sign(unit)} long`
    case 'resin':
      return `from ${num(p, 'least_temperature_c')} °C, mixed ${num(p, 'mix_minutes')} min`
    case 'strap':
      return `${diameter(num(p, 'length_mm'), unit)} ${sign(unit)} long`
    case 'kit':
      return 'one box serves one end, splice or tee'
    case 'tape':
    case 'clamp':
    case 'mesh':
      return kind || 'metal'
    default:
      return [
        form && form !== 'tube' ? form : '',
        p.figures.lined ? 'lined' : 'plain',
        p.figures.stiff ? 'stiff' : '',
        `wall ${diameter(num(p, 'recovered_wall_mm'), unit)}`,
      ]
        .filter(Boolean)
        .join(', ')
  }
}

function OnHand({ part }: { part: Part }) {
  const amount = (v: number) =>
    part.kind === 'sleeve' ? `${(v / 1000).toFixed(2)} m` : String(Math.round(v * 100) / 100)
  const soon = part.lots.some(
    (l) => l.use_by && l.use_by < new Date(Date.now() + 90 * 86_400_000).toISOString().slice(0, 10),
  )
  return (
    <span className="text-right">
      <b className={`text-lg ${part.on_hand - part.reserved <= 0 ? 'text-error' : ''}`}>
        {part.on_hand > 0 ? amount(part.on_hand) : 'none left'}
      </b>
      {part.reserved > 0 && <span className="quiet block text-sm">{amount(part.reserved)} reserved</span>}
      {soon && <span className="block text-sm font-medium text-warning">a lot ends soon</span>}
    </span>
  )
}
