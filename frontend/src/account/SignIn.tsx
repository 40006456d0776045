import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { api, setToken, take } from '../api/client'
import { TextField } from '../components/fields'
import { ErrorNote } from '../components/notes'
import { Door } from './Door'

export function SignIn() {
  const [username, setUsername] = useState('')
  const [password, setPassword] = useState('')
  const client = useQueryClient()
  const enter = useMutation({
    mutationFn: () => take(api.POST('/api/v1/session', { body: { username, password } })),
    onSuccess: (session) => {
      setToken(session.csrf)
      client.setQueryData(['session'], session)
    },
  })
  const send = (e: FormEvent) => {
    e.preventDefault()
    enter.mutate()
  }
  return (
    <Door title="Sign in">
      <form onSubmit={send} className="flex flex-col gap-4">
        <TextField label="Sign-in name" value={username} onChange={setUsername} autoComplete="username" />
        <TextField
          label="Password"
          type="password"
          value={password}
          onChange={setPassword}
          autoComplete="current-password"
        />
        {enter.error && <ErrorNote error={enter.error} />}
        <button
          type="submit"
          className="btn btn-primary"
          disabled={!username || !password || enter.isPending}
        >
          Sign in
        </button>
      </form>
    </Door>
  )
}
