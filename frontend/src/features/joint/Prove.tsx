import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api, type Schemas, take } from '../../api/client'
import { NotCounted } from '../../components/notes'
import { offered } from '../../model/gates'
import { current } from '../../model/progress'
import { figure as plain } from '../../model/units'
import { day } from '../../model/when'
import { useMay } from '../../session'
import { StepView } from './steps/StepView'
import { useEvents, type WorkProps } from './useWork'
import { Verdict } from './Verdict'

/** Readings with their limits: what was taken before closing, what is taken now, and what they add up to. */
export function Prove({ work, states, outbox, labels }: WorkProps) {
  const send = useEvents(work, outbox)
  const works = useMay('jointer')
  const tests = work.plan.steps.filter((s) => s.kind === 'test')
  const measured = work.plan.steps.filter((s) => s.kind === 'test' || proofsOf(work, s.id).length)
  const now = current(work.plan, states, ['prove'])
  return (
    <div className="grid grid-cols-1 gap-8 lg:grid-cols-2">
      <section className="min-w-0">
        <h1>Readings</h1>
        {measured.map((t) => (
          <Proofs
            key={t.id}
            step={t}
            state={states.find((s) => s.id === t.id)}
            proofs={proofsOf(work, t.id)}
          />
        ))}
        {work.plan.trace && <Earlier joint={work.ref} />}
      </section>
      <section className="flex min-w-0 flex-col gap-4">
        <Verdict judgement={work.judgement} />
        {now.length ? (
          <StepView
            key={now[0]?.id}
            steps={now}
            work={work}
            states={states}
            labels={labels}
            outbox={outbox}
            send={send}
            works={works}
          />
        ) : (
          <p className="text-lg">
            {tests.every((t) => states.find((s) => s.id === t.id)?.state === 'done') ? (
              <>
                All readings stand.{' '}
                <Link className="link" to={`/joints/${work.ref}/sign`}>
                  On to Sign
                </Link>
              </>
            ) : (
              'The last readings are taken when the joint is sealed and cold.'
            )}
          </p>
        )}
        <NotCounted words={outbox.words} />
      </section>
    </div>
  )
}

/** What was read at the other connections of this line, to compare with. */
function Earlier({ joint }: { joint: string }) {
  const found = useQuery({
    queryKey: ['earlier', joint],
    queryFn: () => take(api.GET('/api/v1/joints/{ref}/earlier', { params: { path: { ref: joint } } })),
  })
  if (!found.data?.items.length) return null
  return (
    <div className="rule-top mt-4 pt-2">
      <h2>On this line before</h2>
      <table className="w-full text-lg">
        <tbody>
          {found.data.items.map((e) => (
            <tr key={e.ref + e.label}>
              <td>
                <Link className="link inline-flex min-h-11 items-center" to={`/joints/${e.ref}/prove`}>
                  {e.ref}
                </Link>{' '}
                <span className="quiet">{day(e.at)}</span>
              </td>
              <td>{e.label}</td>
              <td className="text-right font-semibold">
                {plain(e.value)} {e.unit}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

function proofsOf(work: WorkProps['work'], step: string): Schemas['ProofOut'][] {
  return work.judgement.proofs.filter((p) => p.step === step)
}

interface ProofsProps {
  step: WorkProps['work']['plan']['steps'][number]
  state: WorkProps['states'][number] | undefined
  proofs: Schemas['ProofOut'][]
}

const WHEN: Record<string, string> = {
  found: 'as found',
  before: 'before closing',
  after: 'after sealing',
}

function Proofs({ step, state, proofs }: ProofsProps) {
  const when = WHEN[step.taken] ?? (step.kind === 'wait' ? 'before it is moved' : 'at the connectors')
  const done = state?.state === 'done'
  const bare = done && step.gates.length > 0
  const left = step.gates.filter((g) => offered(g) && done && state.values[g.id] === undefined)
  const trend = proofs.some((p) => p.at_20c !== null)
  const perKm = proofs.some((p) => p.mohm_km !== null)
  const share = proofs.some((p) => p.share_of_before !== null)
  return (
    <div className="rule-top mt-4 pt-2">
      <h2 className="flex justify-between gap-3">
        <span>{step.title}</span>
        <span className={`text-base ${done ? 'text-success' : 'quiet'}`}>
          {when} · {done ? `✓ ${state.actor}` : 'open'}
        </span>
      </h2>
      {state?.excuse && (
        <p className="font-medium">
          Not read, because: {state.excuse} ({state.actor})
        </p>
      )}
      {state?.overdue.map((words) => (
        <p key={words} className="font-medium text-warning">
          {words}
          {state.tool_reason && `; accepted by ${state.actor}: ${state.tool_reason}`}
        </p>
      ))}
      {left.length > 0 && (
        <p className="quiet">
          Offered and left out, proves nothing: {left.map((g) => `${g.label} (${g.unit})`).join(', ')}
        </p>
      )}
      {proofs.length === 0 ? (
        !state?.excuse && (
          <p className={bare ? 'font-medium text-error' : 'quiet'}>
            {bare ? 'confirmed without a figure' : done ? 'seen to be good' : 'not read yet'}
          </p>
        )
      ) : (
        <table className="w-full text-lg">
          <thead>
            <tr className="quiet text-left text-sm">
              <th className="font-normal">
                {proofs[0]?.limit} {proofs[0]?.unit}
              </th>
              <th className="text-right font-normal">reading</th>
              {trend && <th className="text-right font-normal">at 20 °C</th>}
              {perKm && <th className="text-right font-normal">MΩ·km</th>}
              {share && <th className="text-right font-normal">of before</th>}
            </tr>
          </thead>
          <tbody>
            {proofs.map((p) => (
              <tr key={p.gate}>
                <td>{p.label}</td>
                <td className={`text-right font-semibold ${p.passes ? '' : 'text-error'}`}>
                  {p.passes ? '' : '✕ '}
                  {p.over && 'over '}
                  {plain(p.value)} {p.unit}
                  {p.simulated && <span className="block text-sm text-warning">simulated</span>}
                </td>
                {trend && <td className="text-right">{figure(p.at_20c)}</td>}
                {perKm && <td className="text-right">{figure(p.mohm_km)}</td>}
                {share && (
                  <td className="text-right">
                    {p.share_of_before === null ? '' : `${Math.round(p.share_of_before * 100)} %`}
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  )
}

function figure(value: number | null): string {
  return value === null ? '' : plain(value, 3)
}
