import { Hand } from 'lucide-react'
import { type ReactNode, useState } from 'react'
import { Link } from 'react-router'
import { Caution } from '../../../components/notes'
import { Ribbon } from '../../../components/Ribbon'
import { countdown } from '../../../model/clock'
import { fails, impossible, outside } from '../../../model/gates'
import { inOneGo } from '../../../model/progress'
import { rungWrong, tagsOf } from '../../../model/ringing'
import { length, sign } from '../../../model/units'
import { useMay, useSession } from '../../../session'
import { useSettings } from '../../../settings'
import { Breaks } from '../Breaks'
import type { About, Step, useEvents, WorkProps } from '../useWork'
import { Because } from './Because'
import { Compare } from './Compare'
import { CureClock } from './CureClock'
import { Excuse } from './Excuse'
import { inVain, useFresh, useWait } from './guards'
import { LotPick } from './LotPick'
import { Outside } from './Outside'
import { PassFail } from './PassFail'
import { Pictures } from './Pictures'
import { PinSign, type Signed } from './PinSign'
import { PrintLabel } from './PrintLabel'
import { ReadAll } from './ReadAll'
import { Reading } from './Reading'
import { Row } from './Row'
import { eventOf, useReadings } from './readings'
import { Tags } from './Tags'
import { TesterFile } from './TesterFile'
import { type Accepted, kindsOf, lackingTools, ToolPick, toolsFor } from './ToolPick'
import { action, batchText, batchTitle, leafletWords, ownText, together } from './words'
import { builtOf, didWork } from './work'

