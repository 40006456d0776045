/** Events not yet sent, in order, kept in the browser across reloads and sign-outs, one box a person. */
import { database, type Outgoing, type Refused } from './device'
import { signal } from './signal'

export type { Outgoing, Refused }

const { on: onOutbox, tell } = signal()

export { onOutbox }

/** Keeps items in their order, all of them or none. */
export async function put(items: Outgoing[]): Promise<void> {
  const change = (await database()).transaction('outbox', 'readwrite')
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
  return (await database()).getAllFromIndex('outbox', 'owner', owner)
}

/** What waits for a joint on this device, whoever did it. */
export async function waitingAt(ref: string): Promise<Outgoing[]> {
  return (await (await database()).getAll('outbox')).filter((i) => i.ref === ref)
}

const MOST_LANDED = 60
let landed: Outgoing[] = []

/** Takes a sent item out of the box; it is remembered until every answer on its way has it. */
export async function settle(item: Outgoing): Promise<void> {
  landed = [...landed, item].slice(-MOST_LANDED)
  if (item.key !== undefined) await (await database()).delete('outbox', item.key)
  tell()
}

/** What was sent lately: an answer asked for before that may not know it yet. */
export function lately(): Outgoing[] {
  return landed
}

/** Moves an item to the refused ones in one go. */
export async function refuse(item: Outgoing, why: string): Promise<void> {
  const { key, ...rest } = item
  const change = (await database()).transaction(['outbox', 'refused'], 'readwrite')
  await change.objectStore('refused').add({ ...rest, why })
  if (key !== undefined) await change.objectStore('outbox').delete(key)
  await change.done
  tell()
}

export async function refused(owner: string): Promise<Refused[]> {
  return (await database()).getAllFromIndex('refused', 'owner', owner)
}

export async function forget(key: number): Promise<void> {
  await (await database()).delete('refused', key)
  tell()
}
