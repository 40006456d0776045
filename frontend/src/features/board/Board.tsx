import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, keptAnswer, type Schemas, take } from '../../api/client'
import { ErrorNote, Loading, StateWord } from '../../components/notes'
import { duration } from '../../model/units'
import { soon } from '../../model/when'
import { useMay } from '../../session'
import { Lines, More } from './Lines'
import { NewJoint } from './NewJoint'
import { ScanJoint } from './ScanJoint'

export function Board() {
  const board = useQuery({
    queryKey: ['board'],
    queryFn: () => keptAnswer('board', () => take(api.GET('/api/v1/board'))),
    refetchInterval: 15_000,
  })
  const works = useMay('jointer')
  if (board.isPending) return <Loading what="the board" />
  if (board.error && !board.data) return <ErrorNote error={board.error} again={() => board.refetch()} />
  const found = board.data
  if (!found) return null
  const empty = found.states.length === 0
  return (
    <div className="grid grow lg:grid-cols-[1fr_22rem]">
      <main className="min-w-0 p-4 md:p-6">
        {empty ? (
          <Welcome works={works} />
        ) : (
          <>
            <h1>
              Lines <span className="quiet text-lg font-normal">{summary(found.states)}</span>
            </h1>
            <Lines board={found} />
            <Unreadable {...found.unreadable} />
            <Listed
              {...found.late}
              title="Told after the release"
              words="These joints are released. What came in afterwards is kept in their records; a verifier decides on it."
              look="fault"
              tone="text-error"
              of={(j) => j.late}
            />
            <Listed
              {...found.limited}
              title="Released with a limit"
              look=""
              tone="text-warning"
              of={(j) => j.limits}
            />
          </>
        )}
      </main>
      <aside className="order-first flex flex-col border-base-300 bg-base-100 p-4 max-lg:border-b md:p-6 lg:order-none lg:border-l">
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h1>Today</h1>
          <p className="quiet text-lg">
            {found.waiting ? `${duration(found.minutes)} of work` : 'Nothing waits.'}
          </p>
        </div>
        {works && <NewJoint lines={found.lines} />}
        <Today first={found.today} waiting={found.waiting} />
        {found.loops.length > 0 && (
          <section className="mt-5" aria-label="Loops">
            <h2>Loops of the heat trace</h2>
            <ul className="rows mt-1">
              {found.loops.map((l) => (
                <li key={l.ref + l.end}>
                  <Link
                    to={`/joints/${l.ref}/choose`}
                    className="flex min-h-11 items-center gap-3 hover:bg-base-200"
                  >
                    <b className="w-16 text-lg">{l.ref}</b>
                    <span className="grow">
                      {l.end} {l.label}
                    </span>
                    <span className={l.remakes_left === 0 ? 'font-semibold text-error' : ''}>
                      {l.remakes_left === 0
                        ? '✕ no remake left'
                        : `${l.remakes_left} ${l.remakes_left === 1 ? 'remake' : 'remakes'}`}
                    </span>
                  </Link>
                </li>
              ))}
            </ul>
          </section>
        )}
        <div className="mt-3">
          <ScanJoint />
        </div>
      </aside>
    </div>
  )
}

/** What waits for hands: the first of it, all when asked for. */
function Today({ first, waiting }: { first: Schemas['Today'][]; waiting: number }) {
  const [whole, setWhole] = useState(false)
  const all = useQuery({
    queryKey: ['today'],
    queryFn: () => keptAnswer('today', () => take(api.GET('/api/v1/today'))),
    enabled: whole,
    refetchInterval: 60_000,
  })
  const left = waiting - first.length
  return (
    <>
      <ol className="rows mt-3">
        {((whole && all.data?.items) || first).map((t) => (
          <li key={t.ref}>
            <Link to={`/joints/${t.ref}`} className="block min-h-12 py-2.5 hover:bg-base-200">
              <span className="flex flex-wrap items-baseline gap-x-3">
                <b className="text-lg">{t.ref}</b>
                <StateWord state={t.state} />
                <span className="ml-auto">{t.minutes ? duration(t.minutes) : ''}</span>
              </span>
              <span className="block font-medium">{t.where || t.title}</span>
              <span className="quiet block">{t.next}</span>
              {t.until && (
                <span className="block font-medium text-warning">
                  {t.waits_for} until {soon(t.until, new Date())}
                </span>
              )}
            </Link>
          </li>
        ))}
      </ol>
      {left > 0 && !whole && (
        <button type="button" className="btn mt-3" onClick={() => setWhole(true)}>
          Show {left} more
        </button>
      )}
      {whole && all.error && !all.data && <ErrorNote error={all.error} again={() => all.refetch()} />}
    </>
  )
}

/** Joints that a newer version wrote, or that are damaged: what is known of them, and that the rest is well. */
function Unreadable({ items, more }: Schemas['SomeJoints']) {
  if (!items.length) return null
  const many = items.length + more
  return (
    <section className="fault mt-4" aria-label="Joints that cannot be read">
      <h2>{many === 1 ? 'One joint cannot be read' : `${many} joints cannot be read`}</h2>
      <p>Nothing of what is stored was changed, and all other joints are as they were.</p>
      <ul className="mt-1">
        {items.map((j) => (
          <li key={j.ref}>
            <b>{j.ref}</b> {j.title}: {j.unreadable}
          </li>
        ))}
      </ul>
      <More many={more} />
    </section>
  )
}

type ListedProps = Schemas['SomeJoints'] & {
  title: string
  words?: string
  look: string
  tone: string
  of: (joint: Schemas['Named']) => string
}

/** Joints that whoever works near them must know of, each with why; none, and nothing is shown. */
function Listed({ items, more, title, words, look, tone, of }: ListedProps) {
  if (!items.length) return null
  return (
    <section className={`mt-4 ${look}`} aria-label={title}>
      <h2>{title}</h2>
      {words && <p>{words}</p>}
      <ul className="rows mt-1">
        {items.map((j) => (
          <li key={j.ref}>
            <Link to={`/joints/${j.ref}/sign`} className="flex min-h-11 flex-wrap items-center gap-x-3">
              <b className="text-lg">{j.ref}</b>
              <span>{j.where || j.title}</span>
              <span className={`font-semibold ${tone}`}>{of(j)}</span>
            </Link>
          </li>
        ))}
      </ul>
      <More many={more} />
    </section>
  )
}

function summary(states: Schemas['StateCount'][]): string {
  const all = states.reduce((sum, s) => sum + s.count, 0)
  return `${all} joint${all === 1 ? '' : 's'} · ${states.map((s) => `${s.count} ${s.state}`).join(' · ')}`
}

function Welcome({ works }: { works: boolean }) {
  return (
    <div className="max-w-2xl">
      <h1>The bench is empty</h1>
      <p className="mt-3 text-lg">Three things, and the first joint is planned:</p>
      <ol className="mt-4 flex list-decimal flex-col gap-3 pl-6 text-lg">
        <li>
          <Link className="link" to="/stock">
            Fill the stock
          </Link>
          : take the starter stock and put it right, type what is in the van, or import a list.
        </li>
        <li>
          {works
            ? 'Make a joint with the button “New joint” and fill in its card.'
            : 'A jointer makes the first joint.'}
        </li>
        <li>Measure both ends. What fits is chosen with its reasons, the cuts and the order follow.</li>
      </ol>
      <p className="mt-6">
        Or only want to know whether a sleeve fits?{' '}
        <Link className="link" to="/fit">
          Fit check
        </Link>{' '}
        needs no joint.
      </p>
    </div>
  )
}
