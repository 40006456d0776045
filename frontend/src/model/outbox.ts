/** Events not yet sent, in order, kept in the browser across reloads and sign-outs, one box a person. */
import { type DBSchema, type IDBPDatabase, openDB } from 'idb'
import type { Schemas } from '../api/client'

export type Outgoing = {
  key?: number
  owner: string
  actor: string
  ref: string
  event: Schemas['EventIn']
}

interface Boxes extends DBSchema {
  outbox: { key: number; value: Outgoing; indexes: { owner: string } }
}

let opened: Promise<IDBPDatabase<Boxes>> | undefined

function open(): Promise<IDBPDatabase<Boxes>> {
  opened ??= openDB<Boxes>('tinknot', 1, {
    upgrade(db) {
      db.createObjectStore('outbox', { keyPath: 'key', autoIncrement: true }).createIndex('owner', 'owner')
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
  for (const item of items) await change.store.add(item)
  await change.done
  tell()
}

export async function waiting(owner: string): Promise<Outgoing[]> {
  return (await open()).getAllFromIndex('outbox', 'owner', owner)
}

export async function remove(key: number): Promise<void> {
  await (await open()).delete('outbox', key)
  tell()
}
