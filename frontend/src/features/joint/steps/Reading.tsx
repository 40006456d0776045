import { Gauge } from 'lucide-react'
import { useRef, useState } from 'react'
import { ApiError, api, take } from '../../../api/client'
import { fails, type Gate, limitWords, outside } from '../../../model/gates'
import { length, sign, type Unit } from '../../../model/units'
import { useSettings } from '../../../settings'
import { NumberPad } from './NumberPad'

const INSTRUMENTS: Record<string, string> = {
  tape: 'the tape',
  calliper: 'the calliper',
  'insulation-tester': 'the tester',
  'low-ohm-meter': 'the meter',
  thermometer: 'the thermometer',
  'torque-driver': 'the driver',
}

export function instrumentName(kind: string): string {
  return INSTRUMENTS[kind] ?? 'the instrument'
}

/** Reads the instrument of a gate; each touch is a new turn. Throws what it has to say. */
export function useInstrument(ref: string) {
  const turn = useRef(0)
  return async (step: string, gate: Gate): Promise<number> => {
    turn.current += 1
    const found = await take(
      api.POST('/api/v1/joints/{ref}/reading', {
        params: { path: { ref } },
        body: { step, gate: gate.id, turn: turn.current },
      }),
    )
    return found.value
  }
}

export function shown(gate: Gate, value: number, unit: Unit): string {
  return gate.unit === 'mm' ? `${length(value, unit)} ${sign(unit)}` : `${value} ${gate.unit}`
}

interface Props {
  joint: string
  step: string
  gate: Gate
  value: number | null
  set: (value: number | null) => void
  compact?: boolean
}

/** A figure: its limit, the reading, one touch for the instrument, one for the pad. */
export function Reading({ joint, step, gate, value, set, compact }: Props) {
  const { unit } = useSettings()
  const [pad, setPad] = useState(false)
  const [words, setWords] = useState('')
  const read = useInstrument(joint)
  const bad = fails(gate, value) || outside(gate, value)
  const hint =
    gate.target !== null
      ? `${shown(gate, gate.target, unit)} ± ${length(gate.tolerance ?? 0, unit)}`
      : limitWords(gate)
  /** The instrument's figure, or NaN with words. */
  const ask = async (): Promise<number> => {
    setWords('')
    try {
      return await read(step, gate)
    } catch (fault) {
      setWords(
        fault instanceof ApiError && !fault.offline
          ? fault.problem.detail
          : 'No connection to the instrument now: type the reading.',
      )
      return Number.NaN
    }
  }
  const touch = async () => {
    const got = await ask()
    if (!Number.isNaN(got)) set(got)
  }
  return (
    <div>
      <div className={`flex items-stretch gap-2 ${compact ? '' : 'border-b border-base-300 pb-2'}`}>
        {!compact && (
          <div className="flex grow flex-col justify-center">
            <span className="text-lg font-medium">{gate.label}</span>
            <span className="quiet text-sm">{hint}</span>
          </div>
        )}
        <button
          type="button"
          className={`btn min-h-14 ${compact ? 'min-w-20 px-2' : 'min-w-24 text-xl'} ${bad ? '!border-error text-error' : value === null ? 'font-normal' : ''}`}
          onClick={() => setPad(true)}
          aria-label={`${gate.label}: ${value === null ? 'type it' : shown(gate, value, unit)}`}
        >
          {value === null ? 'read it' : shown(gate, value, unit)}
        </button>
        {gate.instrument && !compact && (
          <button
            type="button"
            className="btn min-h-14 min-w-14"
            onClick={touch}
            aria-label={`${gate.label} from ${instrumentName(gate.instrument)}`}
            title={`From ${instrumentName(gate.instrument)}`}
          >
            <Gauge size={24} aria-hidden />
          </button>
        )}
      </div>
      {words && !pad && (
        <p className="font-medium text-error" role="alert">
          {words}
        </p>
      )}
      {!compact && fails(gate, value) && (
        <p className="font-medium text-error">
          {gate.label} does not pass: {limitWords(gate)}
        </p>
      )}
      {pad && (
        <NumberPad
          label={gate.label}
          hint={hint}
          unit={gate.unit}
          value={value}
          done={set}
          close={() => setPad(false)}
          instrument={
            gate.instrument ? { name: instrumentName(gate.instrument), read: ask, fault: words } : undefined
          }
        />
      )}
    </div>
  )
}
