import { useEffect, useRef, useState } from 'react'
import type { Schemas } from '../../../api/client'
import type { useEvents, WorkProps } from '../useWork'

interface Props {
  work: WorkProps['work']
  steps: WorkProps['work']['plan']['steps']
  forgotten: boolean
  send: ReturnType<typeof useEvents>
  close: () => void
}

/** The faults of this place, with causes and what may be done; choosing one stops the joint. */
export function Faults({ work, steps: now, forgotten, send, close }: Props) {
  const steps = forgotten ? now : lookedAt(work, now)
  const [piece, setPiece] = useState(steps.length === 1 ? steps[0]?.id : undefined)
  const step = steps.find((s) => s.id === piece) ?? steps[0]
  const asks = steps.length > 1 && !forgotten
  const dialog = useRef<HTMLDialogElement>(null)
  const [words, setWords] = useState('')
  useEffect(() => dialog.current?.showModal(), [])
  const seen = new Set<string>()
  const parked = (work.plan.park?.by_end ?? []).flatMap((tail) => tail.parts)
  const missing = (layer: string) => work.plan.faults.find((f) => f.forgotten && f.layer === layer)?.id
  const here = work.plan.faults.filter((f) => {
    if (forgotten && parked.some((p) => p.layer === f.layer)) return false // told by the part that is touched
    const at = !f.steps.length || f.steps.includes(step?.id ?? '')
    const fits = forgotten ? f.forgotten : at && (f.layer === step?.layer || !step?.layer)
    if (!fits || seen.has(f.id)) return false
    seen.add(f.id)
    return true
  })
  const note = async (text: string, choice = '', at = step?.id ?? '') => {
    await send('fault', at, { text, choice })
    dialog.current?.close()
  }
  return (
    <dialog
      ref={dialog}
      className="modal"
      aria-label={forgotten ? 'A part was forgotten' : 'Something is wrong'}
      onClose={close}
    >
      <div className="modal-box">
        <h1>{forgotten ? 'A part was forgotten' : 'Something is wrong'}</h1>
        {asks ? (
          <fieldset className="mt-2 grid gap-2 sm:grid-cols-2">
            <legend className="field-label mb-1">Which one is it?</legend>
            {steps.map((s) => (
              <button
                key={s.id}
                type="button"
                aria-pressed={piece === s.id}
                className={`btn min-h-12 justify-start ${piece === s.id ? 'btn-primary' : ''}`}
                onClick={() => setPiece(s.id)}
              >
                {s.title}
              </button>
            ))}
          </fieldset>
        ) : (
          step && <p className="quiet">at: {step.title}</p>
        )}
        {forgotten && (
          <Threaded
            work={work}
            take={(part, words) =>
              note(`${words} was forgotten`, missing(part.layer) ?? here[0]?.id ?? '', part.step || step?.id)
            }
          />
        )}
        <ul className={`rows mt-3 ${asks && !piece ? 'hidden' : ''}`}>
          {here.map((f) => (
            <li key={f.id} className="py-3">
              {!forgotten && <p className="text-lg font-semibold">{f.seen}</p>}
              <p className="quiet">Often: {f.causes.join('; ')}.</p>
              <p className="quiet">May be done: {f.mends.map((m) => m.words.toLowerCase()).join('; ')}.</p>
              {!forgotten && (
                <button type="button" className="btn mt-2 min-h-12" onClick={() => note(f.seen, f.id)}>
                  This is it: stop and mend it
                </button>
              )}
            </li>
          ))}
          <li className="flex flex-col gap-2 py-3">
            <label className="field-label" htmlFor="fault-words">
              {forgotten ? 'Another part, in your words' : 'Something else, in your words'}
            </label>
            <input
              id="fault-words"
              className="input w-full"
              value={words}
              onChange={(e) => setWords(e.target.value)}
            />
            <button
              type="button"
              className="btn min-h-12"
              disabled={!words.trim()}
              onClick={() => note(words.trim())}
            >
              Note it and stop here
            </button>
          </li>
        </ul>
        <div className="modal-action">
          <button type="button" className="btn btn-primary min-h-12" onClick={() => dialog.current?.close()}>
            Nothing is wrong
          </button>
        </div>
      </div>
    </dialog>
  )
}

/** What may be wrong here: the steps of this place; where one only looks, also those whose work it looks at. */
function lookedAt(work: Props['work'], now: Props['steps']): Props['steps'] {
  const own = (s: Props['steps'][number]) =>
    work.plan.faults.some((f) => f.layer === s.layer && (!f.steps.length || f.steps.includes(s.id)))
  const looked = (s: Props['steps'][number]) =>
    s.kind === 'inspect' && !own(s)
      ? work.plan.steps.filter((o) => s.needs.includes(o.id) && o.kind !== 'inspect' && own(o))
      : []
  return [...now, ...now.flatMap(looked).filter((o) => !now.includes(o))]
}

/** The parts that should have been threaded on, by the end they wait on: the one that is missing is touched. */
function Threaded({
  work,
  take,
}: {
  work: Props['work']
  take: (part: Schemas['ParkedOut'], words: string) => void
}) {
  const tails = (work.plan.park?.by_end ?? []).filter((tail) => tail.parts.length)
  if (!tails.length) return null
  return (
    <fieldset className="mt-2 flex flex-col gap-2">
      <legend className="field-label mb-1">Which one is missing? Touching it stops the joint here.</legend>
      {tails.flatMap((tail) =>
        tail.parts.map((e) => {
          const title = work.plan.parts.find((p) => p.layer === e.layer)?.title ?? (e.title || e.part_id)
          const on = e.track === 'sheath' ? `on the ${work.plan.park?.skin}` : `on core ${e.track}`
          return (
            <button
              key={e.step}
              type="button"
              className="btn h-auto min-h-12 justify-between py-2 text-left"
              onClick={() => take(e, `${title}, end ${tail.end}`)}
            >
              <span>{title}</span>
              <span className="font-normal">
                {on}, end {tail.end}
              </span>
            </button>
          )
        }),
      )}
    </fieldset>
  )
}
