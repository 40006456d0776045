/** Loading, errors and small notices: every state has its drawing and its words. */

import { CircleAlert, LoaderCircle, TriangleAlert, WifiOff } from 'lucide-react'
import type { ReactNode } from 'react'
import { ApiError } from '../api/client'
import { placeSaid } from '../model/place'
import { said } from '../model/said'
import { useSettings } from '../settings'

export function Loading({ what }: { what: string }) {
  return (
    <p className="quiet flex items-center gap-2 p-6" role="status">
      <LoaderCircle className="animate-spin" aria-hidden size={20} /> Fetching {what} …
    </p>
  )
}

export function ErrorNote({ error, again, skip }: { error: unknown; again?: () => void; skip?: string[] }) {
  const told = error instanceof ApiError ? error.problem : null
  const fields = told?.errors.filter((e) => !skip?.includes(e.path)) ?? []
  const { unit } = useSettings()
  const offline = error instanceof ApiError && error.offline
  return (
    <div className="fault my-3" role="alert">
      <p className="flex items-center gap-2 font-semibold">
        {offline ? <WifiOff size={20} aria-hidden /> : <CircleAlert size={20} aria-hidden />}
        {told?.title ?? 'Something went wrong on this page'}
      </p>
      {fields.length ? (
        <ul className="list-disc pl-6">
          {fields.map((e) => (
            <li key={e.path + e.message}>{sentence(e.path, said(e, unit))}</li>
          ))}
        </ul>
      ) : (
        <p>
          {told?.errors.length
            ? 'Mend what is marked above; nothing you typed is lost.'
            : (told?.detail ?? String(error))}
        </p>
      )}
      {again && (
        <button type="button" className="btn btn-sm mt-2" onClick={again}>
          Try again
        </button>
      )}
    </div>
  )
}

export function Caution({ children }: { children: ReactNode }) {
  return (
    <p className="note flex items-start gap-2">
      <TriangleAlert size={20} className="mt-0.5 shrink-0 text-warning" aria-hidden />
      <span>{children}</span>
    </p>
  )
}

/** What became of the last thing that was sent, where it does not count; nothing while there is nothing to say. */
export function NotCounted({ words }: { words: string }) {
  if (!words) return null
  return (
    <p className="fault" role="alert">
      {words}
    </p>
  )
}

/** The word for a joint of which nothing more can be said. */
export const UNREADABLE = 'cannot be read'

const STATES: Record<string, { shape: string; tone: string }> = {
  draft: { shape: '◌', tone: 'text-[var(--quiet)]' },
  planned: { shape: '○', tone: 'text-base-content' },
  building: { shape: '◐', tone: 'text-primary' },
  curing: { shape: '◔', tone: 'text-warning' },
  stopped: { shape: '✕', tone: 'text-error' },
  'to prove': { shape: '◧', tone: 'text-warning' },
  'to release': { shape: '◨', tone: 'text-warning' },
  released: { shape: '✓', tone: 'text-success' },
  'released with a limit': { shape: '✓!', tone: 'text-warning' },
  [UNREADABLE]: { shape: '⌀', tone: 'text-error' },
}

/** What is wrong with a field, said of it by name: messages that begin with "is" or "must" have no subject. */
function sentence(path: string, message: string): string {
  const place = /^[a-z]/.test(message) ? placeSaid(path) : ''
  return place ? `${place} ${message}` : message
}

/** A state: a shape, a word, and only then a colour; `tight`: on a narrow screen the word is only read out. */
export function StateWord({ state, tight = false }: { state: string; tight?: boolean }) {
  const look = STATES[state] ?? { shape: '·', tone: '' }
  return (
    <span className={`font-semibold whitespace-nowrap ${look.tone}`}>
      <span aria-hidden>{look.shape} </span>
      <span className={tight ? 'max-md:sr-only' : ''}>{state}</span>
    </span>
  )
}
