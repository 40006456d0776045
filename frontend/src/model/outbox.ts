/** Events not yet sent, in order, kept in the browser across reloads and sign-outs, one box a person. */
import { type DBSchema, type IDBPDatabase, openDB } from 'idb'
import type { Schemas } from '../api/client'

export type Outgoing = {
  key?: number
  owner: string
  actor: string
  ref: string
  event: Schemas['EventIn']
  /** The picture an event speaks of, until it is sent. */
  picture?: Blob
}
/** An event the server would not take, kept until somebody has seen it. */
export type Refused = Outgoing & { why: string }

interface Boxes extends DBSchema {
  outbox: { key: number; value: Outgoing; indexes: { owner: string } }
  refused: { key: number; value: Refused; indexes: { owner: string } }
}

let opened: Promise<IDBPDatabase<Boxes>> | undefined

function open(): Promise<IDBPDatabase<Boxes>> {
  opened ??= openDB<Boxes>('tinknot', 2, {
    upgrade(db, from) {
      const box = (name: 'outbox' | 'refused') =>
        db.createObjectStore(name, { keyPath: 'key', autoIncrement: true }).createIndex('owner', 'owner')
      if (from < 1) box('outbox')
      if (from < 2) box('refused')
    },
  })
  return opened
}

const listeners = new Set<() => void>()

export function onOutbox(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

function tell(): void {
  for (const listener of listeners) listener()
}

/** Keeps items in their order, all of them or none. */
export async function put(items: Outgoing[]): Promise<void> {
  const change = (await open()).transaction('outbox', 'readwrite')
  try {
    for (const item of items) await change.store.add(item)
  } catch (fault) {
    change.done.catch(() => undefined) // the transaction that is taken back says so too
    change.abort()
    throw fault
  }
  await change.done
  tell()
}

export async function waiting(owner: string): Promise<Outgoing[]> {
  return (await open()).getAllFromIndex('outbox', 'owner', owner)
}

const MOST_LANDED = 60
let landed: Outgoing[] = []

/** Takes a sent item out of the box; it is remembered until every answer on its way has it. */
export async function settle(item: Outgoing): Promise<void> {
  landed = [...landed, item].slice(-MOST_LANDED)
  if (item.key !== undefined) await (await open()).delete('outbox', item.key)
  tell()
}

/** What was sent lately: an answer asked for before that may not know it yet. */
export function lately(): Outgoing[] {
  return landed
}

/** Moves an item to the refused ones in one go. */
export async function refuse(item: Outgoing, why: string): Promise<void> {
  const { key, ...rest } = item
  const change = (await open()).transaction(['outbox', 'refused'], 'readwrite')
  await change.objectStore('refused').add({ ...rest, why })
  if (key !== undefined) await change.objectStore('outbox').delete(key)
  await change.done
  tell()
}

export async function refused(owner: string): Promise<Refused[]> {
  return (await open()).getAllFromIndex('refused', 'owner', owner)
}

export async function forget(key: number): Promise<void> {
  await (await open()).delete('refused', key)
  tell()
}
