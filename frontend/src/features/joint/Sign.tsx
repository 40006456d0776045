import { useQuery } from '@tanstack/react-query'
import { api, take } from '../../api/client'
import { Caution, ErrorNote } from '../../components/notes'
import { useMay, useSession } from '../../session'
import { workers } from './StepView'
import { useEvents, type WorkProps } from './useWork'

/** The seven holds with their names, the release by a second person, and the record. */
export function Sign({ work, states, outbox }: WorkProps) {
  const send = useEvents(work, outbox)
  const session = useSession()
  const verifies = useMay('verifier')
  const verdict = useQuery({
    queryKey: ['verdict', work.ref, work.events.length],
    queryFn: () => take(api.GET('/api/v1/joints/{ref}/verdict', { params: { path: { ref: work.ref } } })),
    retry: 0,
  })
  const holds = work.plan.steps.filter((s) => s.hold)
  const release = holds.at(-1)
  const state = states.find((s) => s.id === release?.id)
  const own = workers(work).has(session.name)
  const open = state?.state === 'open' || state?.state === 'again'
  const waits = work.plan.steps.filter((s) => state?.locked_by.includes(s.id)).map((s) => s.title)
  const files: [string, string][] = [
    ['record.pdf', 'Record to print'],
    ['record.json', 'Record to verify'],
    ['label.pdf', 'Label'],
    ['file', 'Joint file'],
  ]
  return (
    <div className="grid gap-8 lg:grid-cols-[1fr_24rem]">
      <section>
        <h1>{state?.state === 'done' ? 'Released' : 'Holds and signatures'}</h1>
        <ol className="rows mt-3">
          {holds.map((h) => {
            const s = states.find((x) => x.id === h.id)
            return (
              <li key={h.id} className="grid min-h-12 grid-cols-[2rem_1fr_auto] items-center gap-3 py-1">
                <span
                  className={`text-xl font-bold ${s?.state === 'done' ? 'text-success' : 'text-[var(--quiet)]'}`}
                  aria-hidden="true"
                >
                  {s?.state === 'done' ? '✓' : '○'}
                </span>
                <span className="text-lg font-medium">{h.title}</span>
                <span className="text-right">
                  {s?.state === 'done'
                    ? `${s.actor}, ${new Date(s.at).toLocaleString()}`
                    : s?.state === 'open'
                      ? 'can be signed'
                      : 'not yet'}
                </span>
              </li>
            )
          })}
        </ol>
        {release && state?.state !== 'done' && (
          <div className="mt-6 flex max-w-2xl flex-col gap-3">
            {!open && <p className="text-lg">Before the release: {waits.join('; ')}.</p>}
            {own && (
              <Caution>
                You did part of this work, so a second person reads the record and releases the joint.
              </Caution>
            )}
            {!verifies && <Caution>Releasing needs a verifier, signed in with their own account.</Caution>}
            {verifies && (
              <button
                type="button"
                className="btn btn-warning btn-tall"
                disabled={!open || own}
                onClick={() => send('done', release.id)}
              >
                I have read the record: release {work.ref}
              </button>
            )}
            {outbox.words && <p className="fault">It is noted, but does not count: {outbox.words}</p>}
          </div>
        )}
        {work.progress.flags.length > 0 && (
          <section className="mt-6">
            <h2>Kept, but not counted</h2>
            <ul className="rows">
              {work.progress.flags.map((f) => (
                <li key={f.event} className="py-1">
                  {work.plan.steps.find((s) => s.id === f.step)?.title ?? f.step}: {f.why}
                </li>
              ))}
            </ul>
          </section>
        )}
      </section>
      <aside className="flex flex-col gap-3">
        <h2>Record</h2>
        {verdict.data && (
          <p
            className={
              verdict.data.intact ? 'border-l-6 border-success bg-base-100 px-4 py-2 text-lg' : 'fault'
            }
          >
            {verdict.data.words}
          </p>
        )}
        {verdict.error && <ErrorNote error={verdict.error} />}
        {verdict.data?.head && (
          <p className="quiet text-sm break-all">head {verdict.data.head.slice(0, 32)}</p>
        )}
        {files.map(([path, name]) => (
          <a
            key={path}
            className="btn justify-start"
            href={`/api/v1/joints/${work.ref}/${path}`}
            target="_blank"
            rel="noreferrer"
          >
            {name}
          </a>
        ))}
      </aside>
    </div>
  )
}
