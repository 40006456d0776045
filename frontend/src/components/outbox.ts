/** Sending what waits: one after the other, once each, until the server has it. */
import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useState, useSyncExternalStore } from 'react'
import { ApiError, api, putPicture, type Schemas, take } from '../api/client'
import { learnClock } from '../model/clock'
import { keepAnswer, onNoRoom } from '../model/device'
import {
  forget,
  lately,
  type Outgoing,
  onOutbox,
  put,
  type Refused,
  refuse,
  refused,
  settle,
  waiting,
  waitingAt,
} from '../model/outbox'
import { signal } from '../model/signal'
import { type Session, useSession } from '../session'

const RETRY_MS = 4_000
let sending = false
let more = false // noted while others were being sent

/** What is said about the sending, to whom and of which joint (undefined: of all): one for all parts of a page, since
 *  any of them may be the one that sends. */
let said: { to: string; words: string; ref?: string } = { to: '', words: '' }
const { on: onSaid, tell } = signal()

function say(to: string, words: string, ref?: string) {
  said = { to, words, ref }
  tell()
}

async function deliver(item: Outgoing): Promise<Schemas['Taken']> {
  if (item.picture) await putPicture(item.event.photo ?? '', item.picture)
  return take(
    api.POST('/api/v1/joints/{ref}/events', {
      params: { path: { ref: item.ref } },
      body: { ...item.event, sent_time: new Date().toISOString() },
    }),
  )
}

/** Whether it may be tried again later as it is. */
function later(fault: unknown): boolean {
  if (!(fault instanceof ApiError)) return true
  const { status, type } = fault.problem
  const stranger = type === 'tinknot:csrf' || type === 'tinknot:other-person'
  return status === 0 || status === 401 || status === 429 || status >= 500 || stranger
}

/** Sends in order, what is this person's and as long as it is they who are signed in; stops at the first that cannot
 *  be sent now. Refused ones are set aside, never dropped. */
async function flush(
  owner: string,
  signedIn: () => string | undefined,
  landed: (item: Outgoing, taken: Schemas['Taken']) => Promise<void>,
): Promise<void> {
  if (sending) {
    more = true
    return
  }
  sending = true
  try {
    do {
      more = false
      for (const item of await waiting(owner)) {
        if (signedIn() !== owner) return // somebody else signed in meanwhile: it waits for its own person
        try {
          const taken = await deliver(item)
          learnClock(taken.now)
          await landed(item, taken)
          if (!taken.counts) say(owner, `It is noted, but does not count: ${taken.why}`, item.ref)
        } catch (fault) {
          if (later(fault)) return
          const words = fault instanceof ApiError ? fault.problem.detail : String(fault)
          say(owner, `It was not taken: ${words}`, item.ref)
          await refuse(item, words)
          continue
        }
        await settle(item)
      }
    } while (more)
  } finally {
    sending = false
  }
}

/** The log with an event of this device; an answer asked for meanwhile may have brought it already. */
function grown(log: Schemas['Event'][], event: Schemas['Event']): Schemas['Event'][] {
  return log.some((e) => e.id === event.id) ? log : [...log, event]
}

const NO_ROOM =
  'This device has no room left, so nothing was noted. Free some, pictures for example, and do it again.'

function noRoom(fault: unknown): boolean {
  return fault instanceof DOMException && fault.name === 'QuotaExceededError'
}

function damaged(fault: unknown): string {
  return `What this device keeps cannot be opened (${fault instanceof Error ? fault.message : fault}). Close other pages of Tin Knot and load this one again; until then nothing is noted here.`
}

/** What waits to be sent: `items` this person's, `here` everybody's at this joint. */
export function useOutbox(ref?: string) {
  const owner = useSession().username
  const client = useQueryClient()
  const [items, setItems] = useState<Outgoing[]>([])
  const [here, setHere] = useState<Outgoing[]>([])
  const [set, setSet] = useState<Refused[]>([])
  const told = useSyncExternalStore(onSaid, () => said)
  const refresh = useCallback(() => {
    const broken = (fault: unknown) => say(owner, damaged(fault))
    void waiting(owner).then(setItems, broken)
    void refused(owner).then(setSet, broken)
    if (ref) void waitingAt(ref).then(setHere, broken)
  }, [owner, ref])
  useEffect(() => {
    refresh()
    return onOutbox(refresh)
  }, [refresh])
  useEffect(() => onNoRoom(() => say(owner, NO_ROOM)), [owner])
  const send = useCallback(async () => {
    const before = (await waiting(owner)).length
    await flush(
      owner,
      () => client.getQueryData<Session>(['session'])?.username,
      // before it leaves the box, or the page would fall back to the step before: for a moment here, and for as long as
      // there is no connection after a reload
      async (item, taken) => {
        const now = client.setQueryData<Schemas['Work']>(
          ['work', item.ref],
          (work) => work && { ...work, progress: taken.progress, events: grown(work.events, taken.event) },
        )
        if (now) await keepAnswer(`work:${item.ref}`, now)
      },
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
      say(owner, '')
      try {
        await put(items.map((item) => ({ ...item, owner })))
      } catch (fault) {
        say(owner, noRoom(fault) ? NO_ROOM : damaged(fault))
        return
      }
      await send()
    },
    [owner, send],
  )
  const seen = useCallback(
    async (key: number) => {
      say(owner, '')
      await forget(key)
    },
    [owner],
  )
  const mine = <T extends Outgoing>(all: T[]) => (ref ? all.filter((i) => i.ref === ref) : all)
  const words = told.to === owner && (!ref || !told.ref || told.ref === ref) ? told.words : ''
  return { items: mine(items), here, lately: mine(lately()), refused: mine(set), words, add, forget: seen }
}
