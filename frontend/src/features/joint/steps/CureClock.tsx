import { Thermometer } from 'lucide-react'
import { useState } from 'react'
import { now } from '../../../model/clock'
import { cureAt } from '../../../model/cure'
import { soon, time } from '../../../model/when'
import type { Step, useEvents, WorkProps } from '../useWork'
import { Reading } from './Reading'
import { eventOf, type Taken } from './readings'
import { useTick } from './useTick'

interface Props extends Pick<WorkProps, 'work' | 'outbox'> {
  step: Step
  send: ReturnType<typeof useEvents>
  works: boolean
}

/** How far it has hardened, when it may be handled and energised, and the temperatures noted. */
export function CureClock({ work, outbox, step, send, works }: Props) {
  const [typed, setTyped] = useState<Taken | null>(null)
  const cure = work.progress.cures.find((c) => c.step === step.id)
  const at = useTick(true)
  const gate = step.gates.find((g) => g.id === 'temperature')
  const waiting = outbox.items.filter((i) => i.event.step === step.id && i.event.kind === 'reading').length
  if (!cure) return <p className="text-lg">The clock begins with the pour, once the server has it.</p>
  const share = cureAt(cure, at)
  const note = async () => {
    if (typed === null) return
    await send('reading', { step: step.id, ...eventOf({ temperature: typed }) })
    setTyped(null)
  }
  return (
    <section className="flex flex-col gap-3 bg-base-100 p-4" aria-label="Cure">
      <div className="flex items-center gap-5">
        <Ring share={share} handle={cure.handle} />
        <div className="text-lg">
          <p>{share >= cure.handle ? 'It may be handled.' : `To handle ${from(cure.handle_at)}.`}</p>
          <p className="text-2xl font-bold">
            {cure.full_at
              ? `Test and energise ${from(cure.full_at)}`
              : 'It does not cure at this temperature'}
          </p>
          <p className="quiet">
            {cure.full_at
              ? `if it stays at ${cure.temperature_c} °C. Locked until then.`
              : `${cure.temperature_c} °C is too cold: warm and shelter it, then note its temperature.`}
          </p>
        </div>
      </div>
      {gate && works && (
        <div className="flex flex-wrap items-end gap-3">
          <div className="grow">
            <Reading
              joint={work.ref}
              step={step.id}
              gate={gate}
              taken={typed}
              set={setTyped}
              instruments={work.instruments}
            />
          </div>
          <button
            type="button"
            className="btn btn-tall"
            disabled={typed === null}
            onClick={() => void note()}
          >
            <Thermometer size={20} aria-hidden /> Note this temperature
          </button>
        </div>
      )}
      {waiting > 0 && (
        <p className="quiet">{waiting} noted here, not sent yet: the clock follows when it is.</p>
      )}
      {cure.readings.length > 0 && (
        <ul className="flex flex-wrap gap-x-5" aria-label="Temperatures noted">
          {cure.readings.slice(-6).map((r) => (
            <li key={r.at}>
              <b>{r.temperature_c} °C</b> <span className="quiet">{time(r.at)}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

function Ring({ share, handle }: { share: number; handle: number }) {
  const around = 2 * Math.PI * 42
  const mark = handle * 2 * Math.PI - Math.PI / 2
  return (
    <svg
      width="112"
      height="112"
      viewBox="-56 -56 112 112"
      role="img"
      aria-label={`Cured to ${Math.floor(share * 100)} %`}
    >
      <circle r={42} fill="none" stroke="var(--color-base-300)" strokeWidth={11} />
      <circle
        r={42}
        fill="none"
        stroke={share >= 1 ? 'var(--color-success)' : 'var(--resin)'}
        strokeWidth={11}
        strokeDasharray={`${share * around} ${around}`}
        transform="rotate(-90)"
      />
      <path
        d={`M${34 * Math.cos(mark)} ${34 * Math.sin(mark)}L${50 * Math.cos(mark)} ${50 * Math.sin(mark)}`}
        stroke="var(--color-base-content)"
        strokeWidth={2.5}
      />
      <text textAnchor="middle" y={8} fontSize={24} fontWeight={700} fill="var(--color-base-content)">
        {Math.floor(share * 100)} %
      </text>
    </svg>
  )
}

/** A time to come, with its day when that is not today. */
function from(at: string | null): string {
  return at ? `from ${soon(at, new Date(now()))}` : 'never at this temperature'
}
