import { Hand } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import { NumberField, QuantityField } from '../../components/fields'
import { Caution } from '../../components/notes'
import { Ribbon } from '../../components/Ribbon'
import { length, sign } from '../../model/units'
import { useSession } from '../../session'
import { useSettings } from '../../settings'
import type { useEvents, WorkProps } from './useWork'

type Step = WorkProps['work']['plan']['steps'][number]
type Gate = Step['gates'][number]
const TAP_GUARD_MS = 350
type Send = ReturnType<typeof useEvents>

interface Props {
  steps: Step[]
  work: WorkProps['work']
  states: WorkProps['states']
  labels: WorkProps['labels']
  send: Send
  works: boolean
}

/** What to do, a picture of just that place, the target, the caution, one large action. */
export function StepView({ steps, work, states, labels, send, works }: Props) {
  const { unit } = useSettings()
  const session = useSession()
  const [picked, setPicked] = useState<Set<string>>(() => new Set(steps.map((s) => s.id)))
  const [values, setValues] = useState<Record<string, number | null>>(
    () => states.find((s) => s.id === steps[0]?.id)?.values ?? {},
  )
  const fresh = useFresh()
  const step = steps[0]
  if (!step) return null
  const batch = steps.length > 1
  const state = states.find((s) => s.id === step.id)
  const gate = !batch ? step.gates.find((g) => g.target !== null) : undefined
  const readings = step.gates.filter((g) => g.least !== null || g.most !== null)
  const missing = batch ? [] : readings.filter((g) => g.required && typeof values[g.id] !== 'number')
  const failing = batch ? [] : readings.filter((g) => fails(g, values[g.id]))
  const chosen = batch ? steps.filter((s) => picked.has(s.id)) : [step]
  const given = Object.fromEntries(
    Object.entries(values).filter((e): e is [string, number] => typeof e[1] === 'number'),
  )
  const built = builtOf(work, states)
  const focus = step.focus_mm ? ([step.focus_mm[0] ?? 0, step.focus_mm[1] ?? 0] as [number, number]) : null
  const needsOther = step.second_person && workers(work).has(session.name)
  const confirm = () =>
    send(
      'done',
      chosen.map((s) => s.id),
      batch ? {} : { values: given },
    )
  return (
    <article className="flex flex-col gap-x-10 gap-y-3 lg:grid lg:grid-cols-2" aria-live="polite">
      <div className="contents min-w-0 flex-col gap-3 lg:flex">
        {work.plan.section && focus && (
          <div className="border border-base-300 bg-base-100 lg:hidden">
            <Ribbon
              section={work.plan.section}
              labels={labels}
              height={128}
              range={focus}
              built={built}
              lit={new Set(steps.map((s) => s.layer))}
              bare
            />
            <p className="quiet px-3 pb-1 text-sm">
              {step.end ? `end ${step.end}` : 'at the joint'}, to scale
            </p>
          </div>
        )}
        {step.hold && (
          <p className="flex items-center gap-2 text-lg font-semibold text-warning">
            <Hand size={22} aria-hidden /> Hold: {step.hold.replaceAll('-', ' ')}
          </p>
        )}
        {gate && (
          <p className="text-7xl leading-none font-bold">
            {length(gate.target ?? 0, unit)}
            <span className="text-3xl lg:text-4xl"> {sign(unit)}</span>
            <span className="quiet block text-2xl font-normal">
              {gate.label} · ±{length(gate.tolerance ?? 0, unit)}
            </span>
          </p>
        )}
        <h1 className="text-3xl lg:text-4xl">{batch ? batchTitle(steps) : step.title}</h1>
        {state?.state === 'again' && <Caution>{state.why}. Check it and confirm again.</Caution>}
        {step.text && <p className="text-xl">{batch ? batchText(step) : step.text}</p>}
        {batch && (
          <ul className="rows">
            {steps.map((s) => (
              <li key={s.id}>
                <label className="flex min-h-14 cursor-pointer items-center gap-3 text-xl">
                  <input
                    type="checkbox"
                    className="checkbox checkbox-primary checkbox-lg"
                    checked={picked.has(s.id)}
                    onChange={() => {
                      const next = new Set(picked)
                      if (!next.delete(s.id)) next.add(s.id)
                      setPicked(next)
                    }}
                  />
                  <span className="grow">{s.title}</span>
                  {s.gates[0]?.target && (
                    <b className="text-2xl">
                      {length(s.gates[0].target, unit)}{' '}
                      <span className="quiet text-base font-normal">
                        ±{length(s.gates[0].tolerance ?? 0, unit)}
                      </span>
                    </b>
                  )}
                </label>
              </li>
            ))}
          </ul>
        )}
      </div>
      <div className="contents min-w-0 flex-col gap-3 lg:flex">
        {step.caution && <Caution>{step.caution}</Caution>}
        {step.look && (
          <p className="border-l-6 border-success bg-base-100 px-4 py-2 text-lg">
            <b>Good:</b> {step.look}
          </p>
        )}
        {step.fails && (
          <p className="border-l-6 border-error bg-base-100 px-4 py-2 text-lg">
            <b>Not good:</b> {step.fails}
          </p>
        )}
        {!batch && readings.length > 0 && (
          <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
            {readings.map((g) => (
              <Reading
                key={g.id}
                gate={g}
                value={values[g.id] ?? null}
                set={(v) => setValues((now) => ({ ...now, [g.id]: v }))}
              />
            ))}
          </div>
        )}
        {!batch && gate && (
          <QuantityField
            label="As measured, if you read it"
            mm={values[gate.id] ?? null}
            onChange={(v) => setValues((now) => ({ ...now, [gate.id]: v }))}
            error={
              outside(gate, values[gate.id])
                ? 'Outside the tolerance: cut again, measure again for a new plan, or note why it may stay'
                : undefined
            }
          />
        )}
        {step.kind === 'label' && (
          <a
            className="btn btn-tall"
            href={`/api/v1/joints/${work.ref}/label.pdf`}
            target="_blank"
            rel="noreferrer"
          >
            Print the label
          </a>
        )}
        {needsOther && (
          <Caution>
            This needs a second person: you did part of this work. A verifier signs it under Sign, with their
            own account.
          </Caution>
        )}
        {step.kind === 'sign' ? (
          <Link className="btn btn-primary btn-tall" to={`/joints/${work.ref}/sign`}>
            To Sign
          </Link>
        ) : (
          works && (
            <div className="sticky bottom-0 z-10 flex flex-col bg-base-200 pt-2 pb-[max(0.5rem,env(safe-area-inset-bottom))] lg:static">
              <button
                type="button"
                className={`btn btn-huge ${step.hold ? 'btn-warning' : 'btn-primary'}`}
                disabled={fresh || !chosen.length || missing.length > 0 || needsOther}
                onClick={confirm}
              >
                {action(step, chosen.length, failing.length)}
              </button>
            </div>
          )
        )}
        {missing.length > 0 && (
          <p className="text-lg">Still to read: {missing.map((g) => g.label).join(', ')}.</p>
        )}
      </div>
    </article>
  )
}

