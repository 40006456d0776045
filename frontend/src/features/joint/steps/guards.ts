/** What keeps a step from being confirmed for now: a wait, a second tap, and what did not count and would not again. */
import { useEffect, useState } from 'react'
import { running } from '../../../model/clock'
import { fails } from '../../../model/gates'
import type { About, Step, WorkProps } from '../useWork'
import type { Readings } from './readings'
import { useTick } from './useTick'

const TAP_GUARD_MS = 350

/** How long the steps still have to wait, ms; a reading that passes its gate ends the wait that names it. */
export function useWait(
  work: WorkProps['work'],
  states: WorkProps['states'],
  steps: Step[],
  readings: Readings,
): number {
  const ids = new Set(steps.map((s) => s.id))
  const mine = running(work.plan.steps, states).filter((r) => ids.has(r.step) && (r.readyAt ?? 0) > r.since)
  const open = mine.filter((r) => {
    const step = steps.find((s) => s.id === r.step)
    const gate = step?.gates.find((g) => g.id === r.timer.unless_gate)
    const taken = gate ? readings[r.step]?.[gate.id] : null
    return !(gate && taken && !fails(gate, taken.value))
  })
  const cures = work.progress.cures.filter((c) => ids.has(c.step))
  const cured = cures.map((c) => (c.full_at ? Date.parse(c.full_at) : Number.POSITIVE_INFINITY))
  const latest = Math.max(0, ...open.map((r) => r.readyAt ?? 0), ...cured)
  const at = useTick(latest > 0, latest)
  return Math.max(0, latest - at)
}

/** True for a moment after a step appears, so that a second tap on the last one does not confirm it. */
export function useFresh(): boolean {
  const [fresh, setFresh] = useState(true)
  useEffect(() => {
    const timer = setTimeout(() => setFresh(false), TAP_GUARD_MS)
    return () => clearTimeout(timer)
  }, [])
  return fresh
}

type Some = Record<string, unknown> | null | undefined

const alike = (a: Some, b: Some) =>
  JSON.stringify(Object.entries(a ?? {}).sort()) === JSON.stringify(Object.entries(b ?? {}).sort())

/** Why what is about to be confirmed did not count when it was confirmed before, exactly like this; empty when it is
 *  new, or when only time stood against it. */
export function inVain(work: WorkProps['work'], abouts: About[]): string {
  for (const about of abouts) {
    if (typeof about === 'string' || about.signature) continue
    const flag = [...work.progress.flags].reverse().find((f) => f.step === about.step && f.lasts)
    const before = flag && work.events.find((e) => e.id === flag.event)
    const same =
      before &&
      before.kind === 'done' &&
      alike(before.values, about.values) &&
      alike(before.tools, about.tools) &&
      before.text === (about.text ?? '') &&
      before.lot === (about.lot ?? '')
    if (same) return flag.why
  }
  return ''
}
