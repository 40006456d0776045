/** Who is signed in. */
import { useQuery } from '@tanstack/react-query'
import { createContext, type ReactNode, useContext } from 'react'
import { api, type Schemas, setToken, take } from './api/client'
import { ErrorNote, Loading } from './components/notes'
import { ChoosePassword } from './features/account/ChoosePassword'
import { FirstStart } from './features/account/FirstStart'
import { SignIn } from './features/account/SignIn'

export type Session = Schemas['Session']
const Context = createContext<Session | null>(null)
const KEPT = 'session'

async function load(): Promise<Session> {
  try {
    const session = await take(api.GET('/api/v1/session'))
    localStorage.setItem(KEPT, JSON.stringify(session))
    setToken(session.csrf)
    return session
  } catch (fault) {
    const held = localStorage.getItem(KEPT)
    if (!held) throw fault
    const session = JSON.parse(held) as Session
    setToken(session.csrf)
    return session
  }
}

export function SessionGate({ children }: { children: ReactNode }) {
  const session = useQuery({ queryKey: ['session'], queryFn: load, staleTime: 60_000 })
  if (session.isPending) return <Loading what="the session" />
  if (session.error) return <ErrorNote error={session.error} again={() => session.refetch()} />
  const found = session.data
  if (found.first_start) return <FirstStart />
  if (!found.signed_in) return <SignIn />
  if (found.must_change) return <ChoosePassword first />
  return <Context value={found}>{children}</Context>
}

export function useSession(): Session {
  const found = useContext(Context)
  if (!found) throw new Error('nobody is signed in')
  return found
}

const RANK = { viewer: 0, jointer: 1, verifier: 2, admin: 3 } as const

export function useMay(role: keyof typeof RANK): boolean {
  return RANK[useSession().role as keyof typeof RANK] >= RANK[role]
}
