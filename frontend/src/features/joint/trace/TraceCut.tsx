import { Link } from 'react-router'
import { Caution } from '../../../components/notes'
import { PreparedEnd } from '../../../components/PreparedEnd'
import { length, sign } from '../../../model/units'
import { useMay } from '../../../session'
import { useSettings } from '../../../settings'
import { useEvents, type WorkProps } from '../useWork'

/** Each end laid open to scale, with its cuts to confirm. */
export function TraceCut({ work, states, outbox }: WorkProps) {
  const { unit } = useSettings()
  const send = useEvents(work, outbox)
  const works = useMay('jointer')
  const stateOf = new Map(states.map((s) => [s.id, s]))
  return (
    <div>
      <div className="flex flex-wrap items-center gap-4">
        <h1>Cut</h1>
        <p className="quiet text-lg">Every figure as the leaflet has it. Measure from the square end.</p>
        <span className="ml-auto flex gap-3">
          {work.plan.trace?.prepared.map((p) => (
            <a key={p.end} className="btn" href={`/api/v1/joints/${work.ref}/template/${p.end}.pdf`}>
              Template {p.end}, 1:1
            </a>
          ))}
        </span>
        <Link className="btn btn-primary" to={`/joints/${work.ref}/build`}>
          Work step by step
        </Link>
      </div>
      <div className="mt-4 grid gap-8 xl:grid-cols-2">
        {work.plan.trace?.prepared.map((p) => (
          <section key={p.end} aria-label={`Cuts on ${p.end}`}>
            <PreparedEnd end={p} />
            <ol className="rows mt-2">
              {work.plan.steps
                .filter((s) => s.station === 'cut' && s.end === p.end)
                .map((s) => {
                  const state = stateOf.get(s.id)
                  const done = state?.state === 'done'
                  const can =
                    works && !s.photo && (done || state?.state === 'open' || state?.state === 'again')
                  const gate = s.gates[0]
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
                          onChange={() => send(done ? 'undone' : 'done', s.id)}
                        />
                        <span className="grow">
                          {s.title}
                          {s.photo && !done && <span> · with a picture, under Build</span>}
                          {state?.state === 'locked' && (
                            <span>
                              {' '}
                              · first: {work.plan.steps.find((x) => x.id === state.locked_by[0])?.title}
                            </span>
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
          </section>
        ))}
      </div>
      <div className="mt-6 grid gap-3 lg:grid-cols-2">
        <Caution>
          Score, do not cut through. Under the jacket lies the braid, under the matrix a bus wire.
        </Caution>
        <Caution>Braid on a bus wire is an earth fault; bus wire on bus wire is a short.</Caution>
      </div>
    </div>
  )
}
