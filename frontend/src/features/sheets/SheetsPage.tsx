import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { api, type Schemas, take } from '../../api/client'
import { TextField } from '../../components/fields'
import { ErrorNote, Loading } from '../../components/notes'
import { makesOf, sheetMakes, useKinds } from '../../components/useKinds'
import { useMay } from '../../session'
import { Grouped } from './rows'
import { slug } from './slug'

type Sheet = Schemas['KitSheet']
export const STATE_WORDS: Record<string, string> = {
  draft: '○ draft',
  checked: '● checked',
  retired: '– retired',
}

/** Every kit's sheet: what it is for, its state, and the way to a new one. */
export function SheetsPage() {
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => take(api.GET('/api/v1/sheets')) })
  const works = useMay('jointer')
  const makes = makesOf(useKinds())
  if (sheets.isPending) return <Loading what="the kit sheets" />
  if (sheets.error) return <ErrorNote error={sheets.error} again={() => sheets.refetch()} />
  return (
    <main className="mx-auto w-full max-w-5xl p-4 md:p-6">
      <h1>Kit sheets</h1>
      <p className="quiet text-lg">
        The leaflet in the box, typed once, checked by a second person, then every joint with that kit takes
        its figures from here.
      </p>
      {sheets.data.unreadable.length > 0 && (
        <section className="fault mt-3" aria-label="Sheets that cannot be read">
          {sheets.data.unreadable.map((words) => (
            <p key={words}>{words}</p>
          ))}
        </section>
      )}
      <ul className="rows mt-3">
        {sheets.data.items.map((s) => (
          <li key={s.id}>
            <Link
              to={`/sheets/${s.id}`}
              className="grid min-h-12 items-center gap-x-4 py-2 hover:bg-base-200 md:grid-cols-[1fr_15rem_8rem]"
            >
              <span className="text-lg font-semibold">{s.name}</span>
              <span>{sheetMakes(makes, s.recipe).makes}</span>
              <span
                className={
                  s.state === 'checked' ? 'text-success' : s.state === 'draft' ? 'text-warning' : 'quiet'
                }
              >
                {STATE_WORDS[s.state ?? 'draft']}, rev. {s.revision}
              </span>
            </Link>
          </li>
        ))}
      </ul>
      {sheets.data.items.length === 0 && (
        <p className="mt-3 text-lg">There is none yet. Begin one below, from a usual kit or an example.</p>
      )}
      {works && <NewSheet templates={sheets.data.templates} examples={sheets.data.examples} />}
    </main>
  )
}

interface NewProps {
  templates: Sheet[]
  examples: Sheet[]
}

/** A new leaflet: its name and what it makes, from nothing, from the rows of a usual kit or from an example; the
 *  rest is typed on its own page. Or a file from elsewhere. Whatever it begins from, it is a draft of this site. */
function NewSheet({ templates, examples }: NewProps) {
  const navigate = useNavigate()
  const client = useQueryClient()
  const makes = makesOf(useKinds())
  const [name, setName] = useState('')
  const [recipe, setRecipe] = useState<string>('trace-end')
  const open = async (sheet: Schemas['SheetOut']) => {
    await client.invalidateQueries({ queryKey: ['sheets'] })
    navigate(`/sheets/${sheet.sheet.id}`)
  }
  const make = useMutation({
    mutationFn: () => {
      const id = slug(name)
      const begun = [...templates, ...examples].find((s) => s.id === recipe)
      const sheet: Sheet = begun
        ? { ...begun, id, name }
        : { id, name, recipe: recipe as Sheet['recipe'], serves: {} }
      if (!begun && sheetMakes(makes, recipe).leaflet) sheet.leaflet = {}
      return take(
        api.PUT('/api/v1/sheets/{sheet_id}', {
          params: { path: { sheet_id: id }, header: { 'If-Match': '"0"' } },
          body: sheet,
        }),
      )
    },
    onSuccess: open,
  })
  const carry = useMutation({
    mutationFn: async (file: File) =>
      take(api.POST('/api/v1/sheets', { body: JSON.parse(await file.text()) as Sheet })),
    onSuccess: open,
  })
  const submit = (e: FormEvent) => {
    e.preventDefault()
    if (name.trim()) make.mutate()
  }
  return (
    <section className="mt-8">
      <h2>A new sheet</h2>
      <form className="mt-2 grid items-end gap-3 md:grid-cols-[1fr_18rem_auto_auto]" onSubmit={submit}>
        <TextField label="Name on the box" value={name} onChange={setName} />
        <label className="flex flex-col">
          <span className="field-label">What it makes, or begins from</span>
          <select className="select w-full" value={recipe} onChange={(e) => setRecipe(e.target.value)}>
            <Grouped
              groups={[
                ['Nothing typed yet', makes.map((m) => [m.recipe, m.makes])],
                ['The rows of a usual kit', templates.map((s) => [s.id, s.name])],
                ['An example with figures', examples.map((s) => [s.id, s.name])],
              ]}
            />
          </select>
        </label>
        <button type="submit" className="btn btn-primary" disabled={!name.trim() || make.isPending}>
          Type the leaflet
        </button>
        <label className="btn cursor-pointer">
          Take in a file
          <input
            type="file"
            accept=".json,application/json"
            className="sr-only"
            onChange={(e) => e.target.files?.[0] && carry.mutate(e.target.files[0])}
          />
        </label>
      </form>
      {make.error && <ErrorNote error={make.error} />}
      {carry.error && <ErrorNote error={carry.error} />}
    </section>
  )
}
