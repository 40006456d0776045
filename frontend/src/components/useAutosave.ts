/** What is typed: kept in the browser until the server has it, saved by itself after a pause, never overwriting
 *  silently what somebody else saved meanwhile. */
import { useCallback, useEffect, useRef, useState } from 'react'
import { ApiError } from '../api/client'

/** `conflict`: somebody else saved first; `refused`: as it stands it is not taken. Both wait for a hand. */
export type Saving = 'saved' | 'waiting' | 'saving' | 'offline' | 'conflict' | 'refused'

const RETRY_MS = 5_000
const FOR_A_HAND: Saving[] = ['saving', 'conflict', 'refused']

/** Where what is typed lies until it is saved, with the version of the server's that it was typed into; null where
 *  that was never known. */
export interface Kept<T> {
  read: () => { typed: T; version: number | null } | null
  write: (typed: T, version: number | null) => void
  drop: () => void
}

interface Options<T> {
  kept: Kept<T>
  /** The server's version as far as it is known. */
  version: number | undefined
  /** Saves what is typed on a version; the version that comes of it. */
  send: (typed: T, version: number) => Promise<number>
  /** What was typed since it was sent; null when that was all. */
  since: (typed: T, sent: T) => T | null
  pause: number
  /** Whether this person may save. */
  able?: boolean
}

export function useAutosave<T>({ kept, version, send, since, pause, able = true }: Options<T>) {
  const [typed, setTyped] = useState<T | null>(() => kept.read()?.typed ?? null)
  const latest = useRef(typed)
  const based = useRef<number | null>(typed === null ? null : (kept.read()?.version ?? null))
  const [saving, setSaving] = useState<Saving>('saved')
  const [error, setError] = useState<ApiError | null>(null)
  const running = useRef<Promise<void> | null>(null)
  // a newer version that came without an edit of ours; with one, saving decides
  if (version !== undefined && (based.current === null || (typed === null && version > based.current)))
    based.current = version

  const hold = useCallback(
    (next: T | null) => {
      latest.current = next
      setTyped(next)
      if (next === null) kept.drop()
      else kept.write(next, based.current)
    },
    [kept],
  )

  const save = useCallback(async () => {
    const body = latest.current
    const on = based.current
    if (body === null || on === null || !able || running.current) return
    setSaving('saving')
    const sending = async () => {
      try {
        based.current = await send(body, on)
        const left = latest.current === null ? null : since(latest.current, body)
        hold(left)
        setError(null)
        setSaving(left === null ? 'saved' : 'waiting')
      } catch (fault) {
        const told = fault instanceof ApiError ? fault : null
        setError(told)
        setSaving(told?.offline ? 'offline' : told?.problem.status === 409 ? 'conflict' : 'refused')
      } finally {
        running.current = null
      }
    }
    running.current = sending()
    await running.current
  }, [able, send, since, hold])

  const known = based.current !== null // until then there is nothing to save on; it begins when it is known
  useEffect(() => {
    if (typed === null || !able || !known || FOR_A_HAND.includes(saving)) return
    const timer = setTimeout(() => void save(), saving === 'offline' ? RETRY_MS : pause)
    return () => clearTimeout(timer)
  }, [typed, able, known, saving, save, pause])

  const edit = useCallback(
    (change: (now: T | null) => T) => {
      setSaving((s) => (s === 'conflict' || s === 'saving' ? s : 'waiting'))
      hold(change(latest.current)) // two edits of one moment are both kept
    },
    [hold],
  )
  /** Lets go of what is typed. */
  const drop = useCallback(() => {
    hold(null)
    setError(null)
    setSaving('saved')
  }, [hold])
  /** Saves what is typed over a newer version, once somebody has looked at both. */
  const over = useCallback((newer: number | undefined) => {
    if (newer === undefined) return // not reached; asked for once more by hand
    based.current = newer
    setSaving('waiting')
  }, [])
  /** Everything typed is sent now; the version that the server then has, 0 while none is known. */
  const settle = useCallback(async () => {
    await running.current
    await save()
    return based.current ?? 0
  }, [save])
  return { typed, edit, drop, over, settle, saving, error }
}
