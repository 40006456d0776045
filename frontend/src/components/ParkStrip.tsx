/** The park strip: both tails to scale, the parts on them in threading order, the free length left. */
import type { Schemas } from '../api/client'
import { length, sign } from '../model/units'
import { useSettings } from '../settings'
import { lookOf } from './section'

type Plan = Schemas['Plan']
type Parked = Schemas['ParkedOut']

interface Props {
  plan: Plan
  done: Set<string>
  /** What a part still waits for, by its step. */
  first: Map<string, string>
  /** What an end is called, where it has a name. */
  labels: Record<string, string>
  onTick?: (step: string) => void
}

const H = 132
const MID = 58

export function ParkStrip({ plan, done, first, labels, onTick }: Props) {
  const park = plan.park
  if (!park) return null
  return (
    <div className="grid gap-6 lg:grid-cols-2">
      {park.by_end
        .filter((tail) => tail.parts.length || tail.free_mm > 0)
        .map((tail) => (
          <Tail
            key={tail.end}
            tail={tail}
            plan={plan}
            done={done}
            first={first}
            label={labels[tail.end] ?? ''}
            onTick={onTick}
          />
        ))}
    </div>
  )
}

function Tail({
  tail,
  plan,
  done,
  first,
  label,
  onTick,
}: {
  tail: Schemas['TailOut']
  plan: Plan
  done: Set<string>
  first: Map<string, string>
  label: string
  onTick?: (step: string) => void
}) {
  const { unit } = useSettings()
  const park = plan.park
  if (!park) return null
  const { end, parts: entries, free_mm: free, used_mm: used } = tail
  const cores = plan.cores.map((c) => ({ name: c.core, cut: c.by_end[end] ?? 0 }))
  const out = Math.max(...cores.map((c) => c.cut), 20)
  const longest = Math.max(...park.by_end.map((t) => t.free_mm)) + out + 30
  const width = Math.min(620, Math.max(340, window.innerWidth - 32)) // a phone draws it in its own pixels
  const scale = width / longest
  const left = end === 'A' // the joint lies to its right
  const toJoint = left ? 1 : -1
  const cut = left ? width - (out + 15) * scale : (out + 15) * scale
  const at = (mm: number) => cut + toJoint * mm * scale
  const sheathOd = Math.max(16, Math.min(30, (cableOf(plan.section)?.top[0]?.[1] ?? 7) * 2 * scale * 2))
  const sheath = entries.filter((e) => e.track === 'sheath')
  const keep = used - sheath.reduce((sum, e) => sum + e.length_mm, 0) - 10 * Math.max(0, sheath.length - 1)
  let x = -keep
  const boxes = [...sheath].reverse().map((e) => {
    x -= e.length_mm
    const box = { e, from: x, to: x + e.length_mm }
    x -= 10
    return box
  })
  return (
    <section aria-label={`Tail ${end}`}>
      <h2 className="flex items-baseline justify-between">
        <span>
          {end} <span className="quiet font-normal">{label}</span>
        </span>
        <span className="text-base">
          {length(Math.max(0, free - used), unit)} {sign(unit)} of {length(free, unit)} left free
        </span>
      </h2>
      <svg
        viewBox={`0 0 ${width} ${H}`}
        className="w-full"
        role="img"
        aria-label={`Tail ${end} with ${entries.length} parts, to scale`}
      >
        <rect
          x={Math.min(at(-free), at(0))}
          y={MID - sheathOd / 2}
          width={free * scale}
          height={sheathOd}
          fill="var(--sheath)"
        />
        {cores.map((c, i) => {
          const y = MID + (i - (cores.length - 1) / 2) * 17
          const parked = entries.find((e) => e.track === c.name)
          const root = at(0)
          return (
            <g key={c.name}>
              <path
                d={`M${root} ${MID + (i - (cores.length - 1) / 2) * 4} L${at(Math.min(8, c.cut))} ${y} L${at(c.cut)} ${y}`}
                fill="none"
                stroke="var(--copper)"
                strokeWidth={5}
              />
              {parked && (
                <Box
                  from={at(6)}
                  to={at(6 + parked.length_mm)}
                  y={y - 8}
                  h={16}
                  done={done.has(parked.step)}
                />
              )}
            </g>
          )
        })}
        {boxes.map(({ e, from, to }) => (
          <g key={e.layer}>
            <Box
              from={at(from)}
              to={at(to)}
              y={MID - sheathOd / 2 - 9}
              h={sheathOd + 18}
              done={done.has(e.step)}
            />
            <text
              x={(at(from) + at(to)) / 2}
              y={MID + 6}
              textAnchor="middle"
              fontSize={17}
              fontWeight={700}
              fill={done.has(e.step) ? 'var(--color-primary-content)' : 'var(--color-base-100)'}
              stroke="none"
            >
              {e.length_mm > 0 ? length(e.length_mm, unit) : ''}
            </text>
          </g>
        ))}
        <line
          x1={at(0)}
          x2={at(0)}
          y1={8}
          y2={H - 22}
          stroke="var(--color-base-content)"
          strokeDasharray="4 3"
        />
        <text
          x={Math.min(width - 38, Math.max(38, at(0)))}
          y={H - 6}
          textAnchor="middle"
          fontSize={15}
          fill="var(--color-base-content)"
        >
          {park.skin} cut
        </text>
      </svg>
      {entries.length === 0 && <p className="quiet">Nothing is parked on this side.</p>}
      <ol className="rows">
        {entries.map((e, i) => (
          <Tick
            key={e.layer}
            e={e}
            n={i + 1}
            plan={plan}
            done={done.has(e.step)}
            first={first.get(e.step)}
            onTick={onTick}
          />
        ))}
      </ol>
    </section>
  )
}

