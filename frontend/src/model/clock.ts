/** The server's clock on a device whose own may be wrong, and times that run. */
import type { components } from '../api/schema'
import { keep, recallWord } from './device'

type Step = components['schemas']['StepOut']
type State = components['schemas']['StepState']
type Timer = components['schemas']['TimerOut']

const KEPT = 'clock-offset'
/** Less is the way of the message, not a wrong clock. */
const NOISE_MS = 2_000

/** Learns from an answer how far this device's clock is off. */
export function learnClock(serverNow: string): void {
  const off = Date.parse(serverNow) - Date.now()
  keep(KEPT, Math.abs(off) < NOISE_MS ? 0 : off)
}

function offset(): number {
  return Number(recallWord(KEPT) ?? 0)
}

/** Now by the server's clock, ms. */
export function now(): number {
  return Date.now() + offset()
}

/** A moment of this device's clock as the server would write it. */
export function corrected(deviceTime: string): string {
  return new Date(Date.parse(deviceTime) + offset()).toISOString()
}

export interface Running {
  step: string
  timer: Timer
  since: number
  readyAt: number | null
  lateAt: number | null
}

const MINUTE = 60_000

/** The timers that run: of steps not done, whose start is done. The same rule as the core's fold. */
export function running(steps: readonly Step[], states: readonly State[]): Running[] {
  const at = new Map(states.filter((s) => s.state === 'done' && s.at).map((s) => [s.id, Date.parse(s.at)]))
  return steps
    .filter((s) => states.find((x) => x.id === s.id)?.state !== 'done')
    .flatMap((s) =>
      (s.timers ?? []).flatMap((timer) => {
        const since = at.get(timer.after)
        if (since === undefined) return []
        const edge = (minutes: number | null) => (minutes === null ? null : since + minutes * MINUTE)
        return [{ step: s.id, timer, since, readyAt: edge(timer.least_min), lateAt: edge(timer.most_min) }]
      }),
    )
}

/** Clocks of one name are one clock: of waits the last to end, of what must not be too late the first. */
export function asOne(all: readonly Running[]): Running[] {
  const found = new Map<string, Running>()
  for (const r of all) {
    const waits = r.readyAt !== null
    const key = `${waits} ${r.timer.label}`
    const other = found.get(key)
    const edge = (x: Running) => (waits ? -(x.readyAt ?? 0) : (x.lateAt ?? x.since))
    if (!other || edge(r) < edge(other)) found.set(key, r)
  }
  return [...found.values()]
}

/** 0:43, 12:05, 1 h 20. */
export function countdown(ms: number): string {
  const s = Math.max(0, Math.ceil(ms / 1000))
  if (s >= 3600) return `${Math.floor(s / 3600)} h ${String(Math.floor((s % 3600) / 60)).padStart(2, '0')}`
  return `${Math.floor(s / 60)}:${String(s % 60).padStart(2, '0')}`
}
