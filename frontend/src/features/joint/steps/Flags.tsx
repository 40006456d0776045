import type { Schemas } from '../../../api/client'
import { useMay } from '../../../session'
import type { useEvents, WorkProps } from '../useWork'

interface Props extends Pick<WorkProps, 'work' | 'outbox'> {
  send: ReturnType<typeof useEvents>
  works: boolean
}

/** What was kept but does not count, and what the server would not take: settled here, never lost. */
export function Flags({ work, outbox, send, works }: Props) {
  const verifies = useMay('verifier')
  const flags = work.progress.flags
  if (!flags.length && !outbox.refused.length) return null
  const all = (kind: 'late' | 'counts') => !outbox.refused.length && flags.every((f) => f[kind])
  const heading = all('late')
    ? 'Told after the release'
    : all('counts')
      ? 'Counted, and to be looked at'
      : 'Kept, but not counted'
  const title = (step: string) => work.plan.steps.find((s) => s.id === step)?.title ?? step
  const instead = (flag: Schemas['Flag']) => {
    const event = work.events.find((e) => e.id === flag.event)
    return event && Object.keys(event.values).length && event.kind === 'done' ? event : null
  }
  return (
    <section className="note" aria-label={heading}>
      <h2>{heading}</h2>
      <ul className="rows">
        {flags.map((f) => {
          const other = instead(f)
          return (
            <li key={f.event} className="flex flex-wrap items-center gap-2 py-2 text-lg">
              <span className="grow">
                {f.late ? (
                  f.why
                ) : (
                  <>
                    <b>{title(f.step)}</b>: {f.why}
                  </>
                )}
              </span>
              {works && other && f.second && (
                <button
                  type="button"
                  className="btn min-h-12"
                  onClick={async () => {
                    const { values, read_by, over } = other
                    await send('reading', { step: f.step, values, read_by, over })
                    await send('settled', { step: f.step, about: f.event })
                  }}
                >
                  Take this reading
                </button>
              )}
              {works && (!f.late || verifies) && (
                <button
                  type="button"
                  className="btn min-h-12"
                  onClick={() => send('settled', { step: f.step, about: f.event })}
                >
                  Seen, leave it
                </button>
              )}
            </li>
          )
        })}
        {outbox.refused.map((r) => (
          <li key={r.key} className="flex flex-wrap items-center gap-2 py-2 text-lg">
            <span className="grow">
              <b>{title(r.event.step ?? '')}</b> was not taken: {r.why}
            </span>
            <button
              type="button"
              className="btn min-h-12"
              onClick={() => r.key !== undefined && void outbox.forget(r.key)}
            >
              Seen
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}
