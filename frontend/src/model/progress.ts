/** Progress with what is not sent yet laid over it: the same graph the server folds. */
import type { components } from '../api/schema'

type Plan = components['schemas']['Plan']
type Step = components['schemas']['StepOut']
type State = components['schemas']['StepState']
export type Pending = {
  kind: string
  step: string
  about?: string
  values: Record<string, number>
  actor: string
  at: string
  /** Who signed with a PIN that only the server can check. */
  signer?: string
  /** For a way of mending that begins again: at which steps. */
  again?: string[]
}

/** Step states after pending events. Lenient on readings: the server's fold decides. */
export function overlay(plan: Pick<Plan, 'steps'>, states: State[], pending: Pending[]): State[] {
  const now = new Map(states.map((s) => [s.id, { ...s }]))
  for (const event of pending) {
    if (event.kind === 'remedy') {
      for (const id of (event.again ?? []).flatMap((s) => [s, ...dependents(plan, s)])) reopen(now.get(id))
      relock(plan, now)
      continue
    }
    const state = now.get(event.step)
    const step = plan.steps.find((s) => s.id === event.step)
    if (!state || !step) continue
    if (event.kind === 'done' && lacking(step, now).length === 0) {
      Object.assign(state, {
        state: 'done',
        actor: event.signer || event.actor,
        at: event.at,
        locked_by: [],
        why: event.signer ? 'signature not checked yet' : '',
      })
      state.values = { ...state.values, ...event.values }
    } else if (event.kind === 'undone' && !event.about) {
      for (const id of [event.step, ...dependents(plan, event.step)]) reopen(now.get(id))
    } else if (event.kind === 'reading') state.values = { ...state.values, ...event.values }
    relock(plan, now)
  }
  return plan.steps.map((s) => now.get(s.id) as State)
}

function reopen(state: State | undefined): void {
  if (state && state.state !== 'locked')
    Object.assign(state, { state: 'open', actor: '', at: '', why: '', values: {} })
}

function lacking(step: Step, now: Map<string, State>): string[] {
  return step.needs.filter((n) => now.get(n)?.state !== 'done')
}

function relock(plan: Pick<Plan, 'steps'>, now: Map<string, State>): void {
  for (const step of plan.steps) {
    const state = now.get(step.id)
    if (!state || state.state === 'done') continue
    const by = lacking(step, now)
    if (by.length) Object.assign(state, { state: 'locked', locked_by: by })
    else if (state.state === 'locked') Object.assign(state, { state: 'open', locked_by: [] })
  }
}

/** What is to be done first before a locked step: the open one that it waits for, over others or not. */
export function firstBefore(states: State[], id: string): string | undefined {
  const waits = new Map(states.map((s) => [s.id, s.locked_by[0]]))
  let first = waits.get(id)
  for (let next = first; next !== undefined; next = waits.get(next)) first = next
  return first
}

/** Every step that needs `id`, directly or not. */
export function dependents(plan: Pick<Plan, 'steps'>, id: string): string[] {
  const found = new Set<string>()
  let frontier = new Set([id])
  while (frontier.size) {
    const next = new Set<string>()
    for (const s of plan.steps) if (!found.has(s.id) && s.needs.some((n) => frontier.has(n))) next.add(s.id)
    for (const n of next) found.add(n)
    frontier = next
  }
  return [...found]
}

/** The steps to show now: the first open one with those of its batch that can be done in one go with it, one after the
 *  other; `stations` limits to some. */
export function current(plan: Pick<Plan, 'steps'>, states: State[], stations?: string[]): Step[] {
  const stateOf = new Map(states.map((s) => [s.id, s.state]))
  const open = (s: Step) => ['open', 'again'].includes(stateOf.get(s.id) ?? '')
  const first = plan.steps.find((s) => open(s) && (!stations || stations.includes(s.station)))
  if (!first) return []
  if (!first.batch) return [first]
  return inOneGo(
    plan.steps.filter((s) => s.batch === first.batch),
    states,
  )
}

/** Of steps that are confirmed one after the other, in their order, those that can be: what each needs is done, or is
 *  among those before it. */
export function inOneGo(steps: Step[], states: State[]): Step[] {
  const stateOf = new Map(states.map((s) => [s.id, s.state]))
  const found = new Set<string>()
  for (const s of steps)
    if (stateOf.get(s.id) !== 'done' && s.needs.every((n) => found.has(n) || stateOf.get(n) === 'done'))
      found.add(s.id)
  return steps.filter((s) => found.has(s.id))
}
