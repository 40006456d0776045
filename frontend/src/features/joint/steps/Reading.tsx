import { Gauge } from 'lucide-react'
import { useRef, useState } from 'react'
import { ApiError, api, type Schemas, take } from '../../../api/client'
import { fails, type Gate, impossible, limited, limitWords, offered, outside } from '../../../model/gates'
import { figure } from '../../../model/units'
import { useSettings } from '../../../settings'
import { NumberPad } from './NumberPad'
import { shownTaken, type Taken, targetWords } from './readings'

export type Instrument = Schemas['InstrumentOut']

/** The instrument of a gate, where there is one on this site. */
export function instrumentOf(instruments: Instrument[], gate: Gate): Instrument | undefined {
  return gate.instrument ? instruments.find((i) => i.kind === gate.instrument) : undefined
}

/** Reads the instrument of a gate; each touch is a new turn. Throws what it has to say. */
export function useInstrument(ref: string) {
  const turn = useRef(0)
  return async (step: string, gate: Gate): Promise<Taken> => {
    turn.current += 1
    const found = await take(
      api.POST('/api/v1/joints/{ref}/reading', {
        params: { path: { ref } },
        body: { step, gate: gate.id, turn: turn.current },
      }),
    )
    return { value: found.value, by: found.instrument }
  }
}

/** Why an instrument gave nothing, in words. */
export function silence(fault: unknown): string {
  return fault instanceof ApiError && !fault.offline
    ? fault.problem.detail
    : 'No connection to the instrument now: type the reading.'
}

const LEFT_OUT = 'may be left out, proves nothing'
const TYPED = /^[0-9.,-]$/

/** The next reading of the page gets the focus; it waits there, nothing is confirmed. */
function next(at: HTMLElement | null) {
  const all = [...document.querySelectorAll<HTMLElement>('[data-reading]')]
  const to = at && all[all.indexOf(at) + 1]
  if (to) setTimeout(() => to.focus()) // the pad gives the focus back to where it was opened from first
}

interface Props {
  joint: string
  step: string
  gate: Gate
  taken: Taken | null
  set: (taken: Taken | null) => void
  instruments: Instrument[]
  /** What the same gate read before the joint was closed. */
  trend?: Schemas['Trend'] | undefined
  compact?: boolean
}

/** A figure: its limit, the reading, one touch for the instrument, one for the pad. */
export function Reading({ joint, step, gate, taken, set, instruments, trend, compact }: Props) {
  const { unit } = useSettings()
  const [pad, setPad] = useState<string | null>(null)
  const button = useRef<HTMLButtonElement>(null)
  const [words, setWords] = useState('')
  const read = useInstrument(joint)
  const instrument = instrumentOf(instruments, gate)
  const never = impossible(gate, taken?.value)
  const bad = never !== '' || fails(gate, taken?.value) || outside(gate, taken?.value)
  const hint = gate.target !== null ? targetWords(gate, unit) : limitWords(gate)
  /** The instrument's figure, or nothing, with words. */
  const ask = async (): Promise<Taken | null> => {
    setWords('')
    try {
      return await read(step, gate)
    } catch (fault) {
      setWords(silence(fault))
      return null
    }
  }
  const touch = async () => {
    if (taken && !taken.by) return setPad('') // what was typed is replaced only where it can be seen
    const got = await ask()
    if (got) set(got)
  }
  const fallen = trend && taken && !taken.over && taken.value < trend.warn_below_mohm
  return (
    <div>
      <div className={`flex items-stretch gap-2 ${compact ? '' : 'border-b border-base-300 pb-2'}`}>
        {!compact && (
          <div className="flex min-w-0 grow flex-col justify-center">
            <span className="text-lg font-medium">{gate.label}</span>
            <span className="quiet text-sm">
              {[
                offered(gate) && !limited(gate) && gate.target === null ? gate.unit : hint,
                offered(gate) && gate.instrument ? LEFT_OUT : '', // of many alike it is said once, above them
              ]
                .filter(Boolean)
                .join('; ')}
              {trend &&
                `; before closing ${trend.before_over ? 'over ' : ''}${figure(trend.before_mohm, 4)} MΩ at ${figure(trend.before_c, 3)} °C`}
            </span>
          </div>
        )}
        <button
          type="button"
          className={`btn min-h-14 ${compact ? 'min-w-20 px-2' : 'min-w-24 text-xl'} ${bad ? '!border-error text-error' : taken === null ? 'font-normal' : ''}`}
          ref={button}
          data-reading
          onClick={() => setPad('')}
          onKeyDown={(e) => {
            if (!TYPED.test(e.key) || e.ctrlKey || e.metaKey || e.altKey) return
            e.preventDefault() // what types does not open the pad first: its first figure goes into it
            e.stopPropagation() // and it is no shortcut to a station
            setPad(e.key)
          }}
          aria-label={`${gate.label}: ${taken === null ? 'type it' : shownTaken(gate, taken, unit)}`}
        >
          {taken === null ? 'type it' : shownTaken(gate, taken, unit)}
        </button>
        {instrument && !compact && (
          <button
            type="button"
            className="btn min-h-14 min-w-14"
            onClick={() => void touch()}
            aria-label={`${gate.label} from the ${instrument.name}`}
            title={`From the ${instrument.name}`}
          >
            <Gauge size={24} aria-hidden />
          </button>
        )}
      </div>
      {taken?.by && (
        <p className="font-medium text-warning">
          {compact ? 'simulated' : `Simulated: the ${instrument?.name ?? taken.by} made this figure up.`}
        </p>
      )}
      {words && pad === null && (
        <p className="font-medium text-error" role="alert">
          {words}
        </p>
      )}
      {never && (
        <p className="font-medium text-error" role="alert">
          {never}
        </p>
      )}
      {!compact && !never && fails(gate, taken?.value) && (
        <p className="font-medium text-error">
          {gate.label} does not pass: {limitWords(gate)}
        </p>
      )}
      {fallen && (
        <p className="font-medium text-error" role="alert">
          Far under what it was before closing ({figure(trend.before_mohm, 4)} MΩ). Look for moisture before
          you go on.
        </p>
      )}
      {pad !== null && (
        <NumberPad
          label={gate.label}
          hint={hint}
          unit={gate.unit}
          possible={gate.possible}
          taken={taken}
          first={pad}
          done={(figure) => {
            set(figure)
            if (figure) next(button.current)
          }}
          close={() => setPad(null)}
          {...(instrument ? { instrument: { name: instrument.name, read: ask, fault: words } } : {})}
        />
      )}
    </div>
  )
}
