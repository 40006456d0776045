/** What earlier builds of the page kept for work without a connection, taken over into the shapes of today. A phone
 *  may be given a new build in a moment of signal and be opened down the shaft: what it held must still be there. */
import type { components } from '../api/schema'

type Schemas = components['schemas']
const WORK = 'work:'
type Held<T> = Partial<T> & Record<string, unknown>

/** Work with what earlier builds did not know of. Who may sign is left out: whose work it is cannot be told from it,
 *  so a hold waits until the server was reached. */
export function wholeWork(held: Held<Schemas['Work']>): Schemas['Work'] {
  const progress = held.progress as Schemas['Progress']
  return {
    ...(held as Schemas['Work']),
    verifiers: Array.isArray(held.verifiers) ? held.verifiers : [],
    dials: held.dials ?? [],
    workers: held.workers ?? [],
    builds: held.builds ?? {},
    again: held.again ?? {},
    free_mends: held.free_mends ?? [],
    instruments: held.instruments ?? [],
    measured: held.measured ?? [],
    trends: held.trends ?? [],
    against: held.against ?? [],
    altered: held.altered ?? '',
    judgement: {
      ...(held.judgement as Schemas['Judgement']),
      notes: held.judgement?.notes ?? [],
      faults: held.judgement?.faults ?? [],
    },
    plan: wholePlan(held.plan as Schemas['Plan']),
    progress: {
      ...progress,
      cures: progress.cures ?? [],
      workers: progress.workers ?? [],
      since_hold: progress.since_hold ?? [],
      steps: progress.steps.map((s) => ({
        ...s,
        simulated: s.simulated ?? [],
        over: s.over ?? [],
        overdue: s.overdue ?? [],
        tool_reason: s.tool_reason ?? '',
        excuse: s.excuse ?? '',
      })),
    },
  }
}

/** A plan whose steps and gates say what those of earlier builds did not. */
function wholePlan(plan: Schemas['Plan']): Schemas['Plan'] {
  if (!Array.isArray(plan?.steps)) return plan
  const steps = plan.steps.map((s) => ({
    ...s,
    routes: s.routes ?? [],
    pairs: s.pairs ?? [],
    gates: s.gates.map((g) => ({
      ...g,
      name: g.name ?? '',
      group: g.group ?? '',
      excuse: g.excuse ?? false,
      possible: g.possible ?? null,
    })),
  }))
  return { ...plan, steps }
}

/** An answer that was kept, its plan in the shape of today. */
export function wholeAnswer(value: unknown): unknown {
  const plan = value && typeof value === 'object' && 'plan' in value ? value.plan : undefined
  return plan ? { ...(value as object), plan: wholePlan(plan as Schemas['Plan']) } : value
}

const NONE: Schemas['SomeJoints'] = { items: [], more: 0 }

/** A board of joints in rows, as joints to choose from: their lines are drawn when the server was reached. */
function wholeBoard(held: Record<string, unknown>): Schemas['Board'] {
  if (!('joints' in held))
    return { ...(held as Schemas['Board']), late: (held.late ?? NONE) as Schemas['SomeJoints'] }
  const rows = held.joints as Schemas['JointRow'][]
  const today = (held.today ?? []) as Schemas['Today'][]
  const named = rows.map((r) => ({
    ref: r.ref,
    title: r.title,
    where: r.where,
    state: r.state,
    limits: r.limits ?? '',
    late: r.late ?? '',
    share: r.total ? r.done / r.total : 0,
    unreadable: r.unreadable ?? '',
  }))
  const counts = new Map<string, number>()
  for (const r of rows) counts.set(r.state, (counts.get(r.state) ?? 0) + 1)
  return {
    lines: [],
    zones: [],
    far_m: 1,
    states: [...counts].map(([state, count]) => ({ state, count })),
    knots: [],
    loose: { items: named, more: 0 },
    limited: { items: named.filter((j) => j.limits), more: 0 },
    late: NONE,
    unreadable: { items: named.filter((j) => j.unreadable), more: 0 },
    today,
    waiting: today.length,
    minutes: today.reduce((sum, t) => sum + t.minutes, 0),
    loops: (held.loops ?? []) as Schemas['LoopLeft'][],
  }
}

type Read = [address: RegExp, key: (ref: string) => string, whole: (held: never) => unknown]
const READS: Read[] = [
  [/^\/api\/v1\/joints\/([^/]+)$/, (ref) => `joint:${ref}`, (held) => held],
  [/^\/api\/v1\/joints\/([^/]+)\/work$/, (ref) => `work:${ref}`, wholeWork],
  [/^\/api\/v1\/board$/, () => 'board', wholeBoard],
]
const CACHE = 'reads'

/** Hands over what earlier builds kept, once; what is damaged is as if it were not there. */
export async function handOver(keep: (key: string, value: unknown) => Promise<void>): Promise<void> {
  if ('caches' in globalThis && (await caches.has(CACHE).catch(() => false))) {
    const cache = await caches.open(CACHE)
    for (const request of await cache.keys()) {
      const path = decodeURI(new URL(request.url).pathname)
      for (const [address, key, whole] of READS) {
        const found = address.exec(path)
        const answer = found && (await cache.match(request))
        if (answer) await hand(key(found[1] ?? ''), () => answer.json(), whole, keep)
      }
    }
    await caches.delete(CACHE)
  }
  for (const key of Object.keys(localStorage).filter((k) => k.startsWith(WORK))) {
    await hand(key, async () => JSON.parse(localStorage.getItem(key) ?? ''), wholeWork, keep)
    localStorage.removeItem(key)
  }
}

async function hand(
  key: string,
  read: () => Promise<unknown>,
  whole: Read[2],
  keep: (key: string, value: unknown) => Promise<void>,
): Promise<void> {
  try {
    await keep(key, whole((await read()) as never))
  } catch {
    // damaged, or of no shape known here
  }
}
