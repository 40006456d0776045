import { useState } from 'react'
import type { Gate } from '../../../model/gates'
import { Because } from './Because'

const REASONS = [
  'it cannot be taken off its earth here',
  'its far end cannot be reached',
  'there is nothing to measure it against',
]

interface Props {
  gates: Gate[]
  reason: string
  keep: (reason: string) => void
}

/** A figure that is asked for and cannot be read everywhere: read it, or sign why not. */
export function Excuse({ gates, reason, keep }: Props) {
  const [why, setWhy] = useState(false)
  const names = gates.map((g) => g.label).join(', ')
  if (reason)
    return (
      <p className="note text-lg">
        {names}: not read, because {reason}. It stands so in the record, with your name.{' '}
        <button type="button" className="link min-h-12" onClick={() => keep('')}>
          Change that
        </button>
      </p>
    )
  return (
    <section aria-label="If it cannot be read">
      <button type="button" className="btn min-h-12" onClick={() => setWhy(!why)} aria-expanded={why}>
        {names}: cannot be read, because …
      </button>
      {why && <Because reasons={REASONS} keep={keep} />}
    </section>
  )
}
