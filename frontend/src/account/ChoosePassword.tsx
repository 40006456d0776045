import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { ApiError, api, setToken, take } from '../api/client'
import { TextField } from '../components/fields'
import { ErrorNote } from '../components/notes'
import { Door } from './Door'

export function ChoosePassword({ first }: { first?: boolean }) {
  const [old, setOld] = useState('')
  const [next, setNext] = useState('')
  const client = useQueryClient()
  const change = useMutation({
    mutationFn: () => take(api.POST('/api/v1/session/password', { body: { old, new: next } })),
    onSuccess: (session) => {
      setToken(session.csrf)
      client.setQueryData(['session'], session)
      setOld('')
      setNext('')
    },
  })
  const fault = change.error instanceof ApiError ? change.error : null
  const form = (
    <form
      className="flex max-w-sm flex-col gap-4"
      onSubmit={(e: FormEvent) => {
        e.preventDefault()
        change.mutate()
      }}
    >
      {first && <p>The password you were given is for once only. Choose your own.</p>}
      <TextField
        label={first ? 'Password you were given' : 'Present password'}
        type="password"
        value={old}
        onChange={setOld}
        autoComplete="current-password"
        error={fault?.at('/old')}
      />
      <TextField
        label="New password"
        type="password"
        value={next}
        onChange={setNext}
        autoComplete="new-password"
        hint="At least 10 characters"
        error={fault?.at('/new')}
      />
      {change.error && !fault?.problem.errors.length && <ErrorNote error={change.error} />}
      {change.isSuccess && (
        <p className="font-semibold text-success">Changed. Other sessions of yours have ended.</p>
      )}
      <button type="submit" className="btn btn-primary" disabled={!old || !next || change.isPending}>
        Change the password
      </button>
    </form>
  )
  return first ? <Door title="Choose a password">{form}</Door> : form
}
