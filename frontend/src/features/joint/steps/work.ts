/** What of the work is built, and who worked: read off plan and progress for the drawings and holds. */
import type { WorkProps } from '../useWork'

type Work = WorkProps['work']

/** People who did part of the work since the last hold, or of the whole joint for the release. */
export function workers(work: Work, hold: string | null): Set<string> {
  const kinds = new Map(work.plan.steps.map((s) => [s.id, s]))
  let found = new Set<string>()
  for (const e of work.events) {
    const step = kinds.get(e.step)
    if (e.kind !== 'done' || !step || ['gate', 'sign'].includes(step.kind)) continue
    if (step.hold && hold !== 'released') found = new Set()
    else found.add(e.actor)
  }
  return found
}

export function builtOf(work: Work, states: WorkProps['states']): Set<string> {
  const done = new Set(states.filter((s) => s.state === 'done').map((s) => s.id))
  const layers = new Map<string, boolean>()
  for (const s of work.plan.steps)
    if (s.layer && ['join', 'seal'].includes(s.kind))
      layers.set(s.layer, (layers.get(s.layer) ?? true) && done.has(s.id))
  return new Set([...layers].filter(([, whole]) => whole).map(([layer]) => layer))
}
