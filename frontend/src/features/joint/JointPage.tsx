import { useQuery } from '@tanstack/react-query'
import { type ReactNode, useCallback, useEffect, useMemo, useState } from 'react'
import { Link, NavLink, useNavigate, useParams } from 'react-router'
import { ApiError, api, type Draft, type Schemas, take } from '../../api/client'
import { CrossSection } from '../../components/CrossSection'
import { Knot } from '../../components/Knot'
import { ErrorNote, Loading, StateWord, UNREADABLE } from '../../components/notes'
import { OutboxSign } from '../../components/OutboxSign'
import { useOutbox } from '../../components/outbox'
import { Ribbon } from '../../components/Ribbon'
import { Tools } from '../../components/Tools'
import { type Kind, useKinds } from '../../components/useKinds'
import { corrected } from '../../model/clock'
import { current, overlay } from '../../model/progress'
import { spoken } from '../../model/said'
import { useSettings } from '../../settings'
import { FORMS } from './allForms'
import { Card } from './Card'
import { Cut } from './Cut'
import { Choose } from './choose/Choose'
import { kindOf } from './forms'
import { Park } from './Park'
import { Prove } from './Prove'
import { SaveSign } from './SaveSign'
import { Sign } from './Sign'
import { STATIONS, stationStates } from './stations'
import { Build } from './steps/Build'
import { builtOf } from './steps/work'
import { TraceCut } from './trace/TraceCut'
import { drafted, useJoint } from './useJoint'
import { notYetKnown, unsent, useWork } from './useWork'