const SPARE = 6 // figures that may all be left out are folded away from so many on
const LONG = 140 // letters of an instruction that on a phone comes before the picture of its place

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
  const { readings, read, set, confirmed } = useReadings(work, states, steps)
  const [lots, setLots] = useState<Record<string, string>>({})
  const lotFor = (s: Step) =>
    lots[s.id] ?? work.plan.parts.find((p) => p.layer === s.layer && p.part_id === s.part_id)?.lot ?? ''
  const [reasons, setReasons] = useState<Record<string, string>>({})
  const [pin, setPin] = useState(false)
  const [accepted, setAccepted] = useState<Accepted>({})
  const verifies = useMay('verifier')
  const fresh = useFresh()
  const batch = steps.length > 1
  const wanted = steps.filter((s) => picked.has(s.id))
  const chosen = batch ? inOneGo(wanted, states) : steps
  const wait = useWait(work, states, chosen, readings)
  const step = steps[0]
  if (!step) return null
  const state = states.find((s) => s.id === step.id)
  const apart = chosen.filter((s) => s.kind !== 'wait').map((s) => s.id)
  const words = batch ? batchText(steps) : step.text
  const long = (words ?? '').length > LONG
  const caution = together(steps, 'caution')
  const behind = wanted.filter((s) => batch && !chosen.includes(s))
  const value = (s: Step, gate: string) => read(s.id, gate)?.value ?? null
  // one length to work to is the largest thing on the screen; everything else that is read has a field of its own
  const figures = batch ? [] : step.gates.filter((g) => g.target !== null)
  const figure = figures.length === 1 && figures[0]?.unit === 'mm' ? figures[0] : undefined
  const fields = batch || step.cure ? [] : step.gates.filter((g) => g !== figure)
  const unread = (s: Step) => s.gates.filter((g) => value(s, g.id) === null && !s.cure)
  const excusable = chosen.flatMap((s) => unread(s).filter((g) => g.excuse))
  const missing = chosen.flatMap((s) => unread(s).filter((g) => (g.excuse ? !reasons[s.id] : g.required)))
  const never = chosen.flatMap((s) => s.gates.filter((g) => impossible(g, value(s, g.id))))
  const failing = chosen.flatMap((s) => s.gates.filter((g) => fails(g, value(s, g.id))))
  const off = chosen.flatMap((s) => s.gates.filter((g) => outside(g, value(s, g.id))).map((g) => ({ s, g })))
  const asks = off.filter(({ s }) => !reasons[s.id])
  const rung = Object.fromEntries(step.gates.map((g) => [g.id, value(step, g.id)]))
  const wrong = rungWrong(step, rung)
  // many figures of which none must be read: only what is otherwise than it should be
  const expected = step.kind !== 'identify' || fields.every((g) => g.target !== null) // else each is to be found out
  const spare = fields.length > SPARE && expected && fields.every((g) => !g.required)
  const focus = step.focus_mm ? ([step.focus_mm[0] ?? 0, step.focus_mm[1] ?? 0] as [number, number]) : null
  const needsOther = step.second_person && didWork(work, step, session, outbox.here)
  const kindsFor = (s: Step) =>
    kindsOf(
      work,
      s,
      s.gates.filter((g) => value(s, g.id) !== null).map((g) => g.id),
    )
  const kinds = kindsFor(step)
  const lacking = lackingTools(work, step.tools, accepted)
  const unsaid = Object.keys(accepted).length > 0 && chosen.some((s) => !reasons[s.id])
  const abouts: About[] = chosen.map((s) => ({
    step: s.id,
    ...eventOf(readings[s.id]),
    text: reasons[s.id] ?? '',
    tools: toolsFor(work, kindsFor(s), accepted),
    lot: s.part_id ? lotFor(s) : '',
  }))
  const vain = inVain(work, abouts)
  const cold = !Number.isFinite(wait)
  const holding: [boolean, string][] = [
    [wait > 0, cold ? 'Too cold to cure' : `Wait ${countdown(wait)}`],
    [missing.length > 0, `${missing.length} ${missing.length === 1 ? 'reading' : 'readings'} to go`],
    [lacking.length > 0, 'A tool is past its date'],
    [unsaid, 'Say why the tool serves'],
    [asks.length + wrong.length + never.length > 0, 'A figure is off: say what to do'],
  ]
  const held = holding.find(([holds]) => holds)?.[1] // what it waits for, in words for the button
  const bare = step.photo && !work.progress.photos[step.id]?.length && !pictured(outbox, step.id)
  const confirm = (signed?: Signed) => {
    confirmed()
    return send(
      'done',
      signed ? abouts.map((a) => ({ ...(a as Exclude<About, string>), ...signed })) : abouts,
    )
  }
  const again = async (s: Step, gate: string) => {
    await send('reading', { step: s.id, ...eventOf({ [gate]: read(s.id, gate) }) })
    await replan?.()
  }
  const place = work.plan.section && focus && !step.pictured && (
    <div className="border border-base-300 bg-base-100 lg:hidden">
      <Ribbon
        section={work.plan.section}
        labels={labels}
        height={128}
        range={focus}
        built={builtOf(work, states)}
        lit={new Set(steps.map((s) => s.layer))}
        routes={steps.flatMap((s) => s.routes)}
        bare
      />
      <p className="quiet px-3 pb-1 text-sm">{step.end ? `end ${step.end}` : 'at the joint'}, to scale</p>
    </div>
  )
  return (
    <article className="flex flex-col gap-x-10 gap-y-3 lg:grid lg:grid-cols-2" aria-live="polite">
      <div className="contents min-w-0 flex-col gap-3 lg:flex">
        {!long && place}
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
        {leafletWords(steps) && <p className="quiet">{leafletWords(steps)}</p>}
        {state?.state === 'again' && <Caution>{state.why}. Check it and confirm again.</Caution>}
        {words && <p className="text-xl">{words}</p>}
        {long && place}
        {step.hold === 'measured' && <Compare work={work} />}
        {batch && (
          <ul className="rows">
            {steps.map((s) => (
              <Row
                key={s.id}
                joint={work.ref}
                step={s}
                words={ownText(s, steps)}
                picked={picked.has(s.id)}
                toggle={() => setPicked((now) => toggled(now, s.id))}
                read={(gate) => read(s.id, gate)}
                set={(gate) => set(s.id, gate)}
                instruments={work.instruments}
                lot={lotFor(s)}
                takeLot={(lot) => setLots((now) => ({ ...now, [s.id]: lot }))}
              />
            ))}
          </ul>
        )}
        {behind.length > 0 && (
          <p className="text-lg font-medium text-error" role="status">
            Not yet: {behind.map((s) => s.title).join('; ')}. What is left out above comes first.
          </p>
        )}
        {wrong.length > 0 && (
          <ul className="note text-lg font-semibold" role="status">
            {wrong.map((words) => (
              <li key={words}>{words.slice(0, 1).toUpperCase() + words.slice(1)}</li>
            ))}
          </ul>
        )}
        {off.map(({ s, g }) => (
          <Outside
            key={`${s.id}:${g.id}`}
            gate={g}
            title={figures.length > 1 ? `${s.title}, ${g.label}` : s.title}
            value={value(s, g.id) ?? 0}
            reason={reasons[s.id] ?? ''}
            again={() => set(s.id, g.id)(null)}
            replan={replan && s.recut ? () => again(s, g.id) : undefined}
            keep={(reason) => setReasons((now) => ({ ...now, [s.id]: reason }))}
          />
        ))}
        <PassFail steps={steps} work={work} labels={labels} />
      </div>
      <div className="contents min-w-0 flex-col gap-3 lg:flex">
        {caution && <Caution>{caution}</Caution>}
        <Breaks plan={work.plan} steps={steps} />
        {kinds.length > 0 && works && (
          <ToolPick
            work={work}
            kinds={kinds}
            heat={step.heat_c ?? null}
            accepted={accepted}
            accept={verifies ? (kind, tool) => setAccepted((now) => ({ ...now, [kind]: tool })) : undefined}
          />
        )}
        {unsaid && (
          <section className="note" aria-label="Why a tool past its date serves">
            <p className="text-lg font-semibold">
              It is told in the record, with your name: why does a tool past its date serve?
            </p>
            <Because
              reasons={['compared today with one that is in date', 'its certificate is on its way and seen']}
              keep={(reason) =>
                setReasons((now) => ({ ...now, ...Object.fromEntries(chosen.map((s) => [s.id, reason])) }))
              }
            />
          </section>
        )}
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
        {fields.length > 0 && works && (
          <div className="flex flex-col gap-2">
            <ReadAll
              joint={work.ref}
              step={step}
              instruments={work.instruments}
              read={(gate) => read(step.id, gate)}
              set={(gate) => set(step.id, gate)}
            />
            {step.kind === 'test' && fields.length > 1 && (
              <TesterFile joint={work.ref} step={step} set={(gate) => set(step.id, gate)} />
            )}
            <Folded folded={spare} words={`Is one otherwise? Type it; all ${fields.length} may be left out`}>
              {fields.map((g) => (
                <Reading
                  key={g.id}
                  joint={work.ref}
                  step={step.id}
                  gate={g}
                  taken={read(step.id, g.id)}
                  set={set(step.id, g.id)}
                  instruments={work.instruments}
                  trend={work.trends.find((t) => t.step === step.id && t.gate === g.id)}
                />
              ))}
            </Folded>
          </div>
        )}
        {excusable.length > 0 && works && (
          <Excuse
            gates={excusable}
            reason={chosen.map((s) => reasons[s.id]).find(Boolean) ?? ''}
            keep={(reason) =>
              setReasons((now) => ({
                ...now,
                ...Object.fromEntries(
                  chosen.filter((s) => s.gates.some((g) => g.excuse)).map((s) => [s.id, reason]),
                ),
              }))
            }
          />
        )}
        <Tags tags={tagsOf(step, rung)} walked={step.pairs.length > 0} />
        {figure && works && (
          <Reading
            joint={work.ref}
            step={step.id}
            gate={{
              ...figure,
              label: figure.required ? 'As measured' : 'As measured; may be left out',
            }}
            taken={read(step.id, figure.id)}
            set={set(step.id, figure.id)}
            instruments={work.instruments}
          />
        )}
        {step.cure && <CureClock work={work} outbox={outbox} step={step} send={send} works={works} />}
        {step.photo && <Pictures work={work} outbox={outbox} step={step.id} send={send} works={works} />}
        {bare && works && (
          <p className="text-lg">
            A photograph is asked for here. Without one, the record says that it is missing.
          </p>
        )}
        {step.kind === 'label' && works && <PrintLabel work={work} />}
        {needsOther && (
          <Caution>
            This needs a second person: you did part of this work.{' '}
            {step.kind === 'sign'
              ? 'A verifier signs it under Sign, with their own account.'
              : 'They sign here with their PIN.'}
          </Caution>
        )}
        {/* above the button: what goes away below it would move it under the hand */}
        {missing.length > 0 && works && (
          <p className="text-lg">Still to read: {missing.map((g) => g.label).join(', ')}.</p>
        )}
        {step.kind === 'sign' ? (
          <Link className="btn btn-primary btn-tall" to={`/joints/${work.ref}/sign`}>
            To Sign
          </Link>
        ) : (
          works && (
            <div className="sticky bottom-0 z-10 flex flex-col bg-base-200 pt-2 pb-[max(0.5rem,env(safe-area-inset-bottom))] lg:static">
              {batch && wait > 0 && apart.length > 0 && apart.length < chosen.length && (
                <button type="button" className="btn btn-tall mb-2" onClick={() => setPicked(new Set(apart))}>
                  Note now what need not wait
                </button>
              )}
              {vain && (
                <p className="pb-2 text-lg font-medium text-error" role="status">
                  Confirmed like this it did not count: {vain}. Change that first.
                </p>
              )}
              <button
                type="button"
                className={`btn btn-huge ${step.hold ? 'btn-warning' : 'btn-primary'}`}
                disabled={fresh || !chosen.length || held !== undefined || (vain !== '' && !needsOther)}
                onClick={() => (needsOther ? setPin(true) : void confirm())}
              >
                {held ??
                  (needsOther
                    ? 'The second person signs'
                    : action(chosen.length ? chosen : [step], failing.length))}
              </button>
            </div>
          )
        )}
        {pin && (
          <PinSign
            joint={work.ref}
            step={step}
            verifiers={work.verifiers.map((v) => ({ ...v, barred: didWork(work, step, v, outbox.here) }))}
            pinKey={work.pin_key}
            done={(signed) => void confirm(signed)}
            close={() => setPin(false)}
          />
        )}
      </div>
    </article>
  )
}

function Folded({ folded, words, children }: { folded: boolean; words: string; children: ReactNode }) {
  if (!folded) return <>{children}</>
  return (
    <details className="collapse collapse-arrow rounded-none border border-base-300 bg-base-100">
      <summary className="collapse-title min-h-12 text-lg font-semibold">{words}</summary>
      <div className="collapse-content flex flex-col gap-2">{children}</div>
    </details>
  )
}

function pictured(outbox: WorkProps['outbox'], step: string): boolean {
  return [...outbox.items, ...outbox.lately].some((i) => i.event.step === step && i.event.kind === 'photo')
}

function toggled(set: Set<string>, id: string): Set<string> {
  const next = new Set(set)
  if (!next.delete(id)) next.add(id)
  return next
}
