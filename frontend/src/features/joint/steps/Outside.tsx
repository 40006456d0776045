import { useState } from 'react'
import type { Gate } from '../../../model/gates'
import { useSettings } from '../../../settings'
import { Because } from './Because'
import { shown } from './readings'

const REASONS = [
  'nothing near it depends on it',
  'within what the next layer covers',
  'the verifier has seen it',
]

interface Props {
  gate: Gate
  title: string
  value: number
  reason: string
  again: () => void
  replan?: () => void
  keep: (reason: string) => void
}

/** A reading outside its tolerance: do it again, plan again with it, or keep it with a reason. */
export function Outside({ gate, title, value, reason, again, replan, keep }: Props) {
  const { unit } = useSettings()
  const [why, setWhy] = useState(false)
  const short = gate.target !== null && value < gate.target
  return (
    <section className="note" aria-label={`${title}: outside the tolerance`}>
      <p className="text-lg font-semibold">
        {title}: {shown(gate, value, unit)} for {shown(gate, gate.target ?? 0, unit)}
      </p>
      {reason ? (
        <p className="text-lg">
          Kept because: {reason}.{' '}
          <button type="button" className="link min-h-12" onClick={() => keep('')}>
            Change that
          </button>
        </p>
      ) : (
        <div className="mt-2 grid gap-2 sm:grid-cols-3">
          <button type="button" className="btn min-h-14" onClick={again}>
            {gate.unit !== 'mm' ? 'Do it again' : short ? 'Measure again' : 'Cut it again'}
          </button>
          {replan && short && (
            <button type="button" className="btn min-h-14" onClick={replan}>
              Plan again with it
            </button>
          )}
          {gate.accept && (
            <button type="button" className="btn min-h-14" onClick={() => setWhy(!why)} aria-expanded={why}>
              It may stay, because …
            </button>
          )}
        </div>
      )}
      {why && !reason && <Because reasons={REASONS} keep={keep} />}
    </section>
  )
}
