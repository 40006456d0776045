/** A sheet being typed: looked at by the core after every pause, saved by itself, kept here until it is. */
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import { ApiError, api, type Schemas, take } from '../../api/client'

export type Sheet = Schemas['KitSheet']
export type Leaflet = NonNullable<Sheet['leaflet']>
const PAUSE_MS = 450

export function useSheet(id: string, may: boolean) {
  const client = useQueryClient()
  const query = useQuery({
    queryKey: ['sheet', id],
    queryFn: () => take(api.GET('/api/v1/sheets/{sheet_id}', { params: { path: { sheet_id: id } } })),
  })
  const key = `sheet:${id}`
  const [typed, setTyped] = useState<Sheet | null>(() => held(key))
  const [seen, setSeen] = useState<Schemas['SheetLook'] | null>(null)
  const [error, setError] = useState<ApiError | null>(null)
  const [saving, setSaving] = useState<'saved' | 'waiting' | 'saving' | 'refused' | 'offline'>('saved')
  const turn = useRef(0)
  const version = query.data?.version ?? 0

  const save = useCallback(async () => {
    if (!typed || !may) return
    const mine = ++turn.current
    setSaving('saving')
    try {
      const look = await take(api.POST('/api/v1/sheets/look', { body: typed }))
      if (mine === turn.current) setSeen(look)
      const kept = await take(
        api.PUT('/api/v1/sheets/{sheet_id}', {
          params: { path: { sheet_id: id }, header: { 'If-Match': `"${version}"` } },
          body: typed,
        }),
      )
      client.setQueryData(['sheet', id], kept)
      setError(null)
      if (mine !== turn.current) return
      setTyped((now) => {
        if (now !== typed) return now
        localStorage.removeItem(key)
        return null
      })
      setSaving('saved')
    } catch (fault) {
      const told = fault instanceof ApiError ? fault : null
      setError(told)
      setSaving(told?.offline ? 'offline' : 'refused')
    }
  }, [typed, may, id, version, client, key])

  useEffect(() => {
    if (!typed || saving === 'saving' || saving === 'refused') return
    const timer = setTimeout(() => void save(), saving === 'offline' ? 5000 : PAUSE_MS)
    return () => clearTimeout(timer)
  }, [typed, saving, save])

  const sheet = typed ?? query.data?.sheet
  const edit = (change: Partial<Sheet>) => {
    if (!sheet) return
    const next = { ...sheet, ...change }
    localStorage.setItem(key, JSON.stringify(next))
    setTyped(next)
    setSaving('waiting')
  }
  const drop = () => {
    localStorage.removeItem(key)
    setTyped(null)
    setError(null)
    setSaving('saved')
    void query.refetch()
  }
  const shown = typed && seen ? seen : query.data
  return {
    query,
    sheet,
    edit,
    drop,
    saving,
    error,
    version,
    doubts: shown?.doubts ?? [],
    prepared: shown?.prepared ?? [],
  }
}

function held(key: string): Sheet | null {
  try {
    return JSON.parse(localStorage.getItem(key) ?? 'null') as Sheet | null
  } catch {
    return null
  }
}
