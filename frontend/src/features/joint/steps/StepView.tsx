import { Gauge, Hand } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import { ApiError, type Schemas } from '../../../api/client'
import { Caution } from '../../../components/notes'
import { Ribbon } from '../../../components/Ribbon'
import { countdown, running } from '../../../model/clock'
import { fails, limited, outside } from '../../../model/gates'
import { length, sign } from '../../../model/units'
import { useSession } from '../../../session'
import { useSettings } from '../../../settings'
import type { About, Step, useEvents, WorkProps } from '../useWork'
import { CureClock } from './CureClock'
import { LotPick } from './LotPick'
import { Outside } from './Outside'
import { lookedAt, PassFail } from './PassFail'
import { Pictures } from './Pictures'
import { PinSign } from './PinSign'
import { PrintLabel } from './PrintLabel'
import { instrumentName, Reading, useInstrument } from './Reading'
import { ToolPick, toolsFor } from './ToolPick'
import { useTick } from './useTick'
import { action, batchText, batchTitle } from './words'
import { builtOf, workers } from './work'

const TAP_GUARD_MS = 350
type Values = Record<string, Record<string, number | null>>

interface Props extends WorkProps {
  steps: Step[]
  send: ReturnType<typeof useEvents>
  works: boolean
  replan?: () => Promise<void>
}

