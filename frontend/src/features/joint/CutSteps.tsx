import { firstBefore } from '../../model/progress'
import { length, sign } from '../../model/units'
import { useSettings } from '../../settings'
import type { WorkProps } from './useWork'

interface Props {
  plan: WorkProps['work']['plan']
  steps: WorkProps['work']['plan']['steps']
  states: WorkProps['states']
  confirm?: (step: string) => void
}

/** Cuts to confirm one by one, each with its figure; what waits says for what. */
export function CutSteps({ plan, steps, states, confirm }: Props) {
  const { unit } = useSettings()
  const stateOf = new Map(states.map((s) => [s.id, s]))
  return (
    <ol className="rows mt-2">
      {steps.map((s) => {
        const state = stateOf.get(s.id)
        const gate = s.gates[0]
        const done = state?.state === 'done'
        const can = confirm && !s.photo && (done || state?.state === 'open' || state?.state === 'again')
        return (
          <li key={s.id}>
            <label
              className={`flex min-h-12 items-center gap-3 ${can ? 'cursor-pointer' : 'text-[var(--quiet)]'}`}
            >
              <input
                type="checkbox"
                className="checkbox checkbox-primary checkbox-lg"
                checked={done}
                disabled={!can}
                onChange={() => confirm?.(s.id)}
              />
              <span className="grow">
                {s.title}
                {state?.state === 'again' && <b className="text-warning"> asked again: {state.why}</b>}
                {s.photo && !done && <span> · with a picture, under Build</span>}
                {state?.state === 'locked' && (
                  <span> · first: {plan.steps.find((x) => x.id === firstBefore(states, s.id))?.title}</span>
                )}
              </span>
              {gate && (
                <span className="text-right whitespace-nowrap">
                  <b className="text-lg">{length(gate.target ?? 0, unit)}</b> {sign(unit)}{' '}
                  <span className="quiet">±{length(gate.tolerance ?? 0, unit)}</span>
                </span>
              )}
            </label>
          </li>
        )
      })}
    </ol>
  )
}
