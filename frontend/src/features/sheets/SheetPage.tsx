import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import { api, type Schemas, take } from '../../api/client'
import { SelectField, TextField } from '../../components/fields'
import { ErrorNote, Loading } from '../../components/notes'
import { PreparedEnd } from '../../components/PreparedEnd'
import { makesOf, sheetMakes, useKinds } from '../../components/useKinds'
import { said } from '../../model/said'
import { useMay, useSession } from '../../session'
import { useSettings } from '../../settings'
import { LayersTable } from './LayersTable'
import { Limits } from './Limits'
import { LowVoltage } from './LowVoltage'
import { PartsTable } from './PartsTable'
import { Serves } from './Serves'
import { STATE_WORDS } from './SheetsPage'
import type { At, Edit } from './typing'
import { type Leaflet, type Sheet, useSheet } from './useSheet'

/** One leaflet: typed at the left, drawn and checked at the right while it is typed. */
export function SheetPage() {
  const kinds = useKinds()
  const { id = '' } = useParams()
  const works = useMay('jointer')
  const kept = useSheet(id, works)
  const sheet = kept.sheet
  if (kept.query.isPending) return <Loading what="the sheet" />
  if (kept.query.error && !sheet)
    return <ErrorNote error={kept.query.error} again={() => kept.query.refetch()} />
  if (!sheet) return null
  const leaflet: Leaflet = sheet.leaflet ?? {}
  const edit: Edit = (change) => kept.edit({ leaflet: { ...leaflet, ...change } })
  const faults = [...(kept.error?.problem.errors ?? []), ...kept.doubts, ...kept.breaks]
  const at: At = (path, deep) =>
    faults.find((f) => f.path === path || (deep && f.path.startsWith(`${path}/`)))?.message
  const makes = makesOf(kinds)
  const trace = sheetMakes(makes, sheet.recipe).leaflet
  const locked = !works || sheet.state === 'retired'
  return (
    <main className="w-full p-4 md:p-6">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
        <Link to="/sheets" className="link min-h-11 py-2">
          Kit sheets
        </Link>
        <h1>{sheet.name}</h1>
        <span className="text-lg">{sheetMakes(makes, sheet.recipe).makes}</span>
        <span
          className={`text-lg font-semibold ${sheet.state === 'checked' ? 'text-success' : 'text-warning'}`}
        >
          {STATE_WORDS[sheet.state ?? 'draft']}, revision {sheet.revision}
        </span>
        <span className="quiet" role="status">
          {kept.saving === 'saved'
            ? ''
            : kept.saving === 'saving' || kept.saving === 'waiting'
              ? 'saving …'
              : kept.saving === 'offline'
                ? 'not sent yet'
                : 'not saved'}
        </span>
        <span className="ml-auto flex flex-wrap gap-3">
          <States
            sheet={sheet}
            version={kept.version}
            doubts={kept.doubts.length}
            settled={kept.saving === 'saved'}
          />
          <a className="btn" href={`/api/v1/sheets/${id}/file`}>
            Save as a file
          </a>
        </span>
      </div>
      {sheet.state === 'checked' && works && (
        <p className="quiet">
          Checked by {sheet.checked_by || 'a second person'}. Whatever you change begins a new revision as a
          draft; this one stays in use until that is checked.
        </p>
      )}
      {(kept.saving === 'refused' || kept.saving === 'conflict') && kept.error && (
        <div className="note mt-2">
          <ErrorNote error={kept.error} />
          {kept.saving === 'conflict' && (
            <span className="flex flex-wrap gap-3">
              <button type="button" className="btn" onClick={kept.keepMine}>
                Keep what I typed
              </button>
              <button type="button" className="btn" onClick={kept.drop}>
                Drop it and look at theirs
              </button>
            </span>
          )}
        </div>
      )}
      <div className="mt-4 grid gap-8 2xl:grid-cols-[1fr_30rem] xl:grid-cols-[1fr_26rem]">
        <fieldset disabled={locked} className="flex min-w-0 flex-col gap-8">
          <legend className="sr-only">The leaflet</legend>
          <div className="grid gap-3 sm:grid-cols-3">
            <TextField
              label="Name on the box"
              value={sheet.name}
              onChange={(name) => kept.edit({ name: name || sheet.name })}
              error={at('/name')}
            />
            <SelectField
              label="What it makes"
              value={sheet.recipe}
              options={makes.filter((m) => m.leaflet === trace).map((m) => [m.recipe, m.makes] as const)}
              onChange={(v) => kept.edit({ recipe: v as Sheet['recipe'] })}
            />
            <TextField
              label="Leaflet or approval"
              value={sheet.approval ?? ''}
              onChange={(approval) => kept.edit({ approval })}
            />
          </div>
          {trace ? (
            <>
              <Serves sheet={sheet} edit={(serves) => kept.edit({ serves })} at={at} />
              <PartsTable leaflet={leaflet} edit={edit} at={at} />
              <LayersTable leaflet={leaflet} recipe={sheet.recipe} edit={edit} at={at} />
              <Limits leaflet={leaflet} edit={edit} at={at} />
            </>
          ) : (
            <LowVoltage sheet={sheet} edit={kept.edit} at={at} steps={kept.steps} />
          )}
        </fieldset>
        <aside
          className="flex flex-col gap-4 xl:sticky xl:top-4 xl:self-start"
          aria-label="As drawn and checked"
        >
          <section aria-label="What does not add up">
            <h2>{kept.doubts.length ? 'Does not add up yet' : 'It adds up'}</h2>
            {kept.doubts.length === 0 ? (
              <p className="text-success">
                {trace
                  ? 'Parts, rows and windows agree.'
                  : 'What it serves, its figures and its steps agree.'}{' '}
                A second person may check it.
              </p>
            ) : (
              <Told found={kept.doubts} />
            )}
          </section>
          {kept.breaks.length > 0 && (
            <section aria-label="What its order gets wrong">
              <h2>In this order something is wrong</h2>
              <p className="quiet">Played row by row on a cable in the middle of what it serves.</p>
              <Told found={kept.breaks} />
            </section>
          )}
          {trace && kept.prepared.length === 0 && (
            <p className="quiet text-lg">The preparation draws itself as soon as cuts are typed.</p>
          )}
          {!trace && kept.steps.length > 0 && (
            <section aria-label="The steps of such a joint" className="xl:max-h-[60vh] xl:overflow-y-auto">
              <h2>The steps of such a joint</h2>
              <ol className="list-decimal pl-7">
                {inOrder(sheet, kept.steps).map((s) => (
                  <li key={s.id} className={s.own ? 'py-0.5 font-bold' : 'py-0.5'}>
                    {s.title}
                  </li>
                ))}
              </ol>
            </section>
          )}
          {kept.prepared.map((p) => (
            <PreparedEnd key={p.end} end={p} width={430} />
          ))}
        </aside>
      </div>
    </main>
  )
}

