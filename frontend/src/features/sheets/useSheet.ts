/** A sheet being typed: looked at by the core after every pause, saved by itself, kept here until it is. */
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useMemo, useRef, useState } from 'react'
import { api, type Schemas, take } from '../../api/client'
import { type Kept, useAutosave } from '../../components/useAutosave'
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
  const [seen, setSeen] = useState<Schemas['SheetLook'] | null>(null)
  const version = query.data?.version ?? 0
  const latest = useRef<Sheet | null>(null)
  const send = useCallback(
    async (body: Sheet, version: number) => {
      const look = await take(api.POST('/api/v1/sheets/look', { body }))
      if (latest.current === body) setSeen(look)
      const kept = await take(
        api.PUT('/api/v1/sheets/{sheet_id}', {
          params: { path: { sheet_id: id }, header: { 'If-Match': `"${version}"` } },
          body,
        }),
      )
      client.setQueryData(['sheet', id], kept)
      return kept.version
    },
    [id, client],
  )
  const kept = useMemo(() => keptOf(`sheet:${id}`), [id])
  const auto = useAutosave<Sheet>({
    kept,
    version: query.data?.version,
    send,
    since,
    pause: PAUSE_MS,
    able: may,
  })
  latest.current = auto.typed
  const sheet = auto.typed ?? query.data?.sheet
  const edit = (change: Partial<Sheet>) => {
    if (sheet) auto.edit((now) => ({ ...(now ?? sheet), ...change }))
  }
  const shown = auto.typed && seen ? seen : query.data
  return {
    query,
    sheet,
    edit,
    drop: () => {
      auto.drop()
      void query.refetch()
    },
    keepMine: async () => auto.over((await query.refetch()).data?.version),
    saving: auto.saving,
    error: auto.error,
    version,
    doubts: shown?.doubts ?? [],
    prepared: shown?.prepared ?? [],
    steps: shown?.steps ?? [],
    breaks: shown?.breaks ?? [],
  }
}

/** A sheet is typed and saved whole. */
const since = (now: Sheet, sent: Sheet): Sheet | null => (now === sent ? null : now)

interface Held {
  sheet: Sheet
  version: number | null
}

function keptOf(key: string): Kept<Sheet> {
  return {
    read: () => {
      const held = recall<Held>(key)
      return held ? { typed: held.sheet, version: held.version } : null
    },
    write: (sheet, version) => keep(key, { sheet, version }),
    drop: () => forget(key),
  }
}