export function JointPage() {
  const { ref = '', station } = useParams()
  const joint = useJoint(ref)
  const found = joint.query.data
  const work = useWork(ref, Boolean(found?.revision))
  const kinds = useKinds()
  const kind = found && kindOf(kinds, found.draft as Draft)
  const complete = found !== undefined && found.missing.length === 0 && ready(found.draft as Draft, kind)
  const { unit } = useSettings()
  const look = useQuery({
    queryKey: ['look', ref, found?.version],
    placeholderData: (before, query) => (query?.queryKey[1] === ref ? before : undefined),
    gcTime: 60_000, // one for every change
    select: useCallback((answer: Schemas['Look']) => spoken(answer, unit), [unit]),
    queryFn: () => take(api.POST('/api/v1/joints/{ref}/look', { params: { path: { ref } }, body: {} })),
    enabled: complete,
    retry: (tries, fault) => tries < 8 && fault instanceof ApiError && fault.problem.status === 429,
    retryDelay: 2_500, // others are having plans worked out
  })
  const navigate = useNavigate()
  const outbox = unsent(useOutbox(ref), work.data?.events)
  const [at, setAt] = useState(0)
  const states = useMemo(
    () =>
      work.data
        ? overlay(
            work.data.plan,
            work.data.progress.steps,
            notYetKnown(work.data.events, outbox).map((i) => ({
              kind: i.event.kind,
              step: i.event.step ?? '',
              about: i.event.about ?? '',
              again: i.event.choice === 'again' ? (work.data.again[i.event.step ?? ''] ?? []) : [],
              values: i.event.values ?? {},
              actor: i.actor,
              at: corrected(i.event.client_time),
              signer: i.event.signature?.username ?? '',
            })),
          )
        : [],
    [work.data, outbox],
  )
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const on = e.target as HTMLElement
      if (e.ctrlKey || e.metaKey || e.altKey || on.closest('input, textarea, select, dialog[open]')) return
      const go = STATIONS[Number(e.key) - 1]
      if (go) navigate(`/joints/${ref}/${go.id}`)
    }
    window.addEventListener('keydown', press)
    return () => window.removeEventListener('keydown', press)
  }, [navigate, ref])

  if (joint.query.isPending) return <Loading what={ref} />
  if (joint.query.error && !found)
    return <ErrorNote error={joint.query.error} again={() => joint.query.refetch()} />
  if (!found) return null
  const unreadable = work.error instanceof ApiError && work.error.problem.type === 'tinknot:unreadable'
  const stations = stationStates(found, work.data?.plan, states)
  const here = station ?? stations.find((s) => s.state === 'open')?.id ?? 'card'
  const draft = drafted(found, joint.patch)
  const now = kindOf(kinds, draft)
  const form = FORMS[now?.form ?? '']
  const sides = now?.form === 'flat' ? draft.trace?.ends : draft.ends
  const named = Object.entries(sides ?? {}).map(([end, side]) => [end, side?.label ?? ''])
  const labels = { A: '', B: '', ...Object.fromEntries(named) }
  const ahead = here === 'choose' || here === 'measure' || here === 'card'
  const plan = (ahead ? look.data?.plan : undefined) ?? work.data?.plan ?? look.data?.plan
  const built = ahead || !work.data ? undefined : builtOf(work.data, states)
  const doing = ahead || !work.data ? undefined : current(work.data.plan, states)
  const lit = doing && new Set(doing.map((s) => s.layer))
  const phone = here === 'build' || here === 'park'
  const layerChoice = (layer: string) => navigate(`/joints/${ref}/choose?layer=${layer}`)
  return (
    <div className="flex min-h-dvh flex-col">
      <header className="no-print bg-neutral text-neutral-content">
        <div
          className={`flex items-center gap-x-3 gap-y-1 px-4 py-1 md:gap-x-5 md:px-6 ${told(joint.saving) ? 'flex-wrap' : ''}`}
        >
          <Link
            to="/"
            className="flex min-h-11 items-center gap-3 text-xl font-bold"
            aria-label="Tin Knot, to the lines"
          >
            <Knot />
            <span className="hidden md:inline">Tin Knot</span>
          </Link>
          <span className="text-xl font-bold whitespace-nowrap">{found.ref}</span>
          <span className="hidden truncate text-lg lg:inline">{found.title}</span>
          <span className="min-w-0 truncate border border-current px-2 py-0.5">
            <span className="[&_*]:!text-current">
              <StateWord state={unreadable ? UNREADABLE : (work.data?.progress.state ?? found.state)} />
            </span>
          </span>
          <SaveSign joint={joint} />
          <span className="ml-auto shrink-0">
            <OutboxSign />
          </span>
          <Tools alone />
        </div>
      </header>
      <div className={`border-b border-base-300 bg-base-100 ${phone ? 'hidden md:block' : ''}`}>
        {plan?.section ? (
          <div className="grid grid-cols-1 lg:grid-cols-[1fr_13rem]">
            <Ribbon
              section={plan.section}
              labels={labels}
              built={built}
              lit={lit}
              routes={here === 'build' ? doing?.flatMap((s) => s.routes) : undefined}
              at={at}
              onAt={setAt}
              onLayer={layerChoice}
            />
            <div className="hidden items-center justify-center border-l border-base-300 p-2 lg:flex">
              <CrossSection section={plan.section} at={at} built={built} />
            </div>
          </div>
        ) : (
          <EmptyRibbon words={ribbonWords(complete, look.error, plan?.verdict)} labels={labels} />
        )}
      </div>
      <nav aria-label="Stations" className="no-print overflow-x-auto border-b border-base-300 bg-base-200">
        <ol className="flex px-2 md:px-4">
          {stations.map((s, i) => (
            <li key={s.id}>
              <NavLink
                ref={
                  s.id === here
                    ? (node) => node?.scrollIntoView({ block: 'nearest', inline: 'center' })
                    : undefined
                }
                to={`/joints/${ref}/${s.id}`}
                title={s.words}
                aria-label={`${i + 1} ${s.name}: ${s.words}`}
                aria-current={s.id === here ? 'page' : undefined}
                className={`flex min-h-12 items-center gap-2 border-t-4 px-3 text-lg whitespace-nowrap md:px-5 ${
                  s.id === here ? 'border-primary bg-base-100 font-bold' : 'border-transparent font-medium'
                } ${s.state === 'done' ? 'text-success' : s.state === 'locked' ? 'text-[var(--quiet)]' : ''}`}
              >
                <span className="text-sm" aria-hidden="true">
                  {s.state === 'done' ? '✓' : i + 1}
                </span>
                {s.name}
              </NavLink>
            </li>
          ))}
        </ol>
      </nav>
      <main className="grow p-4 md:p-6">
        <AsSigned signed={ahead && found.state.startsWith('released')}>
          {here === 'card' && <Card joint={joint} draft={draft} kinds={kinds} />}
          {here === 'measure' && form && now && <form.Measure joint={joint} draft={draft} kind={now} />}
          {here === 'choose' && form && now && (
            <Choose
              Form={form.Choose}
              joint={joint}
              draft={draft}
              kind={now}
              look={look}
              planned={work.data}
            />
          )}
        </AsSigned>
        {!['card', 'measure', 'choose'].includes(here) &&
          (!found.revision ? (
            <NotYet joint={ref} words={stations.find((s) => s.state === 'open')?.words ?? ''} />
          ) : work.data ? (
            <>
              {here === 'cut' &&
                (work.data.plan.trace ? (
                  <TraceCut work={work.data} states={states} outbox={outbox} labels={labels} />
                ) : (
                  <Cut work={work.data} states={states} outbox={outbox} labels={labels} />
                ))}
              {here === 'park' && <Park work={work.data} states={states} outbox={outbox} labels={labels} />}
              {here === 'build' && <Build work={work.data} states={states} outbox={outbox} labels={labels} />}
              {here === 'prove' && <Prove work={work.data} states={states} outbox={outbox} labels={labels} />}
              {here === 'sign' && <Sign work={work.data} states={states} outbox={outbox} labels={labels} />}
            </>
          ) : work.error ? (
            <ErrorNote error={work.error} again={() => work.refetch()} />
          ) : (
            <Loading what="the plan" />
          ))}
      </main>
    </div>
  )
}

