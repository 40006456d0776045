import { CircleAlert, Undo2 } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import type { Schemas } from '../../../api/client'
import { NotCounted } from '../../../components/notes'
import { current } from '../../../model/progress'
import { useMay } from '../../../session'
import { Unplayed } from '../Breaks'
import { useEvents, type WorkProps } from '../useWork'
import { Comfort } from './Comfort'
import { Faults } from './Faults'
import { Flags } from './Flags'
import { Mending } from './Mending'
import { StepView } from './StepView'
import { Timers } from './Timers'
import { useReplan } from './useReplan'
import { spoken } from './words'

/** One place in the work fills the screen. Small steps come in batches, holds stop the hand. */
export function Build({ work, states, outbox, labels }: WorkProps) {
  const send = useEvents(work, outbox)
  const works = useMay('jointer')
  const [wrong, setWrong] = useState<'fault' | 'forgotten' | null>(null)
  const { replan, told, clear } = useReplan(work.ref)
  const steps = current(work.plan, states)
  const open = openFaults(work, outbox)
  const done = states.filter((s) => s.state === 'done').length
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-4">
      <div className="flex items-start gap-3">
        <div className="min-w-0 grow">
          <Progress work={work} states={states} />
        </div>
        <Comfort words={spoken(steps)} />
      </div>
      <Timers work={work} states={states} />
      {told && (
        <div className={told.fault ? 'fault' : 'note'} role="status">
          {told.words.map((w) => (
            <p key={w} className="text-lg">
              {w}
            </p>
          ))}
          <button type="button" className="btn mt-2 min-h-12" onClick={clear}>
            Seen
          </button>
        </div>
      )}
      {open.map((f) => (
        <Mending key={f.id} work={work} fault={f} send={send} works={works} />
      ))}
      {steps.length > 0 && !open.length ? (
        <StepView
          key={`${steps[0]?.id}:${work.number}`}
          steps={steps}
          work={work}
          states={states}
          labels={labels}
          outbox={outbox}
          send={send}
          works={works}
          replan={replan}
        />
      ) : (
        !open.length && (
          <div className="text-lg">
            <h1>{done === work.plan.steps.length ? 'This joint is finished' : 'Nothing to do here now'}</h1>
            <Link className="btn btn-primary btn-tall mt-4" to={`/joints/${work.ref}/sign`}>
              To the record
            </Link>
          </div>
        )
      )}
      <NotCounted words={outbox.words} />
      <Flags work={work} outbox={outbox} send={send} works={works} />
      <Unplayed why={work.unplayed} />
      {works && !open.length && (
        <Ways work={work} states={states} outbox={outbox} send={send} wrong={setWrong} />
      )}
      {wrong && (
        <Faults
          work={work}
          steps={steps}
          forgotten={wrong === 'forgotten'}
          send={send}
          close={() => setWrong(null)}
        />
      )}
    </div>
  )
}

/** Open faults, those just noted here and not sent yet among them. */
function openFaults(work: WorkProps['work'], outbox: WorkProps['outbox']): Schemas['OpenFault'][] {
  const step = (id: string | null | undefined) => work.plan.steps.find((s) => s.id === id)
  const answers = outbox.items.filter((i) => i.event.kind === 'remedy' || i.event.kind === 'undone')
  const answered = new Set(answers.map((i) => i.event.about).filter(Boolean))
  const noted = outbox.items
    .filter((i) => i.event.kind === 'fault')
    .map(({ event, actor, owner }) => {
      const own = step(event.step)?.layer
      const found = work.plan.faults.filter((f) => f.id === event.choice)
      const known = found.find((f) => f.layer === own) ?? found[0]
      return {
        id: event.id,
        fault: event.choice ?? '',
        step: event.step ?? '',
        layer: known?.layer ?? own ?? '',
        seen: event.text || (known?.seen ?? ''),
        actor,
        at: event.client_time,
        reporter: owner,
      }
    })
  return [...work.progress.faults, ...noted].filter((f) => !answered.has(f.id))
}

interface WaysProps extends Pick<WorkProps, 'work' | 'states' | 'outbox'> {
  send: ReturnType<typeof useEvents>
  wrong: (what: 'fault' | 'forgotten') => void
}

/** Always there: something is wrong, a part was forgotten, take back. */
function Ways({ work, states, outbox, send, wrong }: WaysProps) {
  const last = [...work.events]
    .reverse()
    .find((e) => e.kind === 'done' && states.find((s) => s.id === e.step)?.state === 'done')
  const pending = [...outbox.items].reverse().find((i) => i.event.kind === 'done')
  const undoable = pending?.event.step ?? last?.step
  const title = work.plan.steps.find((s) => s.id === undoable)?.title
  return (
    <div className="grid grid-cols-2 gap-3 lg:max-w-2xl">
      <button type="button" className="btn btn-tall !text-lg leading-tight" onClick={() => wrong('fault')}>
        <CircleAlert size={20} aria-hidden /> Something is wrong
      </button>
      <button
        type="button"
        className="btn btn-tall !text-lg leading-tight"
        onClick={() => wrong('forgotten')}
      >
        A part was forgotten
      </button>
      {undoable && title && (
        <button
          type="button"
          className="btn btn-ghost col-span-2 min-h-12"
          onClick={() => send('undone', undoable)}
        >
          <Undo2 size={20} aria-hidden /> Take back: {title}
        </button>
      )}
    </div>
  )
}

/** All steps as a strip; holds stand out by shape and word, not by colour alone. */
function Progress({ work, states }: { work: WorkProps['work']; states: WorkProps['states'] }) {
  const first = states.findIndex((s) => s.state === 'open' || s.state === 'again')
  const done = states.filter((s) => s.state === 'done').length
  const holds = work.plan.steps.filter((s, i) => s.hold && states[i]?.state !== 'done')
  return (
    <div>
      <div className="flex gap-[2px]" aria-hidden="true">
        {work.plan.steps.map((s, i) => {
          const state = states[i]?.state
          const tone = state === 'done' ? 'bg-success' : i === first ? 'bg-primary' : 'bg-base-300'
          return (
            <span
              key={s.id}
              className={`${s.hold ? 'h-4 outline-2 -outline-offset-2 outline-warning' : 'mt-1 h-2'} grow ${tone}`}
            />
          )
        })}
      </div>
      <p className="quiet mt-1">
        {done} of {states.length} done{holds[0] ? ` · next hold: ${holds[0].title}` : ''}
        {work.progress.attempt > 0 ? ` · attempt ${work.progress.attempt + 1}` : ''}
      </p>
    </div>
  )
}
