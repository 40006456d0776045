import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { ApiError, api, setToken, take } from '../api/client'
import { TextField } from '../components/fields'
import { ErrorNote } from '../components/notes'
import { Door } from './Door'

export function FirstStart({ needsCode }: { needsCode: boolean }) {
  const [code, setCode] = useState('')
  const [name, setName] = useState('')
  const [username, setUsername] = useState('')
  const [password, setPassword] = useState('')
  const client = useQueryClient()
  const make = useMutation({
    mutationFn: () => take(api.POST('/api/v1/setup', { body: { username, password, name, code } })),
    onSuccess: (session) => {
      setToken(session.csrf)
      client.setQueryData(['session'], session)
    },
  })
  const fault = make.error instanceof ApiError ? make.error : null
  return (
    <Door title="First start">
      <form
        className="flex flex-col gap-4"
        onSubmit={(e: FormEvent) => {
          e.preventDefault()
          make.mutate()
        }}
      >
        <p>Nobody can sign in yet. Make the first account; it looks after people and the rule book.</p>
        <TextField
          label="Your name"
          value={name}
          onChange={setName}
          autoComplete="name"
          error={fault?.at('/name')}
        />
        <TextField
          label="Sign-in name"
          value={username}
          onChange={setUsername}
          autoComplete="username"
          error={fault?.at('/username')}
        />
        <TextField
          label="Password"
          type="password"
          value={password}
          onChange={setPassword}
          autoComplete="new-password"
          hint="At least 10 characters"
          error={fault?.at('/password')}
        />
        {needsCode && (
          <TextField
            label="Word on the server's console"
            value={code}
            onChange={setCode}
            autoComplete="one-time-code"
            hint="Others can reach this page too, so the first account asks for it"
            error={fault?.at('/code')}
          />
        )}
        {make.error && !fault?.problem.errors.length && <ErrorNote error={make.error} />}
        <button type="submit" className="btn btn-primary" disabled={make.isPending}>
          Make the account and start
        </button>
      </form>
    </Door>
  )
}
