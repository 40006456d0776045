/** What of the work is built, and who worked: read off plan, progress and what waits here, for drawings and holds. */
import type { Outgoing } from '../../../model/device'
import type { Step, WorkProps } from '../useWork'

type Work = WorkProps['work']
const WORK = ['done', 'undone', 'reading', 'photo', 'remedy']

/** Whether whoever makes an event did part of the work by it: the same as the core says (tests/vectors). To sign a hold,
 *  to take a fault back, to look is none. */
export function isWork(kind: string, about: string, hold: string | null | undefined): boolean {
  const signs = ['done', 'undone'].includes(kind) && hold != null
  const withdraws = kind === 'undone' && about !== ''
  return WORK.includes(kind) && !signs && !withdraws
}

/** Layers that are built: every step that the core names for one is done. */
export function builtOf(work: Work, states: WorkProps['states']): Set<string> {
  const done = new Set(states.filter((s) => s.state === 'done').map((s) => s.id))
  const whole = Object.entries(work.builds ?? {}).filter(([, steps]) => steps.every((id) => done.has(id)))
  return new Set(whole.map(([layer]) => layer))
}

/** Sign-in names of those whose work waits on this device, since the last hold that waits with it. */
export function pendingWorkers(work: Work, waiting: Outgoing[], whole = false): Set<string> {
  const steps = new Map(work.plan.steps.map((s) => [s.id, s]))
  let found = new Set<string>()
  for (const { event, owner } of waiting) {
    const hold = steps.get(event.step ?? '')?.hold
    if (hold && event.kind === 'done' && !whole) found = new Set()
    if (isWork(event.kind, event.about ?? '', hold)) found.add(owner)
  }
  return found
}

interface Person {
  username: string
  name: string
  mark: string
}

/** Whether this person did part of the work that a hold looks at: of all of it for the release, else since the last
 *  hold; sent, or still waiting on this device. Names count in records of before people had numbers. */
export function didWork(work: Work, step: Step, person: Person, waiting: Outgoing[]): boolean {
  const release = step.hold === 'released'
  const sent = new Set(release ? work.workers : work.progress.since_hold)
  return (
    sent.has(person.mark) ||
    sent.has(person.name) ||
    pendingWorkers(work, waiting, release).has(person.username)
  )
}
