import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { ApiError, api, type Schemas, take } from '../../api/client'
import { Field, SelectField, TextField } from '../../components/fields'
import { ErrorNote, Loading } from '../../components/notes'
import { pairsText, readPairs } from '../../model/pairs'
import { day } from '../../model/when'
import { useMay } from '../../session'
import { Instruments } from './Instruments'

type Source = NonNullable<Schemas['ToolIn']['source']>
const SOURCES = [
  ['hot air', 'hot air, electric'],
  ['gas', 'hot air, gas'],
  ['flame', 'a flame, with its permit'],
  ['infrared', 'infrared'],
] as const
type Kind = Schemas['ToolIn']['kind']
const KINDS: Kind[] = ['crimp-tool', 'heat-gun', 'insulation-tester', 'low-ohm-meter', 'thermometer']

/** Tools with the day their calibration runs out; one past its day is not taken at the joint. */
export function ToolsPage() {
  const tools = useQuery({ queryKey: ['tools'], queryFn: () => take(api.GET('/api/v1/tools')) })
  const client = useQueryClient()
  const works = useMay('jointer')
  const vouches = useMay('verifier')
  const change = useMutation({
    mutationFn: ({ tool, ...body }: { tool: Schemas['ToolOut'] } & Schemas['ToolPatch']) =>
      take(
        api.PATCH('/api/v1/tools/{tool_id}', {
          params: { path: { tool_id: tool.id }, header: { 'If-Match': `"${tool.version}"` } },
          body,
        }),
      ),
    onSettled: () => client.invalidateQueries({ queryKey: ['tools'] }),
  })
  if (tools.isPending) return <Loading what="the tools" />
  if (tools.error) return <ErrorNote error={tools.error} again={() => tools.refetch()} />
  return (
    <main className="mx-auto w-full max-w-5xl p-4 md:p-6">
      <h1>Tools</h1>
      <p className="quiet text-lg">A tool past its day is not taken at the joint.</p>
      {change.error && <ErrorNote error={change.error} />}
      {tools.data.items.length === 0 && (
        <p className="mt-4 text-lg">No tool is listed, so no calibration date is checked yet.</p>
      )}
      <ul className="rows mt-3">
        {tools.data.items.map((t) => (
          <li key={t.id} className="grid items-center gap-3 py-2 md:grid-cols-[7rem_1fr_19rem_12rem_auto]">
            <b className="text-xl">{t.name}</b>
            <span className="text-lg">
              {t.kind.replaceAll('-', ' ')}
              {t.source && t.source !== 'hot air' ? `, ${t.source}` : ''}
              <span className={`block text-base ${t.good ? 'quiet' : 'font-semibold text-error'}`}>
                {words(t)}
              </span>
              {t.set_by && (
                <span className="quiet block text-sm">
                  set by {t.set_by}, {t.set_at ? day(t.set_at) : ''}
                </span>
              )}
            </span>
            {t.kind === 'heat-gun' ? (
              <Points
                tool={t}
                works={vouches}
                save={(calibration) => change.mutate({ tool: t, calibration })}
              />
            ) : (
              <span className="hidden md:block" />
            )}
            <Field label={`Calibrated until, ${t.name}`}>
              {({ id }) => (
                <input
                  id={id}
                  type="date"
                  className="input w-full"
                  disabled={!vouches}
                  value={t.due ?? ''}
                  onChange={(e) => e.target.value && change.mutate({ tool: t, due: e.target.value })}
                />
              )}
            </Field>
            {works && (
              <button type="button" className="btn" onClick={() => change.mutate({ tool: t, retired: true })}>
                Out of use
              </button>
            )}
          </li>
        ))}
      </ul>
      {vouches ? (
        <NewTool />
      ) : (
        <p className="quiet mt-4">
          A verifier or an admin, who has seen the certificate, adds tools and sets their dates.
        </p>
      )}
      <Instruments />
    </main>
  )
}

interface PointsProps {
  tool: Schemas['ToolOut']
  works: boolean
  save: (points: Schemas['DialIn'][]) => void
}

/** A gun's own calibration: dial and what it blows there, typed as pairs. */
function Points({ tool, works, save }: PointsProps) {
  const names: [string, string] = ['dial', 'temperature_c']
  const kept = pairsText(tool.calibration, names)
  const [text, setText] = useState(kept)
  const [held, setHeld] = useState(kept)
  if (kept !== held) {
    setHeld(kept)
    setText(kept)
  }
  if (!works) return <span className="quiet">{kept}</span>
  return (
    <div className="flex items-end gap-2">
      <TextField label={`Dial = °C, ${tool.name}`} value={text} onChange={setText} hint="1 = 115, 5 = 335" />
      {text !== kept && (
        <button
          type="button"
          className="btn"
          onClick={() => save(readPairs(text, names) as unknown as Schemas['DialIn'][])}
        >
          Keep
        </button>
      )}
    </div>
  )
}

function words(t: Schemas['ToolOut']): string {
  if (t.days_left === null) return 'no date'
  if (t.days_left < 0) return `ran out ${-t.days_left} days ago`
  return `${t.days_left} days left`
}

function NewTool() {
  const client = useQueryClient()
  const [name, setName] = useState('')
  const [kind, setKind] = useState<Kind>('crimp-tool')
  const [due, setDue] = useState('')
  const [source, setSource] = useState<Source>('hot air')
  const add = useMutation({
    mutationFn: () =>
      take(
        api.POST('/api/v1/tools', {
          body: { name, kind, due: due || null, source: kind === 'heat-gun' ? source : null },
        }),
      ),
    onSuccess: () => {
      setName('')
      client.invalidateQueries({ queryKey: ['tools'] })
    },
  })
  const fault = add.error instanceof ApiError ? add.error : null
  return (
    <form
      className="rule-top mt-6 grid items-end gap-3 pt-4 md:grid-cols-[repeat(auto-fit,minmax(11rem,1fr))]"
      onSubmit={(e: FormEvent) => {
        e.preventDefault()
        add.mutate()
      }}
    >
      <TextField label="New tool" value={name} onChange={setName} error={fault?.at('/name')} />
      <Field label="Kind">
        {({ id }) => (
          <select
            id={id}
            className="select w-full"
            value={kind}
            onChange={(e) => setKind(e.target.value as Kind)}
          >
            {KINDS.map((k) => (
              <option key={k} value={k}>
                {k.replaceAll('-', ' ')}
              </option>
            ))}
          </select>
        )}
      </Field>
      {kind === 'heat-gun' && (
        <SelectField
          label="Heat from"
          value={source}
          options={SOURCES}
          onChange={(v) => setSource(v as Source)}
          hint="A lighter marks and burns sleeves: it is not accepted."
        />
      )}
      <TextField
        label="Calibrated until"
        type="date"
        value={due}
        onChange={setDue}
        error={fault?.at('/due')}
      />
      <button type="submit" className="btn btn-primary" disabled={!name.trim() || add.isPending}>
        Add
      </button>
      {add.error && !fault?.problem.errors.length && <ErrorNote error={add.error} />}
    </form>
  )
}
