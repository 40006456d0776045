import { useQuery } from '@tanstack/react-query'
import { Ruler } from 'lucide-react'
import { useRef, useState } from 'react'
import { api, type Draft, keptAnswer, take } from '../../api/client'
import { heard, QuantityField } from '../../components/fields'
import { said } from '../../model/said'
import { inField, sign } from '../../model/units'
import { useMay } from '../../session'
import { useSettings } from '../../settings'
import { drafted, type useJoint } from './useJoint'

type Hook = ReturnType<typeof useJoint>
const TYPICAL_MM = 12

interface ReadingProps {
  label: string
  of: string
  path: string
  first: number | null | undefined
  across: number | null | undefined
  about: number | null | undefined
  set: (first: number | null, across: number | null) => void
  joint: Hook
  /** What the second reading is called, and its own path, where it is not the one at 90°. */
  second?: string
  secondPath?: string
  /** What else is filled with the same readings, by its path. */
  alike?: string[]
}

/** Readings of this draft that a stand-in gave, by their path. */
export function simulatedOf(joint: Hook): string[] {
  const found = joint.query.data
  return found ? ((drafted(found, joint.patch) as Draft).simulated ?? []) : []
}

/** One thing measured: a reading, the one at 90° beside it, the calliper, and the doubt in words. */
export function Reading(props: ReadingProps) {
  const { label, of, path, first, across, about, joint, second = 'at 90°' } = props
  const other = props.secondPath ?? `${path}_across_mm`
  const { unit } = useSettings()
  const works = useMay('jointer')
  const instruments = useQuery({
    queryKey: ['instruments'],
    queryFn: () => keptAnswer('instruments', () => take(api.GET('/api/v1/instruments'))),
    staleTime: 60_000,
  })
  const calliper = instruments.data?.items.find((i) => i.kind === 'calliper')
  const [asks, setAsks] = useState(false)
  const doubts = joint.query.data?.questions.filter((q) => q.path === `${path}_mm` || q.path === other) ?? []
  const fault = (at: string) =>
    joint.error?.at(at) ??
    (props.secondPath ? joint.query.data?.missing.find((m) => m.path === at) : undefined)
  const marks = simulatedOf(joint)
  const played = marks.includes(path)
  /** Keeps both readings, and whether a stand-in gave them. */
  const set = (one: number | null, two: number | null, made = false) => {
    props.set(one, two)
    const all = [path, ...(props.alike ?? [])]
    const kept = marks.filter((p) => !all.includes(p))
    if (made || kept.length < marks.length) joint.edit({ simulated: made ? [...kept, ...all] : kept })
  }
  const latest = useRef(set)
  latest.current = set // something else may be typed until the instrument answers
  /** What a person typed is replaced only when it is asked for twice. */
  const read = async () => {
    if ((first || across) && !played && !asks) return setAsks(true)
    setAsks(false)
    const found = await take(
      api.POST('/api/v1/instruments/calliper', { body: { about_mm: about ?? TYPICAL_MM, seed: path } }),
    )
    latest.current(found.first_mm, found.across_mm, found.simulated)
  }
  return (
    <>
      <QuantityField
        label={heard(label, of)}
        mm={first}
        onChange={(v) => set(v, across ?? null)}
        error={fault(`${path}_mm`)}
      />
      <QuantityField
        label={heard(second, props.second ? of : `${of}, ${label.toLowerCase()}`)}
        mm={across}
        onChange={(v) => set(first ?? null, v)}
        error={fault(other)}
      />
      {works && calliper ? (
        <button
          type="button"
          className={`btn px-2 ${asks ? 'btn-warning' : ''}`}
          onClick={() => void read()}
          onBlur={() => setAsks(false)}
          title={`Take both readings from the ${calliper.name}`}
          aria-label={`${asks ? 'Replace what is typed, from the' : 'From the'} ${calliper.name}: ${label} ${of}`}
        >
          {asks ? 'Replace?' : <Ruler size={20} aria-hidden />}
        </button>
      ) : (
        <span />
      )}
      {played && (
        <p className="order-last col-span-full font-medium text-warning">
          {label}: simulated, the calliper made these figures up.
        </p>
      )}
      {doubts.map((q) => (
        <p
          key={q.message}
          className="note order-last col-span-full flex flex-wrap items-center gap-2"
          role="status"
        >
          <span className="grow">{said(q, unit)}</span>
          {q.suggestion_mm !== null && (
            <button
              type="button"
              className="btn btn-sm"
              onClick={() =>
                q.path === other ? set(first ?? null, q.suggestion_mm) : set(q.suggestion_mm, across ?? null)
              }
            >
              It is {inField(q.suggestion_mm, unit)} {sign(unit)}
            </button>
          )}
        </p>
      ))}
    </>
  )
}