function Box({ from, to, y, h, done }: { from: number; to: number; y: number; h: number; done: boolean }) {
  return (
    <rect
      x={Math.min(from, to)}
      y={y}
      width={Math.abs(to - from)}
      height={h}
      fill={done ? 'var(--sleeve)' : 'var(--sleeve)'}
      fillOpacity={done ? 0.95 : 0.3}
      stroke="var(--sleeve)"
      strokeWidth={2}
      strokeDasharray={done ? undefined : '6 4'}
    />
  )
}

function Tick({
  e,
  n,
  plan,
  done,
  first,
  onTick,
}: {
  e: Parked
  n: number
  plan: Plan
  done: boolean
  first: string | undefined
  onTick?: (step: string) => void
}) {
  const { unit } = useSettings()
  const part = plan.parts.find((p) => p.layer === e.layer)
  const can = onTick && first === undefined
  return (
    <li>
      <label className={`flex min-h-12 items-center gap-3 py-1 ${can ? 'cursor-pointer' : ''}`}>
        <input
          type="checkbox"
          className="checkbox checkbox-primary checkbox-lg"
          checked={done}
          disabled={!can}
          onChange={() => onTick?.(e.step)}
        />
        <span className="w-6 text-right font-bold">{n}</span>
        <span className="grow">
          {part?.name ?? (e.title || e.part_id)}{' '}
          <span className="quiet">
            {e.track === 'sheath' ? `on the ${plan.park?.skin}` : `on core ${e.track}`}
            {first && ` · first: ${first}`}
          </span>
        </span>
        {e.length_mm > 0 && (
          <b className="text-lg">
            {length(e.length_mm, unit)} <span className="text-sm font-normal">{sign(unit)}</span>
          </b>
        )}
      </label>
    </li>
  )
}

/** The first piece of whole cable in a drawing. */
function cableOf(section: Schemas['Section'] | null) {
  return section?.bodies.find((b) => lookOf(section.looks, b.kind).role === 'cable')
}
