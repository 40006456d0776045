/** What this device keeps so that nothing is lost and work goes on without a connection: the one place for it.
 *
 *  What was typed and not sent lies in `localStorage`, to be there at once; what the server answered lies in the
 *  browser's database, for there is more of it. Both survive damage (what cannot be read is as if it were not there),
 *  say when there is no room, and forget what has not been used for a month. Events wait in the outbox beside. */
import { type DBSchema, type IDBPDatabase, openDB } from 'idb'
import type { components } from '../api/schema'
import { handOver, wholeAnswer } from './earlier'
import { signal } from './signal'

export type Outgoing = {
  key?: number
  owner: string
  actor: string
  ref: string
  event: components['schemas']['EventIn']
  /** The picture an event speaks of, until it is sent. */
  picture?: Blob
}
/** An event the server would not take, kept until somebody has seen it. */
export type Refused = Outgoing & { why: string }
type Answer = { key: string; at: number; value: unknown }

interface Boxes extends DBSchema {
  outbox: { key: number; value: Outgoing; indexes: { owner: string } }
  refused: { key: number; value: Refused; indexes: { owner: string } }
  answers: { key: string; value: Answer; indexes: { at: number } }
}

let opened: Promise<IDBPDatabase<Boxes>> | undefined
let openedOn: IDBFactory | undefined

export function database(): Promise<IDBPDatabase<Boxes>> {
  if (openedOn !== indexedDB) opened = undefined // another browser, as tests have it
  openedOn = indexedDB
  opened ??= openDB<Boxes>('tinknot', 3, {
    upgrade(db, from) {
      const box = (name: 'outbox' | 'refused') =>
        db.createObjectStore(name, { keyPath: 'key', autoIncrement: true }).createIndex('owner', 'owner')
      if (from < 1) box('outbox')
      if (from < 2) box('refused')
      if (from < 3) db.createObjectStore('answers', { keyPath: 'key' }).createIndex('at', 'at')
    },
    blocking: (_now, _next, event) => (event.target as IDBDatabase).close(), // a newer page upgrades it
    terminated: () => {
      opened = undefined
    },
  }).catch((fault: unknown) => {
    opened = undefined // tried again the next time
    throw fault
  })
  return opened
}

// --- what was typed ------------------------------------------------------------------------------

const TYPED = 'typed:'
const UNUSED_MS = 31 * 24 * 3_600_000

/** Keeps what was typed; false where the device has no room for it. */
export function keep(key: string, value: unknown): boolean {
  const text = JSON.stringify({ at: Date.now(), value })
  for (const last of [false, true]) {
    try {
      localStorage.setItem(key, text)
      return true
    } catch {
      if (last) break
      sweepTyped(0) // readings of steps long confirmed go first
    }
  }
  roomless()
  return false
}

/** What was kept under a key, also by versions that kept it bare; undefined for nothing and for what is damaged. */
export function recall<T>(key: string): T | undefined {
  const text = localStorage.getItem(key)
  if (text === null) return undefined
  try {
    const found = JSON.parse(text) as unknown
    const wrapped = found !== null && typeof found === 'object' && 'at' in found && 'value' in found
    return (wrapped ? found.value : found) as T
  } catch {
    localStorage.removeItem(key)
    return undefined
  }
}

/** A word or figure that was kept, bare or not. */
export function recallWord(key: string): string | undefined {
  const text = localStorage.getItem(key)
  if (text === null || !text.startsWith('{')) return text ?? undefined
  const found = recall<string | number>(key)
  return found === undefined ? undefined : String(found)
}

export function drop(key: string): void {
  localStorage.removeItem(key)
}

/** Readings that were typed and not touched for as long go. Drafts and sheets that were not sent stay. */
function sweepTyped(unusedMs: number): void {
  for (const key of Object.keys(localStorage).filter((k) => k.startsWith(TYPED))) {
    const at = age(localStorage.getItem(key))
    if (Date.now() - at >= unusedMs) localStorage.removeItem(key)
  }
}

function age(text: string | null): number {
  try {
    return Number((JSON.parse(text ?? '') as { at?: number }).at ?? 0)
  } catch {
    return 0
  }
}

// --- what the server answered --------------------------------------------------------------------

const MOST_ANSWERS = 120
const SHAPE = 'v1' // counts up when what is kept can no longer be shown by the page
const shaped = (key: string) => `${SHAPE}:${key}`

let over: Promise<void> | undefined
let overOn: IDBFactory | undefined

/** What earlier builds kept is here before anything is looked for. */
function taken(): Promise<void> {
  if (overOn !== indexedDB) over = undefined // another browser, as tests have it
  overOn = indexedDB
  over ??= handOver(store).catch(() => undefined)
  return over
}

/** Keeps an answer for when there is no connection; without room the oldest go, and then it does without. */
export async function keepAnswer(key: string, value: unknown): Promise<void> {
  await taken() // or what is older would lie over it
  await store(key, value)
}

async function store(key: string, value: unknown): Promise<void> {
  for (const last of [false, true]) {
    try {
      await (await database()).put('answers', { key: shaped(key), at: Date.now(), value })
      return
    } catch {
      if (last) return
      await sweepAnswers(MOST_ANSWERS / 4).catch(() => undefined)
    }
  }
}

export async function recallAnswer<T>(key: string): Promise<T | undefined> {
  await taken()
  try {
    const kept = await (await database()).get('answers', shaped(key))
    return kept && (wholeAnswer(kept.value) as T)
  } catch {
    return undefined
  }
}

/** Signed out: what the server told this person is not for the next one. */
export async function forgetAnswers(): Promise<void> {
  await taken()
  await (await database()).clear('answers').catch(() => undefined)
}

async function sweepAnswers(most: number): Promise<void> {
  const change = (await database()).transaction('answers', 'readwrite')
  const keys = await change.store.index('at').getAllKeys()
  const old = await change.store.index('at').getAllKeys(IDBKeyRange.upperBound(Date.now() - UNUSED_MS))
  const gone = new Set([...old, ...keys.slice(0, Math.max(0, keys.length - most))])
  for (const key of gone) await change.store.delete(key)
  await change.done
}

/** Once a start: what has not been used for a month goes. */
export async function sweep(): Promise<void> {
  void navigator.storage?.persist?.().catch(() => false) // so that a device short of room keeps what is not sent
  sweepTyped(UNUSED_MS)
  await taken()
  await sweepAnswers(MOST_ANSWERS).catch(() => undefined)
}

// --- room ----------------------------------------------------------------------------------------

const room = signal()

/** Told when something could not be kept for want of room. */
export const onNoRoom = room.on
export const roomless = room.tell