/** The joint's own steps with those of the sheet behind the step each comes after. */
function inOrder(sheet: Sheet, steps: Schemas['StepName'][]) {
  const own = (after: string) =>
    (sheet.steps ?? [])
      .filter((s) => s.after === after)
      .map((s) => ({ id: `sheet.${s.id}`, title: s.title, own: true }))
  return steps.flatMap((s) => [{ ...s, own: false }, ...own(s.id)])
}

/** What is told of a sheet, each at its place. */
function Told({ found }: { found: Schemas['Doubt'][] }) {
  const { unit } = useSettings()
  return (
    <ul className="rows mt-1">
      {found.map((d) => (
        <li key={d.path + d.message} className="py-1.5">
          <span className="quiet">{place(d.path)} </span>
          {said(d, unit)}
        </li>
      ))}
    </ul>
  )
}

/** Where a doubt stands, as the page calls it. */
function place(path: string): string {
  const found = /^\/leaflet\/(parts|layers)\/(\d+)/.exec(path)
  if (found) return `${found[1] === 'parts' ? 'Part' : 'Row'} ${Number(found[2]) + 1}:`
  const step = /^\/steps\/(\d+)/.exec(path)
  if (step) return `Step ${Number(step[1]) + 1}:`
  return path.startsWith('/serves') ? 'Cables served:' : ''
}

interface StatesProps {
  sheet: Sheet
  version: number
  doubts: number
  settled: boolean
}

/** Checked by a second person; out of use. */
function States({ sheet, version, doubts, settled }: StatesProps) {
  const client = useQueryClient()
  const session = useSession()
  const may = useMay('verifier')
  const move = useMutation({
    mutationFn: (what: 'check' | 'retire') =>
      take(
        api.POST(what === 'check' ? '/api/v1/sheets/{sheet_id}/check' : '/api/v1/sheets/{sheet_id}/retire', {
          params: { path: { sheet_id: sheet.id }, header: { 'If-Match': `"${version}"` } },
        }),
      ),
    onSuccess: async (kept) => {
      client.setQueryData(['sheet', sheet.id], kept)
      await client.invalidateQueries({ queryKey: ['sheets'] })
    },
  })
  if (!may)
    return sheet.state === 'draft' ? (
      <span className="quiet self-center">A second person checks it.</span>
    ) : null
  const own = (sheet.author ?? '').split(', ').includes(session.name ?? '')
  return (
    <>
      {move.error && <span className="self-center font-medium text-error">{move.error.message}</span>}
      {sheet.state === 'draft' && (
        <button
          type="button"
          className="btn btn-primary"
          disabled={own || doubts > 0 || !settled || move.isPending}
          title={own ? 'You wrote it; a second person checks it' : doubts ? 'It does not add up yet' : ''}
          onClick={() => move.mutate('check')}
        >
          Checked against the leaflet
        </button>
      )}
      {sheet.state !== 'retired' && (
        <button
          type="button"
          className="btn"
          disabled={!settled || move.isPending}
          onClick={() => move.mutate('retire')}
        >
          Out of use
        </button>
      )}
    </>
  )
}