/** True for a moment after a step appears, so that a second tap on the last one does not confirm it. */
function useFresh(): boolean {
  const [fresh, setFresh] = useState(true)
  useEffect(() => {
    const timer = setTimeout(() => setFresh(false), TAP_GUARD_MS)
    return () => clearTimeout(timer)
  }, [])
  return fresh
}

function batchTitle(steps: Step[]): string {
  const first = steps[0]
  if (!first) return ''
  const words: Record<string, string> = {
    'cores-A': 'Cut the cores on A',
    'cores-B': 'Cut the cores on B',
    'strip-A': 'Strip the cores on A',
    'strip-B': 'Strip the cores on B',
    'park-cores-A': 'Thread the core sleeves, side A',
    'park-cores-B': 'Thread the core sleeves, side B',
    join: 'Crimp the cores',
    'surface-cores': 'Wipe the cores clean',
    'seal-cores': 'Shrink the core sleeves',
    'inspect-cores': 'Look at every core sleeve',
    'surface-sheath': 'Roughen both sheaths',
  }
  return words[first.batch] ?? first.title
}

function batchText(step: Step): string {
  return step.kind === 'cut' && step.batch.startsWith('cores')
    ? 'Each measured from the sheath cut, square, one core at a time.'
    : step.text
}

function action(step: Step, count: number, failing: number): string {
  if (failing) return 'Note it: this does not pass'
  if (step.hold) return 'Sign this hold'
  const words: Record<string, string> = {
    cut: 'Cut',
    park: 'Threaded on',
    join: 'Crimped',
    surface: 'Clean',
    seal: 'Shrunk',
    inspect: 'Looked at, good',
    test: 'Readings stand',
    wait: 'It is cool',
    label: 'It is fixed',
  }
  const word = words[step.kind] ?? 'Done'
  return count > 1 ? `${word}: ${count === 2 ? 'both' : `all ${count}`}` : word
}

function Reading({
  gate,
  value,
  set,
}: {
  gate: Gate
  value: number | null
  set: (v: number | null) => void
}) {
  const words =
    gate.least !== null ? `at least ${gate.least} ${gate.unit}` : `at most ${gate.most} ${gate.unit}`
  return (
    <NumberField
      label={gate.label}
      unit={gate.unit}
      value={value}
      onChange={set}
      hint={words}
      error={fails(gate, value) ? `Does not pass: ${words}` : undefined}
    />
  )
}

function fails(gate: Gate, value: number | null | undefined): boolean {
  if (typeof value !== 'number') return false
  return (gate.least !== null && value < gate.least) || (gate.most !== null && value > gate.most)
}

function outside(gate: Gate, value: number | null | undefined): boolean {
  return (
    typeof value === 'number' &&
    gate.target !== null &&
    Math.abs(value - gate.target) > (gate.tolerance ?? 0) + 1e-9
  )
}

export function workers(work: WorkProps['work']): Set<string> {
  return new Set(
    work.events
      .filter(
        (e) =>
          e.kind === 'done' &&
          !['gate', 'sign'].includes(work.plan.steps.find((s) => s.id === e.step)?.kind ?? ''),
      )
      .map((e) => e.actor),
  )
}

export function builtOf(work: WorkProps['work'], states: WorkProps['states']): Set<string> {
  const done = new Set(states.filter((s) => s.state === 'done').map((s) => s.id))
  const layers = new Map<string, boolean>()
  for (const s of work.plan.steps)
    if (s.layer && ['join', 'seal'].includes(s.kind))
      layers.set(s.layer, (layers.get(s.layer) ?? true) && done.has(s.id))
  return new Set([...layers].filter(([, whole]) => whole).map(([layer]) => layer))
}
