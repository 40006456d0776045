import { AlarmClock, Hourglass } from 'lucide-react'
import { useEffect, useRef } from 'react'
import { asOne, countdown, type Running, running } from '../../../model/clock'
import type { WorkProps } from '../useWork'
import { useTick } from './useTick'

/** All times that run at this joint, worked out from stored times: an overrun shows on return. */
export function Timers({ work, states }: Pick<WorkProps, 'work' | 'states'>) {
  const all = asOne(running(work.plan.steps, states))
  const at = useTick(all.length > 0)
  useSignal(all, at)
  if (!all.length) return null
  return (
    <ul className="grid grid-cols-1 gap-2 sm:grid-cols-2" aria-label="Times that run">
      {all.map((r) => (
        <li key={`${r.step}:${r.timer.id}`}>
          <Face running={r} at={at} />
        </li>
      ))}
    </ul>
  )
}

function Face({ running: { timer, since, readyAt, lateAt }, at }: { running: Running; at: number }) {
  const edge = readyAt ?? lateAt ?? since
  const left = edge - at
  const waits = readyAt !== null
  const over = left <= 0
  const share = edge > since ? Math.min(1, (at - since) / (edge - since)) : 1
  const tone = waits
    ? over
      ? 'border-success'
      : 'border-warning'
    : over
      ? 'border-error'
      : 'border-base-300'
  const words = waits
    ? over
      ? 'over, go on'
      : 'to wait'
    : over
      ? `too late by ${countdown(-left)}`
      : 'left to use it'
  const Icon = waits ? Hourglass : AlarmClock
  return (
    <div className={`border-l-6 bg-base-100 px-3 py-2 ${tone}`}>
      <p className="flex items-baseline gap-2">
        <Icon size={18} className="self-center" aria-hidden />
        <span className="text-lg">{timer.label}</span>
        <span className="ml-auto text-2xl font-bold" role="timer">
          {over ? (waits ? '0:00' : '!') : countdown(left)}
        </span>
        <span className={over && !waits ? 'font-semibold text-error' : 'quiet'}>{words}</span>
      </p>
      <div className="mt-1 h-1.5 bg-base-300" aria-hidden>
        <div
          className={`h-full ${over ? (waits ? 'bg-success' : 'bg-error') : 'bg-warning'}`}
          style={{ width: `${share * 100}%` }}
        />
      </div>
    </div>
  )
}

/** A buzz and a tone when a wait ends or a time runs out, where the device allows it. */
function useSignal(all: Running[], at: number) {
  const told = useRef<Set<string> | null>(null)
  useEffect(() => {
    const ended = all
      .filter((r) => (r.readyAt ?? r.lateAt ?? Number.POSITIVE_INFINITY) <= at)
      .map((r) => `${r.step}:${r.timer.id}:${r.since}`)
    const fresh = told.current ? ended.filter((id) => !told.current?.has(id)) : []
    told.current = new Set([...(told.current ?? []), ...ended])
    if (fresh.length) signal()
  }, [all, at])
}

function signal() {
  try {
    navigator.vibrate?.([200, 100, 200])
  } catch {
    // a device that must not buzz still shows it
  }
  try {
    const audio = new AudioContext()
    const tone = audio.createOscillator()
    tone.frequency.value = 880
    tone.connect(audio.destination)
    tone.start()
    tone.stop(audio.currentTime + 0.4)
    tone.onended = () => void audio.close()
  } catch {
    // sound is refused until the page was touched
  }
}
