import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { ApiError, api, type Schemas, take } from '../../api/client'
import { Field, TextField } from '../../components/fields'
import { ErrorNote, Loading } from '../../components/notes'
import { useMay } from '../../session'
import { AccountChanges } from './AccountChanges'

type Person = Schemas['PersonOut']
type Role = Schemas['PersonIn']['role']
const ROLES: Role[] = ['viewer', 'jointer', 'verifier', 'admin']

/** Accounts, for admins; what was changed of them, for verifiers too. */
export function People() {
  const admin = useMay('admin')
  if (admin) return <Accounts />
  return (
    <main className="mx-auto w-full max-w-5xl p-4 md:p-6">
      <h1>People</h1>
      <p className="quiet mt-1">An admin makes and changes accounts; what was changed stands here.</p>
      <AccountChanges />
    </main>
  )
}

function Accounts() {
  const people = useQuery({ queryKey: ['people'], queryFn: () => take(api.GET('/api/v1/people')) })
  const client = useQueryClient()
  const [word, setWord] = useState<Schemas['ResetOut'] | null>(null)
  const refresh = () => client.invalidateQueries({ queryKey: ['people'] })
  const change = useMutation({
    mutationFn: ({ id, version, ...body }: { id: number; version: number; role?: Role; active?: boolean }) =>
      take(
        api.PATCH('/api/v1/people/{user_id}', {
          params: { path: { user_id: id }, header: { 'If-Match': `"${version}"` } },
          body,
        }),
      ),
    onSettled: refresh,
  })
  const reset = useMutation({
    mutationFn: ({ id, version }: { id: number; version: number }) =>
      take(
        api.POST('/api/v1/people/{user_id}/password', {
          params: { path: { user_id: id }, header: { 'If-Match': `"${version}"` } },
        }),
      ),
    onSuccess: (found) => {
      setWord(found)
      refresh()
    },
  })
  if (people.isPending) return <Loading what="the people" />
  if (people.error) return <ErrorNote error={people.error} again={() => people.refetch()} />
  return (
    <main className="mx-auto w-full max-w-5xl p-4 md:p-6">
      <h1>People</h1>
      <p className="quiet mt-1 max-w-3xl">
        What was signed under a name keeps it; a person stays the same one whatever they are called. A reset
        ends the old password and the PIN. Every change is listed below, for admins and verifiers.
      </p>
      {change.error && <ErrorNote error={change.error} />}
      {reset.error && <ErrorNote error={reset.error} />}
      {word && (
        <p className="note my-3 text-lg">
          Tell {word.person.name} this one-time password, it is shown only now: <b>{word.password}</b>
        </p>
      )}
      <ul className="rows mt-3">
        {people.data.items.map((p: Person) => (
          <li
            key={p.id}
            className={`grid items-center gap-3 py-2 md:grid-cols-[1fr_10rem_auto_auto] ${p.active ? '' : 'opacity-70'}`}
          >
            <span>
              <b className="text-lg">{p.name}</b> <span className="quiet">{p.username}</span>
              {p.must_change && <span className="quiet"> · chooses a password at the next sign-in</span>}
            </span>
            <select
              className="select"
              aria-label={`Role of ${p.name}`}
              value={p.role}
              onChange={(e) => change.mutate({ id: p.id, version: p.version, role: e.target.value as Role })}
            >
              {ROLES.map((r) => (
                <option key={r}>{r}</option>
              ))}
            </select>
            <button
              type="button"
              className="btn btn-sm"
              onClick={() => reset.mutate({ id: p.id, version: p.version })}
            >
              Reset password
            </button>
            <button
              type="button"
              className="btn btn-sm"
              onClick={() => change.mutate({ id: p.id, version: p.version, active: !p.active })}
            >
              {p.active ? 'May not sign in' : 'May sign in again'}
            </button>
          </li>
        ))}
      </ul>
      <AddPerson done={refresh} />
      <AccountChanges />
    </main>
  )
}

function AddPerson({ done }: { done: () => void }) {
  const [name, setName] = useState('')
  const [username, setUsername] = useState('')
  const [password, setPassword] = useState('')
  const [role, setRole] = useState<Role>('jointer')
  const add = useMutation({
    mutationFn: () => take(api.POST('/api/v1/people', { body: { name, username, password, role } })),
    onSuccess: () => {
      done()
      setName('')
      setUsername('')
      setPassword('')
    },
  })
  const fault = add.error instanceof ApiError ? add.error : null
  return (
    <form
      className="mt-8 grid gap-4 bg-base-100 p-4 sm:grid-cols-2"
      onSubmit={(e: FormEvent) => {
        e.preventDefault()
        add.mutate()
      }}
    >
      <h2 className="col-span-full">Add a person</h2>
      <TextField label="Name" value={name} onChange={setName} error={fault?.at('/name')} />
      <TextField
        label="Sign-in name"
        value={username}
        onChange={setUsername}
        error={fault?.at('/username')}
      />
      <TextField
        label="First password"
        value={password}
        onChange={setPassword}
        error={fault?.at('/password')}
        hint="To be changed at the first sign-in"
      />
      <Field label="Role">
        {({ id }) => (
          <select
            id={id}
            className="select w-full"
            value={role}
            onChange={(e) => setRole(e.target.value as Role)}
          >
            {ROLES.map((r) => (
              <option key={r}>{r}</option>
            ))}
          </select>
        )}
      </Field>
      {fault && !fault.problem.errors.length && <ErrorNote error={fault} />}
      <button type="submit" className="btn btn-primary" disabled={!name || !username || !password}>
        Add
      </button>
    </form>
  )
}
