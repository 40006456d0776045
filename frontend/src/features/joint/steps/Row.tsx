import { length } from '../../../model/units'
import { useSettings } from '../../../settings'
import type { Step } from '../useWork'
import { LotPick } from './LotPick'
import { type Instrument, Reading } from './Reading'
import type { Taken } from './readings'

interface Props {
  joint: string
  step: Step
  /** Its own words, beside those of its batch. */
  words: string
  picked: boolean
  toggle: () => void
  read: (gate: string) => Taken | null
  set: (gate: string) => (taken: Taken | null) => void
  instruments: Instrument[]
  lot: string
  takeLot: (lot: string) => void
}

/** A step of a batch: ticked, its figures, and what was read of them. */
export function Row({ joint, step, words, picked, toggle, read, set, instruments, lot, takeLot }: Props) {
  const { unit } = useSettings()
  const figures = step.gates.filter((g) => g.target !== null)
  const [first] = figures
  return (
    <li className="flex flex-wrap items-center gap-2 py-1">
      <label className="flex min-h-14 min-w-0 grow cursor-pointer items-center gap-3 text-xl">
        <input
          type="checkbox"
          className="checkbox checkbox-primary checkbox-lg"
          checked={picked}
          onChange={toggle}
        />
        <span className="min-w-0 grow">
          {step.title}
          {words && <span className="block text-lg">{words}</span>}
        </span>
        {figures.length === 1 && first?.unit === 'mm' && (
          <b className="text-2xl whitespace-nowrap">
            {length(first.target ?? 0, unit)}{' '}
            <span className="quiet text-base font-normal">±{length(first.tolerance ?? 0, unit)}</span>
          </b>
        )}
      </label>
      {step.kind === 'park' && lot && <LotPick part={step.part_id} lot={lot} take={takeLot} />}
      {step.gates.map((gate) => (
        <Reading
          key={gate.id}
          joint={joint}
          step={step.id}
          gate={
            gate.target !== null
              ? {
                  ...gate,
                  label:
                    figures.length === 1
                      ? `${step.title}, as measured`
                      : `${step.title}, ${gate.label} as measured`,
                }
              : gate
          }
          taken={read(gate.id)}
          set={set(gate.id)}
          instruments={instruments}
          compact={step.gates.length === 1 && gate.target !== null}
        />
      ))}
    </li>
  )
}
