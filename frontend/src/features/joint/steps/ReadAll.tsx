import { Gauge } from 'lucide-react'
import { useRef, useState } from 'react'
import { limited } from '../../../model/gates'
import type { Step } from '../useWork'
import { type Instrument, instrumentOf, silence, useInstrument } from './Reading'
import type { Taken } from './readings'

interface Props {
  joint: string
  step: Step
  instruments: Instrument[]
  read: (gate: string) => Taken | null
  set: (gate: string) => (taken: Taken | null) => void
}

/** Every reading of one instrument by one touch; what somebody typed stays, meanwhile too. */
export function ReadAll({ joint, step, instruments, read, set }: Props) {
  const ask = useInstrument(joint)
  const [words, setWords] = useState('')
  const [busy, setBusy] = useState('')
  const latest = useRef(read)
  latest.current = read
  const typed = (gate: string) => {
    const now = latest.current(gate)
    return now !== null && !now.by
  }
  const groups = new Map<string, Step['gates']>()
  for (const gate of step.gates) {
    const instrument = instrumentOf(instruments, gate)
    if (instrument && limited(gate) && !typed(gate.id))
      groups.set(instrument.name, [...(groups.get(instrument.name) ?? []), gate])
  }
  const many = [...groups].filter(([, gates]) => gates.length > 1)
  const all = async (name: string, gates: Step['gates']) => {
    setWords('')
    setBusy(name)
    try {
      for (const gate of gates) {
        const taken = typed(gate.id) ? null : await ask(step.id, gate)
        if (taken && !typed(gate.id)) set(gate.id)(taken)
      }
    } catch (fault) {
      setWords(silence(fault))
    }
    setBusy('')
  }
  return (
    <>
      {many.map(([name, gates]) => (
        <button
          key={name}
          type="button"
          className="btn btn-tall h-auto py-2 leading-tight"
          disabled={busy !== ''}
          aria-busy={busy === name}
          onClick={() => void all(name, gates)}
        >
          <Gauge aria-hidden />{' '}
          {busy === name ? `Reading from the ${name} …` : `Read all ${gates.length} from the ${name}`}
        </button>
      ))}
      {words && (
        <p className="font-medium text-error" role="alert">
          {words}
        </p>
      )}
    </>
  )
}
