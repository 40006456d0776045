import { useQuery } from '@tanstack/react-query'
import { useCallback } from 'react'
import { Link } from 'react-router'
import { ApiError, api, type Schemas, take } from '../../../api/client'
import { ErrorNote } from '../../../components/notes'
import { shutOff } from '../../../model/progress'
import { spoken } from '../../../model/said'
import { duration, length, sign } from '../../../model/units'
import { useSession } from '../../../session'
import { useSettings } from '../../../settings'
import type { useEvents, WorkProps } from '../useWork'

interface Props {
  work: WorkProps['work']
  fault: Schemas['OpenFault']
  send: ReturnType<typeof useEvents>
  works: boolean
}

/** An open fault with the ways to mend it, each with what it costs now. Choosing one reopens its steps. */
export function Mending({ work, fault, send, works }: Props) {
  const { unit } = useSettings()
  const known = work.progress.faults.some((f) => f.id === fault.id)
  const ways = useQuery({
    enabled: known, // what it costs is worked out by the server, which must have been told first
    queryKey: ['mends', work.ref, fault.id, work.progress.done],
    select: useCallback((found: Schemas['Mends']) => spoken(found, unit), [unit]),
    queryFn: () =>
      take(
        api.GET('/api/v1/joints/{ref}/faults/{fault}/mends', {
          params: { path: { ref: work.ref, fault: fault.id } },
        }),
      ),
    retry: 0,
  })
  const session = useSession()
  const offline = ways.error instanceof ApiError && ways.error.offline
  const without = withoutPlan(work, fault)
  const mine =
    fault.reporter !== '' && [session.mark, session.name, session.username].includes(fault.reporter)
  return (
    <section className="fault" aria-label={`Stopped: ${fault.seen}`}>
      <h1>Stopped</h1>
      <p className="text-xl font-semibold">{fault.seen}</p>
      <p className="quiet">
        at: {work.plan.steps.find((s) => s.id === fault.step)?.title ?? 'the joint'} · {fault.actor}
      </p>
      {(!known || offline) && (
        <p className="text-lg" role="status">
          {known ? 'No connection now.' : 'Noted here, not sent yet.'}{' '}
          {without.length
            ? 'What needs no new plan can be done at once; what costs cable or parts is worked out by the server.'
            : 'What mending it costs is worked out by the server; until then nothing more is built here.'}
        </p>
      )}
      {ways.error && !offline && <ErrorNote error={ways.error} again={() => ways.refetch()} />}
      {(!known || offline) && works && (
        <ul className="mt-3 grid gap-3 lg:grid-cols-2">
          {without.map((w) => (
            <li key={w.kind} className="flex flex-col bg-base-100 p-3">
              <p className="grow text-lg font-semibold">{w.words}</p>
              <p className="text-base">
                {w.kind === 'again'
                  ? 'Its steps and what was built on them are asked for again'
                  : 'no step again, nothing lost'}
              </p>
              <button
                type="button"
                className="btn btn-primary btn-tall mt-2"
                onClick={() => send('remedy', { step: fault.step, about: fault.id, choice: w.kind })}
              >
                {w.kind === 'mended' ? 'It is mended, go on' : 'Do this'}
              </button>
            </li>
          ))}
        </ul>
      )}
      <ul className="mt-3 grid gap-3 lg:grid-cols-2">
        {inTurn(offline ? [] : (ways.data?.items ?? [])).map((w) => (
          <Way key={w.kind + w.words} way={w} work={work}>
            {works && !(w.planned && w.why_not) && (
              <button
                type="button"
                className={`btn btn-tall mt-2 w-full ${w.kind === 'remake' ? '' : 'btn-primary'}`}
                disabled={Boolean(w.why_not)}
                onClick={() => send('remedy', { step: fault.step, about: fault.id, choice: w.kind })}
              >
                {w.kind === 'mended' ? 'It is mended, go on' : 'Do this'}
              </button>
            )}
          </Way>
        ))}
      </ul>
      {works && mine && (
        <button
          type="button"
          className="btn btn-tall mt-3 h-auto py-3 leading-tight"
          onClick={() => send('undone', { step: fault.step, about: fault.id })}
        >
          It was reported by mistake: take it back
        </button>
      )}
    </section>
  )
}