/** What is signed is to be looked at only: every field and button in it is off, and it says why. */
function AsSigned({ signed, children }: { signed: boolean; children: ReactNode }) {
  if (!signed) return children
  return (
    <>
      <p className="note mb-4 text-lg">
        This joint is released: this is what was signed, and nothing of it can be changed. For new work on the
        cable, begin a new joint from it with “same again”.
      </p>
      <fieldset disabled className="as-signed min-w-0">
        {children}
      </fieldset>
    </>
  )
}

/** Whether something stands against saving: only that may take a row of the bar for itself. */
function told(saving: ReturnType<typeof useJoint>['saving']): boolean {
  return saving !== 'saved' && saving !== 'saving'
}

/** What takes its figures from a kit's sheet needs one chosen before anything is worked out. */
function ready(draft: Draft, kind: Kind | undefined): boolean {
  return kind !== undefined && (!kind.needs_sheet || Boolean(draft.sheet))
}

function ribbonWords(complete: boolean, error: unknown, verdict?: string): string {
  if (!complete) return 'The section draws itself as soon as both ends are measured.'
  if (verdict === 'nothing-fits')
    return 'Nothing fits yet, so there is no joint to draw. The figures are under Choose.'
  return error ? 'The section cannot be drawn: see Choose.' : 'Working it out …'
}

function EmptyRibbon({ words, labels }: { words: string; labels: { A: string; B: string } }) {
  return (
    <div className="grid h-40 grid-cols-[1fr_auto_1fr] items-center gap-6 overflow-hidden">
      <div className="h-12 bg-[var(--sheath)] px-4 py-2 text-lg font-semibold text-white">
        A {labels.A && `· ${labels.A}`}
      </div>
      <p className="max-w-80 text-center font-medium">{words}</p>
      <div className="h-12 bg-[var(--sheath)] px-4 py-2 text-right text-lg font-semibold text-white">
        {labels.B && `${labels.B} ·`} B
      </div>
    </div>
  )
}

function NotYet({ joint, words }: { joint: string; words: string }) {
  return (
    <div className="max-w-xl text-lg">
      <h1>Not planned yet</h1>
      <p className="mt-2">{words}</p>
      <Link className="btn btn-primary mt-4" to={`/joints/${joint}/choose`}>
        Go to Choose
      </Link>
    </div>
  )
}
