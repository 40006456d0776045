/** A sheet being typed: looked at by the core after every pause, saved by itself, kept here until it is. */
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import { ApiError, api, type Schemas, take } from '../../api/client'
import { drop as forget, keep, recall } from '../../model/device'

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
  const [typed, setTyped] = useState<Sheet | null>(() => held(key)?.sheet ?? null)
  const based = useRef<number | null>(held(key)?.version ?? null) // the version that was typed into
  const [seen, setSeen] = useState<Schemas['SheetLook'] | null>(null)
  const [error, setError] = useState<ApiError | null>(null)
  const [saving, setSaving] = useState<'saved' | 'waiting' | 'saving' | 'refused' | 'offline'>('saved')
  const turn = useRef(0)
  const busy = useRef(false) // one save at a time, each on the version the one before left
  const [tick, setTick] = useState(0)
  const version = query.data?.version ?? 0

  const save = useCallback(async () => {
    if (!typed || !may || busy.current) return
    busy.current = true
    const mine = ++turn.current
    setSaving('saving')
    try {
      const look = await take(api.POST('/api/v1/sheets/look', { body: typed }))
      if (mine === turn.current) setSeen(look)
      const kept = await take(
        api.PUT('/api/v1/sheets/{sheet_id}', {
          params: { path: { sheet_id: id }, header: { 'If-Match': `"${based.current ?? version}"` } },
          body: typed,
        }),
      )
      based.current = kept.version
      client.setQueryData(['sheet', id], kept)
      setError(null)
      if (mine !== turn.current) return
      setTyped((now) => {
        if (now !== typed) return now
        forget(key)
        based.current = null
        return null
      })
      setSaving('saved')
    } catch (fault) {
      const told = fault instanceof ApiError ? fault : null
      setError(told)
      setSaving(told?.offline ? 'offline' : 'refused')
    } finally {
      busy.current = false
      setTick((n) => n + 1)
    }
  }, [typed, may, id, version, client, key])

  // biome-ignore lint/correctness/useExhaustiveDependencies: `tick` looks again when a save has ended
  useEffect(() => {
    if (!typed || saving === 'saving' || saving === 'refused') return
    const timer = setTimeout(() => void save(), saving === 'offline' ? 5000 : PAUSE_MS)
    return () => clearTimeout(timer)
  }, [typed, saving, save, tick])

  const sheet = typed ?? query.data?.sheet
  const edit = (change: Partial<Sheet>) => {
    if (!sheet) return
    const next = { ...sheet, ...change }
    based.current ??= version
    keep(key, { sheet: next, version: based.current })
    setTyped(next)
    setSaving('waiting')
  }
  const drop = () => {
    forget(key)
    based.current = null
    setTyped(null)
    setError(null)
    setSaving('saved')
    void query.refetch()
  }
  const keepMine = async () => {
    const fresh = await query.refetch()
    based.current = fresh.data?.version ?? based.current
    setSaving('waiting')
  }
  const shown = typed && seen ? seen : query.data
  return {
    query,
    sheet,
    edit,
    drop,
    keepMine,
    saving,
    error,
    version,
    doubts: shown?.doubts ?? [],
    prepared: shown?.prepared ?? [],
  }
}

interface Held {
  sheet: Sheet
  version: number
}

const held = (key: string): Held | null => recall<Held>(key) ?? null
