import { Link } from 'react-router'
import { current } from '../../model/progress'
import { useMay } from '../../session'
import { StepView } from './StepView'
import { useEvents, type WorkProps } from './useWork'

/** Readings with their limits: what was taken before closing, and what is taken now. */
export function Prove({ work, states, outbox, labels }: WorkProps) {
  const send = useEvents(work, outbox)
  const works = useMay('jointer')
  const tests = work.plan.steps.filter((s) => s.kind === 'test')
  const now = current(work.plan, states, ['prove'])
  return (
    <div className="grid gap-8 lg:grid-cols-[1fr_1fr]">
      <section>
        <h1>Readings</h1>
        {tests.map((t) => {
          const state = states.find((s) => s.id === t.id)
          return (
            <div key={t.id} className="rule-top mt-4 pt-2">
              <h2 className="flex justify-between">
                <span>{t.title}</span>
                <span className={`text-base ${state?.state === 'done' ? 'text-success' : 'quiet'}`}>
                  {t.id.includes('before') ? 'before closing' : 'after sealing'} ·{' '}
                  {state?.state === 'done' ? `✓ ${state.actor}` : 'open'}
                </span>
              </h2>
              <dl className="grid grid-cols-2 gap-x-6 sm:grid-cols-3">
                {t.gates.map((g) => {
                  const value = state?.values[g.id]
                  return (
                    <div key={g.id} className="flex justify-between gap-2">
                      <dt className="quiet">{g.label}</dt>
                      <dd className="font-semibold">{value === undefined ? '–' : `${value} ${g.unit}`}</dd>
                    </div>
                  )
                })}
              </dl>
              <p className="quiet text-sm">
                {t.gates[0]?.least
                  ? `at least ${t.gates[0].least} ${t.gates[0].unit}`
                  : `at most ${t.gates[0]?.most} ${t.gates[0]?.unit}`}
              </p>
            </div>
          )
        })}
      </section>
      <section>
        {now.length ? (
          <StepView
            key={now[0]?.id}
            steps={now}
            work={work}
            states={states}
            labels={labels}
            send={send}
            works={works}
          />
        ) : (
          <p className="text-lg">
            {tests.every((t) => states.find((s) => s.id === t.id)?.state === 'done') ? (
              <>
                All readings stand.{' '}
                <Link className="link" to={`/joints/${work.ref}/sign`}>
                  On to Sign
                </Link>
              </>
            ) : (
              'The last readings are taken when the joint is sealed and cold.'
            )}
          </p>
        )}
        {outbox.words && <p className="fault mt-3">It is noted, but does not count: {outbox.words}</p>}
      </section>
    </div>
  )
}