/** What can be done before what has to be planned first, what costs the whole joint after that, what cannot be last. */
function inTurn(ways: Schemas['Consequence'][]): Schemas['Consequence'][] {
  const rank = (w: Schemas['Consequence']) => (w.why_not ? (w.planned ? 1 : 3) : w.kind === 'remake' ? 2 : 0)
  return [...ways].sort((a, b) => rank(a) - rank(b))
}

/** Ways of mending that change nothing of the plan, so that they need no server. */
const WITHOUT_PLAN = ['mended', 'again']

function withoutPlan(work: WorkProps['work'], fault: Schemas['OpenFault']): Schemas['MendOut'][] {
  const known = work.plan.faults.find((f) => f.id === fault.fault && f.layer === fault.layer)
  const done = new Set(work.progress.steps.filter((s) => s.state === 'done').map((s) => s.id))
  const joined = work.plan.steps.some((s) => s.kind === 'join' && done.has(s.id))
  const shut = (m: Schemas['MendOut']) => {
    if (m.stays) return m.kind === 'again' && joined
    if (known?.forgotten && m.kind === 'again') return joined
    const roots = m.kind === 'again' ? (work.again[fault.step] ?? [fault.step]) : [fault.step]
    const once = work.plan.steps.some((s) => s.once && done.has(s.id) && roots.includes(s.id))
    return (m.kind === 'again' && !known && once) || shutOff(work.plan, done, roots) !== undefined
  }
  return (known?.mends ?? work.free_mends).filter(
    (m) => WITHOUT_PLAN.includes(m.kind) && !m.planned && !shut(m),
  )
}

function Way({
  way,
  work,
  children,
}: {
  way: Schemas['Consequence']
  work: WorkProps['work']
  children: React.ReactNode
}) {
  const { unit } = useSettings()
  const lost = Object.entries(way.lost_mm).filter(([, mm]) => mm > 0)
  return (
    <li className="flex flex-col bg-base-100 p-3">
      <p className="text-lg font-semibold">{way.words}</p>
      {way.why_not ? (
        <p className="font-medium text-error">
          {way.planned ? 'Not yet' : 'Not possible'}: {way.why_not}
        </p>
      ) : (
        <div className="grow text-base">
          {lost.map(([end, mm]) => (
            <div key={end}>
              <b>
                {length(mm, unit)} {sign(unit)}
              </b>{' '}
              of cable lost on {end}
              {slackWords(way.slack_left_mm[end], unit)}
            </div>
          ))}
          {alike(way.again).map(({ part, count }) => (
            <div key={part.layer}>
              again: {count > 1 ? `${count} × ` : ''}
              {part.name}
              {part.unit === 'mm' ? `, ${length(part.quantity, unit)} ${sign(unit)}` : ''}
            </div>
          ))}
          <div>
            {way.reopens.length
              ? `${way.reopens.length} of ${work.plan.steps.length} steps again, about ${duration(way.minutes)}`
              : lost.length || way.again.length
                ? 'no step again'
                : 'no step again, nothing lost'}
          </div>
        </div>
      )}
      {way.planned && way.why_not && (
        <Link className="btn btn-tall mt-2" to={`/joints/${work.ref}/choose`}>
          To Choose
        </Link>
      )}
      {way.kind === 'remake' && way.why_not && (
        <Link className="link" to={`/joints/${work.ref}/card`}>
          To the card
        </Link>
      )}
      {children}
    </li>
  )
}

/** Equal parts told once, with their count. */
function alike(parts: Schemas['Again'][]): { part: Schemas['Again']; count: number }[] {
  const found = new Map<string, { part: Schemas['Again']; count: number }>()
  for (const part of parts) {
    const key = `${part.part_id}:${part.lot}:${part.quantity}`
    const seen = found.get(key)
    if (seen) seen.count += 1
    else found.set(key, { part, count: 1 })
  }
  return [...found.values()]
}

function slackWords(left: number | null | undefined, unit: 'mm' | 'inch'): string {
  if (left === null || left === undefined) return '; slack was not measured'
  return `, ${length(Math.max(0, left), unit)} ${sign(unit)} of slack left`
}
