/** A joint being filled in: saved by itself, kept in the browser until it is, never overwritten silently. */
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import { ApiError, api, type Draft, keptAnswer, type Schemas, take } from '../../api/client'
import { drop, keep, recall } from '../../model/device'

export type Joint = Schemas['JointOut']
export type Patch = Schemas['JointPatch']
export type Saving = 'saved' | 'waiting' | 'saving' | 'offline' | 'conflict' | 'refused'

const DELAY_MS = 500
const NOTHING: Patch = {}
const RETRY_MS = 5_000

function held(ref: string): Patch {
  return recall<Patch>(`draft:${ref}`) ?? {}
}

/** The version that was typed into: what is kept over a reload overwrites nobody silently. 0 where unknown. */
function typedInto(ref: string): number {
  return Number(recall(`draft-version:${ref}`) ?? 0) || 0
}

function hold(ref: string, patch: Patch, version: number): void {
  if (Object.keys(patch).length) {
    keep(`draft:${ref}`, patch)
    keep(`draft-version:${ref}`, version)
  } else {
    drop(`draft:${ref}`)
    drop(`draft-version:${ref}`)
  }
}

export function useJoint(ref: string) {
  const client = useQueryClient()
  const key = ['joint', ref]
  const query = useQuery({
    queryKey: key,
    queryFn: () =>
      keptAnswer(`joint:${ref}`, () => take(api.GET('/api/v1/joints/{ref}', { params: { path: { ref } } }))),
    staleTime: 10_000,
  })
  const released = query.data?.state.startsWith('released') ?? false
  const [typed, setPatch] = useState<Patch>(() => held(ref))
  const patch = released ? NOTHING : typed // nothing is typed into what is signed
  const latest = useRef(patch)
  latest.current = patch
  const [saving, setSaving] = useState<Saving>('saved')
  const [error, setError] = useState<ApiError | null>(null)
  const version = useRef(Object.keys(held(ref)).length ? typedInto(ref) : 0)
  const sent = useRef<Patch | null>(null)
  if (query.data && query.data.version > version.current) {
    // a newer version that came without an edit of ours; with one, saving decides
    if (!Object.keys(patch).length || version.current === 0) version.current = query.data.version
  }

  const holding = useCallback(
    (next: Patch) => {
      setPatch(next)
      hold(ref, next, version.current)
    },
    [ref],
  )

  const save = useCallback(async () => {
    const body = patch
    if (!Object.keys(body).length || sent.current) return
    sent.current = body
    setSaving('saving')
    try {
      const joint = await take(
        api.PATCH('/api/v1/joints/{ref}', {
          params: { path: { ref }, header: { 'If-Match': `"${version.current}"` } },
          body,
        }),
      )
      version.current = joint.version
      client.setQueryData(['joint', ref], joint)
      await client.invalidateQueries({ queryKey: ['look', ref] })
      sent.current = null
      setError(null)
      setPatch((now) => {
        const rest = Object.fromEntries(
          Object.entries(now).filter(([k, v]) => body[k as keyof Patch] !== v),
        ) as Patch
        hold(ref, rest, joint.version)
        return rest
      })
      setSaving('saved')
    } catch (fault) {
      sent.current = null
      const told = fault instanceof ApiError ? fault : null
      setError(told)
      setSaving(told?.offline ? 'offline' : told?.problem.status === 409 ? 'conflict' : 'refused')
    }
  }, [patch, ref, client])

  useEffect(() => {
    if (!Object.keys(patch).length || saving === 'conflict') return
    const timer = setTimeout(() => void save(), saving === 'offline' ? RETRY_MS : DELAY_MS)
    return () => clearTimeout(timer)
  }, [patch, saving, save])

  const edit = useCallback(
    (change: Patch) => {
      if (released) return
      setSaving((s) => (s === 'conflict' ? s : 'waiting'))
      latest.current = { ...latest.current, ...change } // two edits of one moment are both kept
      holding(latest.current)
    },
    [holding, released],
  )
  useEffect(() => {
    if (released) hold(ref, {}, 0)
  }, [released, ref])
  const keepMine = async () => {
    const fresh = await query.refetch()
    version.current = fresh.data?.version ?? version.current
    setSaving('waiting')
  }
  const takeTheirs = async () => {
    holding({})
    const fresh = await query.refetch()
    version.current = fresh.data?.version ?? version.current
    setSaving('saved')
    setError(null)
  }
  const settle = async () => {
    await save()
    return version.current
  }
  return {
    query,
    patch,
    edit,
    saving,
    error,
    keepMine,
    takeTheirs,
    settle,
    touched: () => void client.invalidateQueries({ queryKey: key }),
  }
}

/** Draft as it will be once everything typed is saved. */
export function drafted(joint: Joint, patch: Patch): Draft {
  return { ...(joint.draft as Draft), ...patch } as Draft
}
