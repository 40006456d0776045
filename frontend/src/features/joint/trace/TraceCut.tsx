import { Link } from 'react-router'
import { Caution } from '../../../components/notes'
import { PreparedEnd } from '../../../components/PreparedEnd'
import { useMay } from '../../../session'
import { CutSteps } from '../CutSteps'
import { useEvents, type WorkProps } from '../useWork'
import { ZoneCut, zoneCuts } from './ZoneCut'

/** Each end laid open to scale, with its cuts to confirm. */
export function TraceCut({ work, states, outbox }: WorkProps) {
  const send = useEvents(work, outbox)
  const works = useMay('jointer')
  const done = new Set(states.filter((s) => s.state === 'done').map((s) => s.id))
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
      {work.plan.trace && zoneCuts(work.plan.trace).map((z) => <ZoneCut key={z.end} zone={z} label="" />)}
      <div className="mt-4 grid gap-8 xl:grid-cols-2">
        {work.plan.trace?.prepared.map((p) => (
          <section key={p.end} aria-label={`Cuts on ${p.end}`}>
            <PreparedEnd end={p} />
            <CutSteps
              plan={work.plan}
              steps={work.plan.steps.filter((x) => x.station === 'cut' && x.end === p.end)}
              states={states}
              confirm={works ? (step) => send(done.has(step) ? 'undone' : 'done', step) : undefined}
            />
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
