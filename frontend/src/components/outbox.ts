/** Sending what waits: one after the other, once each, until the server has it. */
import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useState } from 'react'
import { ApiError, api, type Schemas, take } from '../api/client'
import { type Outgoing, onOutbox, put, remove, waiting } from '../model/outbox'
import { useSession } from '../session'

const RETRY_MS = 4_000
let sending = false

/** Sends in order; stops at the first that cannot be sent now. Refused ones are told and dropped. */
async function flush(
  owner: string,
  told: (item: Outgoing, words: string) => void,
  landed: (item: Outgoing, taken: Schemas['Taken']) => void,
): Promise<void> {
  if (sending) return
  sending = true
  try {
    for (const item of await waiting(owner)) {
      try {
        const taken = await take(
          api.POST('/api/v1/joints/{ref}/events', { params: { path: { ref: item.ref } }, body: item.event }),
        )
        landed(item, taken)
        if (!taken.counts) told(item, taken.why)
      } catch (fault) {
        const status = fault instanceof ApiError ? fault.problem.status : 0
        if (status === 0 || status === 401 || status >= 500 || status === 429) return
        if (fault instanceof ApiError && fault.problem.type === 'tinknot:csrf') return
        told(item, fault instanceof ApiError ? fault.problem.detail : String(fault))
      }
      if (item.key !== undefined) await remove(item.key)
    }
  } finally {
    sending = false
  }
}

export function useOutbox(ref?: string) {
  const owner = useSession().username
  const client = useQueryClient()
  const [items, setItems] = useState<Outgoing[]>([])
  const [words, setWords] = useState('')
  const refresh = useCallback(() => void waiting(owner).then(setItems), [owner])
  useEffect(() => {
    refresh()
    return onOutbox(refresh)
  }, [refresh])
  const send = useCallback(async () => {
    const before = (await waiting(owner)).length
    await flush(
      owner,
      (_item, why) => setWords(why),
      // before it leaves the box, or the page would fall back to the step before for a moment
      (item, taken) =>
        client.setQueryData<Schemas['Work']>(
          ['work', item.ref],
          (work) => work && { ...work, progress: taken.progress, events: [...work.events, taken.event] },
        ),
    )
    if (before) await client.invalidateQueries({ queryKey: ['work'] })
  }, [owner, client])
  useEffect(() => {
    const timer = setInterval(() => void send(), RETRY_MS)
    const now = () => void send()
    window.addEventListener('online', now)
    now()
    return () => {
      clearInterval(timer)
      window.removeEventListener('online', now)
    }
  }, [send])
  const add = useCallback(
    async (items: Omit<Outgoing, 'owner'>[]) => {
      setWords('')
      await put(items.map((item) => ({ ...item, owner })))
      await send()
    },
    [owner, send],
  )
  return { items: ref ? items.filter((i) => i.ref === ref) : items, words, add, clear: () => setWords('') }
}
