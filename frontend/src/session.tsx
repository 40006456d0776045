/** Who is signed in. */
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { createContext, type ReactNode, useContext, useEffect } from 'react'
import { ChoosePassword } from './account/ChoosePassword'
import { FirstStart } from './account/FirstStart'
import { SignIn } from './account/SignIn'
import { ApiError, api, onStranger, type Schemas, setToken, take } from './api/client'
import { ErrorNote, Loading } from './components/notes'
import { drop, forgetAnswers, keep, recall } from './model/device'
import { writeDates } from './model/when'
import { useSettings } from './settings'

export type Session = Schemas['Session']
const Context = createContext<Session | null>(null)
const KEPT = 'session'
const LEAVING = 'leaving'

const unreached = (fault: unknown) =>
  fault instanceof ApiError && (fault.offline || fault.problem.status >= 500)

async function load(): Promise<Session> {
  if (recall<string>(LEAVING) !== undefined && !(await left())) return signedOut()
  try {
    const session = await take(api.GET('/api/v1/session'))
    setToken(session.csrf)
    if (!session.signed_in) drop(KEPT)
    return session
  } catch (fault) {
    const kept = unreached(fault) ? recall<Session>(KEPT) : undefined
    if (kept === undefined) throw fault
    const session = { ...signedOut(), ...kept } // kept by an earlier build it may lack something
    setToken(session.csrf)
    return session
  }
}

/** Ends the sign-in on the server that was ended here without a connection; whether it is done. */
async function left(): Promise<boolean> {
  setToken(recall<string>(LEAVING) ?? '')
  try {
    await take(api.DELETE('/api/v1/session'))
  } catch (fault) {
    if (unreached(fault)) return false
  }
  drop(LEAVING)
  return true
}

function signedOut(): Session {
  return {
    signed_in: false,
    first_start: false,
    needs_code: false,
    mark: '',
    sign_in: '',
    username: '',
    name: '',
    role: '',
    must_change: false,
    has_pin: false,
    csrf: '',
    site: { dates: { order: 'day-month-year', hours: 24 }, unit: 'mm', zone: 'UTC', version: 0 },
  }
}

/** Signs out: here at once, on the server now or as soon as it is reached. What was not sent stays in the outbox. */
export function useLeave() {
  const client = useQueryClient()
  const session = useSession()
  return async () => {
    keep(LEAVING, session.csrf)
    drop(KEPT)
    await forgetAnswers()
    client.removeQueries({ predicate: (q) => q.queryKey[0] !== 'session' })
    await client.resetQueries({ queryKey: ['session'] })
  }
}

export function SessionGate({ children }: { children: ReactNode }) {
  const session = useQuery({ queryKey: ['session'], queryFn: load, staleTime: 60_000 })
  const now = session.data
  useEffect(() => {
    if (now?.signed_in) keep(KEPT, now) // however it came about: signing in, a new password, a new PIN
  }, [now])
  const { beginWith } = useSettings()
  const unit = now?.site.unit
  useEffect(() => {
    if (unit) beginWith(unit)
  }, [unit, beginWith])
  const inside = now?.signed_in ?? false
  const client = useQueryClient()
  useEffect(() => {
    if (!inside) return undefined
    return onStranger(() => void client.invalidateQueries({ queryKey: ['session'] }))
  }, [inside, client])
  if (session.isPending) return <Loading what="the session" />
  // asked again while somebody works: an answer that failed takes no page away
  if (session.error && !now) return <ErrorNote error={session.error} again={() => session.refetch()} />
  const found = session.data
  if (found.first_start) return <FirstStart needsCode={found.needs_code} />
  if (!found.signed_in) return <SignIn />
  if (found.must_change) return <ChoosePassword first />
  const { dates } = found.site // written so before anything is drawn
  writeDates(dates)
  return (
    <Context key={`${dates.order} ${dates.hours}`} value={found}>
      {children}
    </Context>
  )
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
