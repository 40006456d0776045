import { Link } from 'react-router'
import { NotCounted } from '../../components/notes'
import { ParkStrip } from '../../components/ParkStrip'
import { firstBefore } from '../../model/progress'
import { useMay } from '../../session'
import { useEvents, type WorkProps } from './useWork'

export function Park({ work, states, outbox, labels }: WorkProps) {
  const send = useEvents(work, outbox)
  const works = useMay('jointer')
  const done = new Set(states.filter((s) => s.state === 'done').map((s) => s.id))
  const parked = work.plan.steps.filter((s) => s.kind === 'park')
  const left = parked.filter((s) => !done.has(s.id))
  const steps = new Map(work.plan.steps.map((s) => [s.id, s]))
  const waits = left.flatMap((s) => {
    const by = states.find((x) => x.id === s.id)?.locked_by ?? []
    return by.length ? [{ id: s.id, by: by.flatMap((b) => steps.get(b) ?? []) }] : []
  })
  const uncut = waits.filter((w) => w.by.some((b) => b.station === 'cut'))
  const first = new Map(waits.map((w) => [w.id, steps.get(firstBefore(states, w.id) ?? '')?.title ?? '']))
  const hold = work.plan.steps.find((s) => s.hold === 'parked')
  const signed = hold && done.has(hold.id)
  if (!parked.length)
    return (
      <div className="max-w-xl text-lg">
        <h1>Nothing to thread on</h1>
        <p className="mt-2">Every part of this one goes on in its turn.</p>
        <Link className="btn btn-primary mt-4" to={`/joints/${work.ref}/build`}>
          On to Build
        </Link>
      </div>
    )
  const named = (s: (typeof parked)[number]) =>
    work.plan.parts.find((p) => p.layer === s.layer)?.title ?? s.title
  const tick = (step: string) => send(done.has(step) ? 'undone' : 'done', step)
  return (
    <div>
      <h1>
        {left.length
          ? `${left.length} of ${parked.length} parts not threaded yet`
          : 'Everything is threaded on'}
      </h1>
      <p className="quiet text-lg" aria-live="polite">
        {left.length
          ? `Joining stays locked. Missing: ${left.map(named).join('; ')}.`
          : 'After joining none of these can be put on.'}
      </p>
      {uncut.length > 0 && (
        <p className="note mt-2">
          Not yet: {uncut.length === left.length ? 'these' : `${uncut.length} of these`} wait for what is done
          under Cut.{' '}
          <Link className="link" to={`/joints/${work.ref}/cut`}>
            To Cut
          </Link>
        </p>
      )}
      <div className="mt-5">
        <ParkStrip
          plan={work.plan}
          done={done}
          first={first}
          labels={labels}
          onTick={works ? tick : undefined}
        />
      </div>
      <NotCounted words={outbox.words} />
      <div className="mt-6 flex flex-col gap-3 sm:flex-row">
        {signed && (
          <Link className="btn btn-primary btn-tall sm:px-10" to={`/joints/${work.ref}/build`}>
            On to joining
          </Link>
        )}
        {hold && works && (
          <button
            type="button"
            className={`btn btn-tall sm:px-10 ${signed ? '' : 'btn-primary'}`}
            disabled={!signed && left.length > 0}
            onClick={() => send(signed ? 'undone' : 'done', hold.id)}
          >
            {signed ? 'Take the signature back' : 'Sign: everything is threaded on'}
          </button>
        )}
      </div>
    </div>
  )
}
