/** A joint being filled in: saved by itself, kept in the browser until it is, never overwritten silently. */
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useMemo } from 'react'
import { api, type Draft, keptAnswer, type Schemas, take } from '../../api/client'
import { type Kept, useAutosave } from '../../components/useAutosave'
import { drop, keep, keepAnswer, recall } from '../../model/device'

export type Joint = Schemas['JointOut']
export type Patch = Schemas['JointPatch']
/** A change, or what makes one of the draft as it is by then: for what comes late, after an answer of the server. */
export type Change = Patch | ((now: Draft) => Patch)
export type { Saving } from '../../components/useAutosave'

const PAUSE_MS = 500
const NOTHING: Patch = {}

/** A patch with nothing in it is none. */
const some = (patch: Patch): Patch | null => (Object.keys(patch).length ? patch : null)

/** What of a patch was typed after it was sent. */
const since = (now: Patch, sent: Patch): Patch | null =>
  some(Object.fromEntries(Object.entries(now).filter(([k, v]) => sent[k as keyof Patch] !== v)) as Patch)

function keptOf(ref: string): Kept<Patch> {
  return {
    read: () => {
      const typed = some(recall<Patch>(`draft:${ref}`) ?? {})
      return typed && { typed, version: Number(recall(`draft-version:${ref}`)) || null }
    },
    write: (typed, version) => {
      keep(`draft:${ref}`, typed)
      keep(`draft-version:${ref}`, version)
    },
    drop: () => {
      drop(`draft:${ref}`)
      drop(`draft-version:${ref}`)
    },
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
  const send = useCallback(
    async (body: Patch, version: number) => {
      const joint = await take(
        api.PATCH('/api/v1/joints/{ref}', {
          params: { path: { ref }, header: { 'If-Match': `"${version}"` } },
          body,
        }),
      )
      await client.cancelQueries({ queryKey: ['joint', ref] }) // asked for before this was saved
      client.setQueryData(['joint', ref], joint)
      void keepAnswer(`joint:${ref}`, joint)
      return joint.version
    },
    [ref, client],
  )
  const kept = useMemo(() => keptOf(ref), [ref])
  const auto = useAutosave<Patch>({
    kept,
    version: query.data?.version,
    send,
    since,
    pause: PAUSE_MS,
    able: !released,
  })
  const edit = useCallback(
    (change: Change) => {
      if (released) return
      auto.edit((typed) => {
        if (typeof change !== 'function') return { ...typed, ...change }
        const joint = client.getQueryData<Joint>(['joint', ref])
        return joint ? { ...typed, ...change(drafted(joint, typed ?? NOTHING)) } : (typed ?? NOTHING)
      })
    },
    [auto.edit, released, client, ref],
  )
  useEffect(() => {
    if (released && auto.typed) auto.drop()
  }, [released, auto.typed, auto.drop])
  const newest = async () => (await query.refetch()).data?.version
  return {
    query,
    patch: released ? NOTHING : (auto.typed ?? NOTHING), // nothing is typed into what is signed
    edit,
    saving: auto.saving,
    error: auto.error,
    keepMine: async () => auto.over(await newest()),
    takeTheirs: async () => {
      auto.drop()
      await newest()
    },
    settle: auto.settle,
    touched: () => void client.invalidateQueries({ queryKey: key }),
  }
}

/** Draft as it will be once everything typed is saved. */
export function drafted(joint: Joint, patch: Patch): Draft {
  return { ...(joint.draft as Draft), ...patch } as Draft
}
