import { Ribbon } from '../../../components/Ribbon'
import type { Step, WorkProps } from '../useWork'
import { pictured } from './spoiled'
import { together } from './words'

/** What is looked for and what is not accepted: words, and where it can be drawn, this joint's own section. */
export function PassFail({ steps, work, labels }: { steps: Step[] } & Pick<WorkProps, 'work' | 'labels'>) {
  const step = steps[0]
  const told = steps.length > 1 ? steps.filter((s) => s.kind !== 'park') : steps // a row tells where it waits
  const [look, fails] = [together(told, 'look'), together(told, 'fails')]
  if (!step || (!look && !fails)) return null
  const layers = new Set(step.hold ? [] : steps.map((s) => s.layer))
  const found = step.pictured && work.plan.section ? pictured(work.plan.section, step.pictured, layers) : null
  const sides = [
    ['Good:', look, found?.good, 'border-success'],
    ['Not good:', fails, found?.bad, 'border-error'],
  ] as const
  return (
    <div className="grid grid-cols-1 gap-3 2xl:grid-cols-2">
      {sides.map(([name, words, section, tone]) => {
        if (!words && !section) return null
        return (
          <div key={name} className={`min-w-0 overflow-hidden border-l-6 bg-base-100 px-4 py-2 ${tone}`}>
            {section && found && (
              <div className="mb-1">
                <Ribbon section={section} labels={labels} height={96} range={found.range} bare />
              </div>
            )}
            <p className="text-lg">
              <b>{name}</b> {words || 'anything else than this'}
            </p>
          </div>
        )
      })}
    </div>
  )
}
