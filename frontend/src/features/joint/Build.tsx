import { CircleAlert, Undo2 } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { current } from '../../model/progress'
import { useMay } from '../../session'
import { Faults } from './Faults'
import { StepView } from './StepView'
import { useEvents, type WorkProps } from './useWork'

/** One place in the work fills the screen. Small steps come in batches, holds stop the hand. */
export function Build({ work, states, outbox, labels }: WorkProps) {
  const send = useEvents(work, outbox)
  const works = useMay('jointer')
  const [wrong, setWrong] = useState<'fault' | 'forgotten' | null>(null)
  const steps = current(work.plan, states)
  const done = states.filter((s) => s.state === 'done').length
  const last = [...work.events]
    .reverse()
    .find((e) => e.kind === 'done' && states.find((s) => s.id === e.step)?.state === 'done')
  const pendingLast = [...outbox.items].reverse().find((i) => i.event.kind === 'done')
  const undoable = pendingLast?.event.step ?? last?.step
  const open = openFaults(work)
  const undoTitle = work.plan.steps.find((s) => s.id === undoable)?.title
  return (
    <div className="mx-auto flex max-w-6xl flex-col gap-4">
      <Progress work={work} states={states} />
      {open.map((f) => (
        <div key={f.id} className="fault">
          <p className="text-lg font-semibold">Stopped: {f.text}</p>
          {works && (
            <button
              type="button"
              className="btn mt-2 min-h-12"
              onClick={() => send('fault-cleared', f.step, { text: f.id })}
            >
              It is mended, go on
            </button>
          )}
        </div>
      ))}
      {steps.length > 0 && !open.length ? (
        <StepView
          key={steps[0]?.id}
          steps={steps}
          work={work}
          states={states}
          labels={labels}
          send={send}
          works={works}
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
      {outbox.words && (
        <p className="fault" role="alert">
          It is noted, but does not count: {outbox.words}
        </p>
      )}
      {works && (
        <div className="grid grid-cols-2 gap-3 lg:max-w-2xl">
          <button
            type="button"
            className="btn btn-tall !text-lg leading-tight"
            onClick={() => setWrong('fault')}
          >
            <CircleAlert size={20} aria-hidden /> Something is wrong
          </button>
          <button
            type="button"
            className="btn btn-tall !text-lg leading-tight"
            onClick={() => setWrong('forgotten')}
          >
            A part was forgotten
          </button>
          {undoable && undoTitle && (
            <button
              type="button"
              className="btn btn-ghost col-span-2 min-h-12"
              onClick={() => send('undone', undoable)}
            >
              <Undo2 size={20} aria-hidden /> Take back: {undoTitle}
            </button>
          )}
        </div>
      )}
      {wrong && (
        <Faults
          work={work}
          step={steps[0]}
          forgotten={wrong === 'forgotten'}
          send={send}
          close={() => setWrong(null)}
        />
      )}
    </div>
  )
}

function openFaults(work: WorkProps['work']) {
  const cleared = new Set(work.events.filter((e) => e.kind === 'fault-cleared').map((e) => e.text))
  return work.events.filter((e) => e.kind === 'fault' && !cleared.has(e.id))
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
      </p>
    </div>
  )
}
