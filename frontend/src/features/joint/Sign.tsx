import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, take } from '../../api/client'
import { Caution, ErrorNote, NotCounted } from '../../components/notes'
import { moment } from '../../model/when'
import { useMay, useSession } from '../../session'
import { useSettings } from '../../settings'
import { Flags } from './steps/Flags'
import { PrintLabel } from './steps/PrintLabel'
import { didWork } from './steps/work'
import { useEvents, type WorkProps } from './useWork'
import { Verdict } from './Verdict'

const LIMITS = ['no pull, no flex', 'inspect again within 30 days']

/** The seven holds with their names, the release by a second person, and the record. */
export function Sign({ work, states, outbox }: WorkProps) {
  const { unit } = useSettings()
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
  const own = release ? didWork(work, release, session, outbox.here) : false
  const unsent = outbox.here.length
  const signing = outbox.here.some((x) => x.event.step === release?.id)
  const open = state?.state === 'open' || state?.state === 'again'
  const waits = work.plan.steps.filter((s) => state?.locked_by.includes(s.id)).map((s) => s.title)
  const [limits, setLimits] = useState<Set<string>>(() => new Set(work.judgement.limits))
  const against = work.against ?? [] // none is known of a page that an earlier version kept; the server judges
  const files: [string, string][] = [
    [unit === 'mm' ? 'card.pdf' : 'card.pdf?unit=inch', 'A6 card of the plan'],
    ['record.pdf', 'Record to print'],
    ['record.json', 'Record to verify'],
    ['label.pdf', 'Label'],
    ['file', 'Joint file'],
  ]
  return (
    <div className="grid grid-cols-1 gap-8 lg:grid-cols-[1fr_24rem]">
      <section className="min-w-0">
        <h1>{state?.state !== 'done' ? 'Holds and signatures' : signing ? 'Signed here' : 'Released'}</h1>
        {signing && (
          <p className="note mt-2 text-lg">
            The release waits on this device. The joint is released when the server has taken it.
          </p>
        )}
        {work.progress.limits && <p className="note mt-2 text-lg">With a limit: {work.progress.limits}</p>}
        {against.length > 0 && state?.state !== 'done' && (
          <section className="fault mt-3" aria-label="What stands against the release">
            <h2>Not to be released</h2>
            <ul className="list-disc pl-5 text-lg">
              {against.map((words) => (
                <li key={words}>{words}</li>
              ))}
            </ul>
            <p>
              What is signed must be what was built, with nothing open.{' '}
              <Link className="link" to={`/joints/${work.ref}/build`}>
                To the work
              </Link>{' '}
              ·{' '}
              <Link className="link" to={`/joints/${work.ref}/choose`}>
                Plan again
              </Link>
            </p>
          </section>
        )}
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
                    ? `${s.actor}, ${moment(s.at)}${s.why ? ` · ${s.why}` : ''}`
                    : s?.state === 'open' && !(h.id === release?.id && against.length > 0)
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
            {unsent > 0 && (
              <Caution>
                {unsent === 1 ? 'One entry' : `${unsent} entries`} of this joint on this device{' '}
                {unsent === 1 ? 'is' : 'are'} not sent yet. It is released when everything is there.
              </Caution>
            )}
            {work.judgement.notes.map((n) => (
              <Caution key={n}>{n}</Caution>
            ))}
            {against.length === 0 && <Verdict judgement={work.judgement} />}
            {verifies && open && !own && (
              <fieldset className="flex flex-col gap-2">
                <legend className="field-label mb-1">Released with a limit?</legend>
                {[...new Set([...work.judgement.limits, ...LIMITS])].map((l) => (
                  <label key={l} className="flex min-h-12 cursor-pointer items-center gap-3 text-lg">
                    <input
                      type="checkbox"
                      className="checkbox checkbox-primary"
                      checked={limits.has(l)}
                      onChange={() => setLimits((now) => toggled(now, l))}
                    />
                    {l}
                  </label>
                ))}
              </fieldset>
            )}
            {verifies && (
              <button
                type="button"
                className="btn btn-warning btn-tall"
                disabled={
                  !open ||
                  own ||
                  unsent > 0 ||
                  against.length > 0 ||
                  (work.judgement.verdict === 'limit' && !limits.size)
                }
                onClick={() => send('done', release.id, { text: [...limits].join('; ') })}
              >
                I have read the record: release {work.ref}
                {limits.size ? ` with a limit: ${[...limits].join('; ')}` : ''}
              </button>
            )}
            <NotCounted words={outbox.words} />
          </div>
        )}
        {work.altered && state?.state === 'done' && (
          <p className="fault mt-3 text-lg">
            Altered: {work.altered}. What was released cannot be relied on.
          </p>
        )}
        {state?.state === 'done' && (
          <div className="mt-6 flex max-w-2xl flex-col gap-3">
            {work.judgement.notes.map((n) => (
              <Caution key={n}>{n}</Caution>
            ))}
            <p className="text-lg">
              A label printed before the release says that it was not released. Print it once more: it names
              the day{work.progress.limits ? ' and the limit' : ''}.
            </p>
            <PrintLabel work={work} />
          </div>
        )}
        <div className="mt-6">
          <Flags work={work} outbox={outbox} send={send} works={verifies} />
        </div>
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

function toggled(set: Set<string>, value: string): Set<string> {
  const next = new Set(set)
  if (!next.delete(value)) next.add(value)
  return next
}
