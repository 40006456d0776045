import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { Link } from 'react-router'
import { ApiError, api, type Schemas, take } from '../../api/client'
import { NumberField, TextField } from '../../components/fields'
import { ErrorNote, Loading } from '../../components/notes'
import { said } from '../../model/said'
import { useMay } from '../../session'
import { useSettings } from '../../settings'
import { WritingForm } from './WritingForm'

type Rule = Schemas['RuleOut']

export function Rules() {
  const rules = useQuery({ queryKey: ['rules'], queryFn: () => take(api.GET('/api/v1/rules')) })
  const [open, setOpen] = useState<string | null>(null)
  const [words, setWords] = useState('')
  const admin = useMay('admin')
  if (rules.isPending) return <Loading what="the rule book" />
  if (rules.error) return <ErrorNote error={rules.error} again={() => rules.refetch()} />
  const groups = grouped(rules.data.items.filter((r) => has(r, words)))
  return (
    <main className="mx-auto w-full max-w-5xl p-4 md:p-6">
      <h1>Rule book</h1>
      <p className="quiet mt-1 text-lg">
        Every default with its reason and source.{' '}
        {admin ? 'A value of your own needs a reason.' : 'An admin may set a value for this site.'}
      </p>
      <WritingForm admin={admin} />
      <div className="mt-3 max-w-md">
        <TextField label="Find" value={words} onChange={setWords} />
      </div>
      {groups.length === 0 && <p className="mt-4 text-lg">No rule has these words.</p>}
      {groups.map(([group, items]) => (
        <section key={group} className="mt-6" aria-label={group}>
          <h2>{group}</h2>
          <ul className="rows mt-1">
            {items.map((r) => (
              <li key={r.key} className="grid gap-x-4 py-2 md:grid-cols-[1fr_12rem_auto]">
                <span className="self-center">
                  <span className="block text-lg font-medium">{r.name}</span>
                  <span className="block first-letter:uppercase">{r.why}.</span>
                  <span className="quiet block">Source: {r.source}.</span>
                  {r.own && (
                    <span className="block font-medium text-warning">
                      set here, default {shown(r.default)}: {r.reason}
                    </span>
                  )}
                </span>
                <b className="self-center text-lg md:text-right">
                  {shown(r.value)} <span className="quiet text-base font-normal">{r.unit}</span>
                </b>
                {admin && typeof r.default === 'number' && (
                  <button
                    type="button"
                    className="btn btn-sm self-center"
                    onClick={() => setOpen(open === r.key ? null : r.key)}
                  >
                    Change
                  </button>
                )}
                {open === r.key && <Edit rule={r} version={rules.data.version} close={() => setOpen(null)} />}
              </li>
            ))}
          </ul>
        </section>
      ))}
    </main>
  )
}

/** Whether every word typed stands somewhere in a rule. */
function has(rule: Rule, words: string): boolean {
  const text = `${rule.name} ${rule.why} ${rule.source} ${rule.key} ${rule.group} ${rule.unit}`.toLowerCase()
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((w) => text.includes(w))
}

/** Rules under the heading a person looks for them by, in the order they come. */
function grouped(rules: Rule[]): [string, Rule[]][] {
  const found = new Map<string, Rule[]>()
  for (const r of rules) found.set(r.group, [...(found.get(r.group) ?? []), r])
  return [...found]
}

function shown(value: unknown): string {
  return Array.isArray(value) ? value.join(', ') || 'none' : String(value)
}

/** What the value would alter, on request: every open joint is planned once more by it, and nothing is kept. */
function Effect({ rule, value }: { rule: Rule; value: number | null }) {
  const { unit } = useSettings()
  const look = useMutation({
    mutationFn: (tried: number | null) =>
      take(
        api.POST('/api/v1/rules/{key}/effect', {
          params: { path: { key: rule.key } },
          body: { value: tried },
        }),
      ).then((found) => ({ tried, found })),
  })
  const shown = look.data?.tried === value ? look.data.found : undefined
  return (
    <div className="col-span-full" aria-live="polite">
      <button
        type="button"
        className="btn"
        disabled={value === null || look.isPending}
        onClick={() => look.mutate(value)}
      >
        {look.isPending ? 'Planning the open joints …' : 'What would it alter?'}
      </button>
      {look.error && <ErrorNote error={look.error} />}
      {shown && (
        <div className="mt-2">
          <p className="text-lg font-medium">{altered(shown)}</p>
          <ul className="rows mt-1">
            {shown.changes.map((c) => (
              <li key={c.ref} className="py-2">
                <Link className="link font-semibold" to={`/joints/${c.ref}/choose`}>
                  {c.ref}
                </Link>{' '}
                {c.title}
                <ul className="list-disc pl-5">
                  {c.words.slice(0, 6).map((w) => (
                    <li key={w}>{said(w, unit)}</li>
                  ))}
                </ul>
              </li>
            ))}
          </ul>
          <p className="quiet">What is planned stays as it is planned until somebody plans it again.</p>
        </div>
      )}
    </div>
  )
}

function altered({ changes, open, looked_at }: Schemas['RuleEffect']): string {
  const of = looked_at < open ? `the ${looked_at} touched last of ${open} open joints` : `${open} open joints`
  if (!changes.length) return `None of ${of} would be planned differently.`
  return `${changes.length} of ${of} would be planned differently:`
}

function Edit({ rule, version, close }: { rule: Rule; version: number; close: () => void }) {
  const [value, setValue] = useState<number | null>(typeof rule.value === 'number' ? rule.value : null)
  const [reason, setReason] = useState(rule.reason)
  const client = useQueryClient()
  const save = useMutation({
    mutationFn: (next: number | null) =>
      take(
        api.PUT('/api/v1/rules/{key}', {
          params: { path: { key: rule.key }, header: { 'If-Match': `"${version}"` } },
          body: { value: next, reason },
        }),
      ),
    onError: () => client.invalidateQueries({ queryKey: ['rules'] }), // the next try is on what is there now
    onSuccess: (rules) => {
      client.setQueryData(['rules'], rules)
      close()
    },
  })
  const fault = save.error instanceof ApiError ? save.error : null
  return (
    <form
      className="col-span-full mt-2 grid gap-3 bg-base-100 p-4 sm:grid-cols-[10rem_1fr]"
      onSubmit={(e: FormEvent) => {
        e.preventDefault()
        save.mutate(value)
      }}
    >
      <NumberField
        label="Value here"
        unit={rule.unit}
        value={value}
        onChange={setValue}
        error={fault?.at('/value')}
      />
      <TextField label="Reason" value={reason} onChange={setReason} error={fault?.at('/reason')} />
      {fault && !fault.problem.errors.length && <ErrorNote error={fault} />}
      <Effect rule={rule} value={value} />
      <div className="col-span-full flex gap-3">
        <button type="submit" className="btn btn-primary">
          Set for this site
        </button>
        {rule.own && (
          <button type="button" className="btn" onClick={() => save.mutate(null)}>
            Back to {shown(rule.default)}
          </button>
        )}
      </div>
    </form>
  )
}