/** What to do, a picture of just that place, the target, the caution, one large action. */
export function StepView({ steps, work, states, labels, outbox, send, works, replan }: Props) {
  const { unit } = useSettings()
  const session = useSession()
  const [picked, setPicked] = useState<Set<string>>(() => new Set(steps.map((s) => s.id)))
  const [values, setValues, confirmed] = useTyped(work, states, steps)
  const [lots, setLots] = useState<Record<string, string>>({})
  const lotFor = (s: Step) =>
    lots[s.id] ?? work.plan.parts.find((p) => p.layer === s.layer && p.part_id === s.part_id)?.lot ?? ''
  const [reasons, setReasons] = useState<Record<string, string>>({})
  const [pin, setPin] = useState(false)
  const fresh = useFresh()
  const wait = useWait(work, states, steps, values)
  const step = steps[0]
  if (!step) return null
  const batch = steps.length > 1
  const state = states.find((s) => s.id === step.id)
  const chosen = batch ? steps.filter((s) => picked.has(s.id)) : [step]
  const read = (s: Step, gate: string) => values[s.id]?.[gate] ?? null
  const set = (s: Step, gate: string) => (v: number | null) =>
    setValues((now) => ({ ...now, [s.id]: { ...now[s.id], [gate]: v } }))
  const figure = batch ? undefined : step.gates.find((g) => g.target !== null)
  const readings = batch ? [] : step.gates.filter((g) => g.target === null)
  const missing = readings.filter((g) => g.required && read(step, g.id) === null)
  const failing = readings.filter((g) => fails(g, read(step, g.id)))
  const off = chosen.flatMap((s) => s.gates.filter((g) => outside(g, read(s, g.id))).map((g) => ({ s, g })))
  const asks = off.filter(({ s }) => !reasons[s.id])
  const focus = step.focus_mm ? ([step.focus_mm[0] ?? 0, step.focus_mm[1] ?? 0] as [number, number]) : null
  const needsOther = step.second_person && workers(work, step.hold).has(session.name)
  const kinds = step.tools ?? []
  const confirm = (signature?: Schemas['EventIn']['signature']) => {
    const tools = toolsFor(work, kinds)
    const about: About[] = chosen.map((s) => ({
      step: s.id,
      values: given(values[s.id]),
      text: reasons[s.id] ?? '',
      tools,
      lot: s.part_id ? lotFor(s) : '',
      ...(signature ? { signature } : {}),
    }))
    confirmed()
    return send('done', about)
  }
  const again = async (s: Step, gate: string) => {
    await send('reading', { step: s.id, values: { [gate]: read(s, gate) ?? 0 } })
    await replan?.()
  }
  return (
    <article className="flex flex-col gap-x-10 gap-y-3 lg:grid lg:grid-cols-2" aria-live="polite">
      <div className="contents min-w-0 flex-col gap-3 lg:flex">
        {work.plan.section && focus && !lookedAt(step) && (
          <div className="border border-base-300 bg-base-100 lg:hidden">
            <Ribbon
              section={work.plan.section}
              labels={labels}
              height={128}
              range={focus}
              built={builtOf(work, states)}
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
        {figure && (
          <p className="text-7xl leading-none font-bold">
            {length(figure.target ?? 0, unit)}
            <span className="text-3xl lg:text-4xl"> {sign(unit)}</span>
            <span className="quiet block text-2xl font-normal">
              {figure.label} · ±{length(figure.tolerance ?? 0, unit)}
            </span>
          </p>
        )}
        <h1 className="text-3xl lg:text-4xl">{batch ? batchTitle(steps) : step.title}</h1>
        {state?.state === 'again' && <Caution>{state.why}. Check it and confirm again.</Caution>}
        {step.text && <p className="text-xl">{batch ? batchText(steps) : step.text}</p>}
        {batch && (
          <ul className="rows">
            {steps.map((s) => (
              <Row
                key={s.id}
                joint={work.ref}
                step={s}
                picked={picked.has(s.id)}
                toggle={() => setPicked((now) => toggled(now, s.id))}
                value={(gate) => read(s, gate)}
                set={(gate) => set(s, gate)}
                lot={lotFor(s)}
                takeLot={(lot) => setLots((now) => ({ ...now, [s.id]: lot }))}
              />
            ))}
          </ul>
        )}
        {off.map(({ s, g }) => (
          <Outside
            key={s.id}
            gate={g}
            title={s.title}
            value={read(s, g.id) ?? 0}
            reason={reasons[s.id] ?? ''}
            again={() => set(s, g.id)(null)}
            replan={replan && s.id.startsWith('cut.core') ? () => again(s, g.id) : undefined}
            keep={(reason) => setReasons((now) => ({ ...now, [s.id]: reason }))}
          />
        ))}
        <PassFail steps={steps} work={work} labels={labels} />
      </div>
      <div className="contents min-w-0 flex-col gap-3 lg:flex">
        {step.caution && <Caution>{step.caution}</Caution>}
        {kinds.length > 0 && works && <ToolPick work={work} kinds={kinds} heat={step.heat_c ?? null} />}
        {!batch && works && step.part_id && lotFor(step) && (
          <div className="flex items-center justify-between gap-3 text-lg">
            <span>
              Lot of {work.plan.parts.find((p) => p.part_id === step.part_id)?.name ?? step.part_id}
            </span>
            <LotPick
              part={step.part_id}
              lot={lotFor(step)}
              take={(lot) => setLots((now) => ({ ...now, [step.id]: lot }))}
            />
          </div>
        )}
        {readings.length > 0 && !step.cure && works && (
          <div className="flex flex-col gap-2">
            <ReadAll joint={work.ref} step={step} take={(gate, v) => set(step, gate)(v)} />
            {readings.map((g) => (
              <Reading
                key={g.id}
                joint={work.ref}
                step={step.id}
                gate={g}
                value={read(step, g.id)}
                set={set(step, g.id)}
              />
            ))}
          </div>
        )}
        {figure && works && (
          <Reading
            joint={work.ref}
            step={step.id}
            gate={{ ...figure, label: 'As measured, if you read it' }}
            value={read(step, figure.id)}
            set={set(step, figure.id)}
          />
        )}
        {step.cure && <CureClock work={work} outbox={outbox} step={step} send={send} works={works} />}
        {step.photo && <Pictures work={work} outbox={outbox} step={step.id} send={send} works={works} />}
        {step.kind === 'label' && works && <PrintLabel joint={work.ref} />}
        {needsOther && (
          <Caution>
            This needs a second person: you did part of this work.{' '}
            {step.kind === 'sign'
              ? 'A verifier signs it under Sign, with their own account.'
              : 'They sign here with their PIN.'}
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
                disabled={fresh || !chosen.length || missing.length > 0 || asks.length > 0 || wait > 0}
                onClick={() => (needsOther ? setPin(true) : void confirm())}
              >
                {wait > 0
                  ? Number.isFinite(wait)
                    ? `Wait ${countdown(wait)}`
                    : 'Too cold to cure'
                  : asks.length > 0
                    ? 'A figure is off: say what to do'
                    : needsOther
                      ? 'The second person signs'
                      : action(step, chosen.length, failing.length)}
              </button>
            </div>
          )
        )}
        {missing.length > 0 && works && (
          <p className="text-lg">Still to read: {missing.map((g) => g.label).join(', ')}.</p>
        )}
        {pin && (
          <PinSign
            title={step.title}
            verifiers={work.verifiers}
            pinKey={work.pin_key}
            done={(signature) => void confirm(signature)}
            close={() => setPin(false)}
          />
        )}
      </div>
    </article>
  )
}

function given(values: Record<string, number | null> | undefined): Record<string, number> {
  return Object.fromEntries(
    Object.entries(values ?? {}).filter((e): e is [string, number] => typeof e[1] === 'number'),
  )
}

function toggled(set: Set<string>, id: string): Set<string> {
  const next = new Set(set)
  if (!next.delete(id)) next.add(id)
  return next
}

interface RowProps {
  joint: string
  step: Step
  picked: boolean
  toggle: () => void
  value: (gate: string) => number | null
  set: (gate: string) => (v: number | null) => void
  lot: string
  takeLot: (lot: string) => void
}

/** A step of a batch: ticked, its figure, and its reading if it was read. */
function Row({ joint, step, picked, toggle, value, set, lot, takeLot }: RowProps) {
  const { unit } = useSettings()
  const gate = step.gates[0]
  return (
    <li className="flex items-center gap-2 py-1">
      <label className="flex min-h-14 grow cursor-pointer items-center gap-3 text-xl">
        <input
          type="checkbox"
          className="checkbox checkbox-primary checkbox-lg"
          checked={picked}
          onChange={toggle}
        />
        <span className="grow">
          {step.title}
          {step.batch === 'park' && <span className="quiet block text-base">{step.text}</span>}
        </span>
        {gate?.target != null && (
          <b className="text-2xl whitespace-nowrap">
            {length(gate.target, unit)}{' '}
            <span className="quiet text-base font-normal">±{length(gate.tolerance ?? 0, unit)}</span>
          </b>
        )}
      </label>
      {step.kind === 'park' && lot && <LotPick part={step.part_id} lot={lot} take={takeLot} />}
      {gate?.target != null && (
        <Reading
          joint={joint}
          step={step.id}
          gate={{ ...gate, label: `${step.title}, as measured` }}
          value={value(gate.id)}
          set={set(gate.id)}
          compact
        />
      )}
    </li>
  )
}

/** Every reading of one instrument by one touch. */
function ReadAll({
  joint,
  step,
  take,
}: {
  joint: string
  step: Step
  take: (gate: string, v: number) => void
}) {
  const read = useInstrument(joint)
  const [words, setWords] = useState('')
  const groups = new Map<string, Step['gates']>()
  for (const g of step.gates)
    if (g.instrument && limited(g)) groups.set(g.instrument, [...(groups.get(g.instrument) ?? []), g])
  const many = [...groups].filter(([, gates]) => gates.length > 1)
  const all = async (gates: Step['gates']) => {
    setWords('')
    try {
      for (const g of gates) take(g.id, await read(step.id, g))
    } catch (fault) {
      const told = fault instanceof ApiError && !fault.offline
      setWords(told ? fault.problem.detail : 'No connection to the instrument now: type the readings.')
    }
  }
  return (
    <>
      {many.map(([kind, gates]) => (
        <button key={kind} type="button" className="btn btn-tall" onClick={() => void all(gates)}>
          <Gauge aria-hidden /> Read all {gates.length} from {instrumentName(kind)}
        </button>
      ))}
      {words && (
        <p className="font-medium text-error" role="alert">
          {words}
        </p>
      )}
    </>
  )
}

/** Readings not confirmed yet; a reload or a fallen tablet does not lose them. */
function useTyped(work: WorkProps['work'], states: WorkProps['states'], steps: Step[]) {
  const key = `typed:${work.ref}:${work.number}:${work.progress.attempt}:${steps[0]?.id}`
  const [values, setValues] = useState<Values>(() => {
    const noted = steps.map((s) => [s.id, { ...states.find((x) => x.id === s.id)?.values }] as const)
    const typed = JSON.parse(localStorage.getItem(key) ?? '{}') as Values
    return Object.fromEntries(noted.map(([id, v]) => [id, { ...v, ...typed[id] }]))
  })
  useEffect(() => {
    const some = Object.values(values).some((v) => Object.values(v).some((x) => x !== null))
    if (some) localStorage.setItem(key, JSON.stringify(values))
    else localStorage.removeItem(key)
  }, [key, values])
  return [values, setValues, () => localStorage.removeItem(key)] as const
}

/** How long the steps still have to wait, ms; a reading that passes its gate ends the wait that names it. */
function useWait(
  work: WorkProps['work'],
  states: WorkProps['states'],
  steps: Step[],
  values: Values,
): number {
  const ids = new Set(steps.map((s) => s.id))
  const mine = running(work.plan.steps, states).filter((r) => ids.has(r.step) && r.readyAt !== null)
  const open = mine.filter((r) => {
    const step = steps.find((s) => s.id === r.step)
    const gate = step?.gates.find((g) => g.id === r.timer.unless_gate)
    const value = gate ? values[r.step]?.[gate.id] : null
    return !(gate && typeof value === 'number' && !fails(gate, value))
  })
  const cures = work.progress.cures.filter((c) => ids.has(c.step))
  const cured = cures.map((c) => (c.full_at ? Date.parse(c.full_at) : Number.POSITIVE_INFINITY))
  const latest = Math.max(0, ...open.map((r) => r.readyAt ?? 0), ...cured)
  const at = useTick(latest > 0)
  return Math.max(0, latest - at)
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
