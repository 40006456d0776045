import { useQuery, useQueryClient } from '@tanstack/react-query'
import { ApiError, api, type Schemas, take } from '../../api/client'
import type { useOutbox } from '../../components/outbox'
import { learnClock } from '../../model/clock'
import { useSession } from '../../session'

export type Work = Schemas['Work']
export type Step = Schemas['StepOut']
export type StepState = Schemas['StepState']
type Outbox = ReturnType<typeof useOutbox>

export interface WorkProps {
  work: Work
  states: StepState[]
  outbox: Outbox
  labels: { A: string; B: string }
}

/** Plan, progress and events; kept in the browser so that a reload without a connection still shows them. */
export function useWork(ref: string, enabled: boolean) {
  const client = useQueryClient()
  return useQuery({
    queryKey: ['work', ref],
    enabled,
    refetchInterval: 20_000,
    queryFn: async () => {
      const key = `work:${ref}`
      try {
        const found = await take(api.GET('/api/v1/joints/{ref}/work', { params: { path: { ref } } }))
        learnClock(found.now)
        const known = client.getQueryData<Work>(['work', ref])
        if (known && known.number === found.number && known.events.length > found.events.length) return known // asked before the last event was taken; the log only grows
        localStorage.setItem(key, JSON.stringify(found))
        return found
      } catch (fault) {
        const held = localStorage.getItem(key)
        if (held && !refused(fault)) return whole(JSON.parse(held) as Work)
        throw fault
      }
    },
  })
}

/** The server has said that there is no such work, or that it cannot be read: what is kept here is out of date. */
function refused(fault: unknown): boolean {
  return fault instanceof ApiError && [404, 422].includes(fault.problem.status)
}

/** What an earlier version kept, with what it did not know of. */
function whole(held: Work): Work {
  return {
    ...held,
    dials: held.dials ?? [],
    progress: { ...held.progress, cures: held.progress.cures ?? [] },
  }
}

const device = (() => {
  const kept = localStorage.getItem('device') ?? crypto.randomUUID().slice(0, 8)
  localStorage.setItem('device', kept)
  return kept
})()

type Sent = Partial<Schemas['EventIn']>
/** A step to speak of, with what goes only with it. */
export type About = string | (Sent & { step: string; picture?: Blob })

/** Makes events: each its own id, the device, its sequence and the time it happened. Several steps
 *  confirmed together are kept together. */
export function useEvents(work: Work, outbox: Outbox) {
  const session = useSession()
  return (kind: Schemas['EventIn']['kind'], steps: About | About[], more: Sent = {}) => {
    let sequence = Number(localStorage.getItem('sequence') ?? 0)
    const items = [steps].flat().map((about) => {
      const { picture, ...own } = typeof about === 'string' ? { step: about } : about
      sequence += 1
      const event = {
        id: crypto.randomUUID(),
        kind,
        revision: work.number,
        device,
        sequence,
        client_time: new Date().toISOString(),
        ...more,
        ...own,
      }
      return { ref: work.ref, actor: session.name, event, picture }
    })
    localStorage.setItem('sequence', String(sequence))
    return outbox.add(items)
  }
}
