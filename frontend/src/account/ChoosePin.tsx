import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { ApiError, api, take } from '../api/client'
import { TextField } from '../components/fields'
import { ErrorNote } from '../components/notes'
import { useSession } from '../session'

/** One's own PIN, to sign as the second person on somebody else's device. */
export function ChoosePin() {
  const session = useSession()
  const [pin, setPin] = useState('')
  const [password, setPassword] = useState('')
  const client = useQueryClient()
  const change = useMutation({
    mutationFn: () => take(api.PUT('/api/v1/session/pin', { body: { pin, password } })),
    onSuccess: (found) => {
      client.setQueryData(['session'], found)
      setPin('')
      setPassword('')
    },
  })
  const fault = change.error instanceof ApiError ? change.error : null
  return (
    <form
      className="rule-top mt-4 flex max-w-sm flex-col gap-3 pt-4"
      onSubmit={(e: FormEvent) => {
        e.preventDefault()
        change.mutate()
      }}
    >
      <TextField
        label={session.has_pin ? 'A new PIN' : 'Your PIN'}
        type="password"
        value={pin}
        onChange={setPin}
        autoComplete="off"
        hint="4 to 12 digits, to sign as second person on somebody else's device"
        error={fault?.at('/pin')}
      />
      <TextField
        label="Your password"
        type="password"
        value={password}
        onChange={setPassword}
        autoComplete="current-password"
        hint="Whoever picks up this device must not choose your PIN"
        error={fault?.at('/password')}
      />
      {change.error && !fault?.problem.errors.length && <ErrorNote error={change.error} />}
      {change.isSuccess && <p className="font-semibold text-success">The PIN is set.</p>}
      <button type="submit" className="btn" disabled={pin.length < 4 || !password || change.isPending}>
        Set the PIN
      </button>
    </form>
  )
}
