import { Gauge } from 'lucide-react'
import { useState } from 'react'
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

/** Every reading of one instrument by one touch; what somebody typed stays. */
export function ReadAll({ joint, step, instruments, read, set }: Props) {
  const ask = useInstrument(joint)
  const [words, setWords] = useState('')
  const groups = new Map<string, Step['gates']>()
  for (const gate of step.gates) {
    const instrument = instrumentOf(instruments, gate)
    const typed = read(gate.id) && !read(gate.id)?.by
    if (instrument && limited(gate) && !typed)
      groups.set(instrument.name, [...(groups.get(instrument.name) ?? []), gate])
  }
  const many = [...groups].filter(([, gates]) => gates.length > 1)
  const all = async (gates: Step['gates']) => {
    setWords('')
    try {
      for (const gate of gates) set(gate.id)(await ask(step.id, gate))
    } catch (fault) {
      setWords(silence(fault))
    }
  }
  return (
    <>
      {many.map(([name, gates]) => (
        <button
          key={name}
          type="button"
          className="btn btn-tall h-auto py-2 leading-tight"
          onClick={() => void all(gates)}
        >
          <Gauge aria-hidden /> Read all {gates.length} from the {name}
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
