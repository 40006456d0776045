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

const SAID = ['gate', 'measure', 'sign'] // kinds of steps in which the hand does nothing

/** The steps that doing some again asks for, as the server works it out: all that was built on them, but for what lasts
 *  and what lies under it; of what was only said, itself and the release. */
function reopened(plan: Pick<Plan, 'steps'>, now: Map<string, State>, roots: string[]): string[] {
  const on = new Set(roots.flatMap((s) => dependents(plan, s)))
  const mine = plan.steps.filter((s) => roots.includes(s.id))
  if (mine.length && mine.every((s) => SAID.includes(s.kind)) && plan.steps.some((s) => s.once))
    return [...roots, ...plan.steps.filter((s) => s.kind === 'sign' && on.has(s.id)).map((s) => s.id)]
  const stays = new Set(
    plan.steps
      .filter((s) => s.once && now.get(s.id)?.state === 'done' && !roots.includes(s.id))
      .map((s) => s.id),
  )
  const under = (s: Step) =>
    !['inspect', 'test'].includes(s.kind) && s.shut_by?.some((over) => stays.has(over))
  return [
    ...roots,
    ...plan.steps.filter((s) => on.has(s.id) && !stays.has(s.id) && !under(s)).map((s) => s.id),
  ]
}

/** What was done since a step and keeps the hand from it, with what `roots` do themselves left out; undefined where the
 *  hand still gets there. */
export function shutOff(plan: Pick<Plan, 'steps'>, done: Set<string>, roots: string[]): Step | undefined {
  const over = plan.steps
    .filter((s) => roots.includes(s.id) && done.has(s.id))
    .flatMap((s) => s.shut_by ?? [])
  return plan.steps.find((s) => over.includes(s.id) && done.has(s.id) && !roots.includes(s.id))
}

/** Step states after pending events. Lenient on readings: the server's fold decides. */
export function overlay(plan: Pick<Plan, 'steps'>, states: State[], pending: Pending[]): State[] {
  const now = new Map(states.map((s) => [s.id, { ...s }]))
  for (const event of pending) {
    if (event.kind === 'remedy') {
      for (const id of reopened(plan, now, event.again ?? [])) reopen(now.get(id))
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
