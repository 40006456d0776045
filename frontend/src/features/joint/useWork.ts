import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback } from 'react'
import { api, keptAnswer, type Schemas, take } from '../../api/client'
import type { useOutbox } from '../../components/outbox'
import { learnClock } from '../../model/clock'
import { keep, recallWord } from '../../model/device'
import { spoken } from '../../model/said'
import { useSession } from '../../session'
import { useSettings } from '../../settings'

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
  const { unit } = useSettings()
  const select = useCallback(
    (work: Work): Work =>
      unit === 'mm'
        ? work
        : { ...work, plan: spoken(work.plan, unit), progress: spoken(work.progress, unit) },
    [unit],
  )
  return useQuery({
    queryKey: ['work', ref],
    select,
    enabled,
    refetchInterval: 20_000,
    queryFn: async () => {
      const found = await keptAnswer(`work:${ref}`, () =>
        take(api.GET('/api/v1/joints/{ref}/work', { params: { path: { ref } } })).then((w) => {
          learnClock(w.now)
          return w
        }),
      )
      const known = client.getQueryData<Work>(['work', ref])
      const older = known && known.number === found.number && known.events.length > found.events.length
      return older ? known : found // asked before the last event was taken; the log only grows
    },
  })
}

type Boxes = Pick<Outbox, 'items' | 'lately'>

/** The outbox without what the log holds already: between the server's answer and leaving the box an event is in both,
 *  and would be told twice. */
export function unsent<Box extends Boxes>(outbox: Box, events: Work['events'] = []): Box {
  const known = new Set(events.map((e) => e.id))
  return { ...outbox, items: outbox.items.filter((i) => !known.has(i.event.id)) }
}

/** What was done here that the log at hand does not hold: not sent yet, or sent after it was asked for. */
export function notYetKnown(events: Work['events'], outbox: Boxes) {
  const known = new Set(events.map((e) => e.id))
  const waiting = new Set(outbox.items.map((i) => i.event.id))
  const sent = outbox.lately.filter((i) => !waiting.has(i.event.id) && !known.has(i.event.id))
  return [...sent, ...outbox.items]
}

const device = (() => {
  const kept = recallWord('device') ?? crypto.randomUUID().slice(0, 8)
  keep('device', kept)
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
    let sequence = Number(recallWord('sequence') ?? 0)
    const items = [steps].flat().map((about) => {
      const { picture, ...own } = typeof about === 'string' ? { step: about } : about
      sequence += 1
      const event = {
        id: crypto.randomUUID(),
        kind,
        revision: work.number,
        device,
        sequence,
        by: session.mark,
        sign_in: session.sign_in,
        client_time: new Date().toISOString(),
        ...more,
        ...own,
      }
      return { ref: work.ref, actor: session.name, event, picture }
    })
    keep('sequence', sequence)
    return outbox.add(items)
  }
}
