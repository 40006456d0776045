import { Link } from 'react-router'
import { Caution } from '../../components/notes'
import { coreColour } from '../../components/section'
import { inRuns } from '../../model/names'
import { length } from '../../model/units'
import { useMay } from '../../session'
import { useSettings } from '../../settings'
import { CutSteps } from './CutSteps'
import { useEvents, type WorkProps } from './useWork'

/** Cuts as running distances from the sheath cut, so that a tape is laid once; drawn 1 : n to scale. */
export function Cut({ work, states, outbox, labels }: WorkProps) {
  const send = useEvents(work, outbox)
  const works = useMay('jointer')
  const done = new Set(states.filter((s) => s.state === 'done').map((s) => s.id))
  if (!work.plan.cuts.length)
    return (
      <div className="max-w-xl text-lg">
        <h1>No length to cut</h1>
        <p className="mt-2">Nothing is cut to a length here; what is cut away is a step of the work.</p>
        <div className="mt-4 flex flex-wrap gap-3">
          <Link className="btn btn-primary" to={`/joints/${work.ref}/build`}>
            Work step by step
          </Link>
          {work.plan.section && (
            <a className="btn" href={`/api/v1/joints/${work.ref}/template/whole.pdf`}>
              Drawing at full size, 1:1
            </a>
          )}
        </div>
      </div>
    )
  return (
    <div>
      <div className="flex flex-wrap items-center gap-4">
        <h1>Cut</h1>
        <p className="quiet text-lg">Lay the tape once at the sheath cut and mark every distance.</p>
        <span className="ml-auto flex gap-3">
          {(['A', 'B'] as const)
            .filter((end) => work.plan.cuts.some((c) => c.end === end))
            .map((end) => (
              <a key={end} className="btn" href={`/api/v1/joints/${work.ref}/template/${end}.pdf`}>
                Template {end}, 1:1
              </a>
            ))}
        </span>
        <Link className="btn btn-primary" to={`/joints/${work.ref}/build`}>
          Work step by step
        </Link>
      </div>
      <div className="mt-4 grid gap-8 xl:grid-cols-2">
        {(['A', 'B'] as const)
          .filter((end) => work.plan.cuts.some((c) => c.end === end))
          .map((end) => (
            <End
              key={end}
              end={end}
              work={work}
              label={labels[end]}
              states={states}
              confirm={works ? (step) => send(done.has(step) ? 'undone' : 'done', step) : undefined}
            />
          ))}
      </div>
      <div className="mt-6 grid gap-3 lg:grid-cols-2">
        <Caution>Score, do not cut through; flex to part. What lies under the blade is a core.</Caution>
        <Caution>
          The two lengths of a core always sum to the same. Mark A and B on both cables before the first cut.
        </Caution>
      </div>
    </div>
  )
}

interface EndProps {
  end: 'A' | 'B'
  work: WorkProps['work']
  label: string
  states: WorkProps['states']
  confirm?: (step: string) => void
}

interface Row {
  names: string[]
  cut: number
}

const MANY = 6

/** Of many cores those of one length share a row, so that a unit's lengths are read once and not for each of its kind. */
function rows(cores: Row[]): Row[] {
  if (cores.length <= MANY) return cores
  const found = new Map<string, Row>()
  for (const c of cores) {
    const key = c.cut.toFixed(1)
    found.set(key, { names: [...(found.get(key)?.names ?? []), ...c.names], cut: c.cut })
  }
  return [...found.values()]
}

const W = 620
const ROW = 34

function End({ end, work, label, states, confirm }: EndProps) {
  const { unit } = useSettings()
  const plan = work.plan
  const mine = plan.cuts.filter((c) => c.end === end && c.datum === 'sheath-cut')
  const across = mine.filter((c) => !c.core)
  const root = mine.find((c) => c.kind === 'bedding')?.distance_mm ?? 0
  const strip = new Map(
    plan.cuts.filter((c) => c.end === end && c.kind === 'insulation').map((c) => [c.core, c.distance_mm]),
  )
  const cores = rows(
    mine.filter((c) => c.kind === 'core').map((c) => ({ names: [c.core], cut: c.distance_mm })),
  )
  const longest = Math.max(...plan.cuts.filter((c) => c.kind === 'core').map((c) => c.distance_mm))
  const scale = (W - 130) / (longest * 1.08)
  const colour = new Map(
    plan.section?.bodies
      .filter((b) => b.kind === 'insulation' && b.end === end)
      .map((b) => [b.core, b.colour]),
  )
  const flip = end === 'B'
  const at = (mm: number) => (flip ? W - 90 - mm * scale : 90 + mm * scale)
  const under = root === 0 ? across.length * 20 : 0 // no bedding to write on: below the cores
  const height = cores.length * ROW + 46 + under
  const span = (a: number, b: number) => ({ x: Math.min(at(a), at(b)), width: Math.abs(at(b) - at(a)) })
  const steps = plan.steps.filter((s) => s.station === 'cut' && s.end === end)
  return (
    <section aria-label={`Cuts on ${end}`}>
      <h2>
        {end} <span className="quiet font-normal">{label}</span>
      </h2>
      <svg
        viewBox={`0 0 ${W} ${height}`}
        className="mt-1 w-full bg-base-100"
        role="img"
        aria-label={`Core lengths on ${end}, to scale`}
      >
        <rect
          {...(flip ? { x: at(0), width: 90 } : { x: 0, width: at(0) })}
          y={10}
          height={cores.length * ROW + 2}
          fill="var(--sheath)"
        />
        <text
          x={flip ? W - 45 : 45}
          y={16 + (cores.length * ROW) / 2}
          textAnchor="middle"
          fontSize={15}
          fill="#fff"
          fontWeight={600}
        >
          sheath
        </text>
        {root > 0 && <rect {...span(0, root)} y={14} height={cores.length * ROW - 6} fill="var(--bedding)" />}
        {across.map((c, i) => (
          <g key={c.layer}>
            <path
              d={`M${at(c.distance_mm)} 2V${cores.length * ROW + 16}`}
              stroke="var(--color-base-content)"
              strokeDasharray="5 3"
              strokeWidth={1.6}
            />
            <text
              x={at(c.distance_mm) + (flip === Boolean(under) ? -5 : 5)}
              y={under ? cores.length * ROW + 28 + i * 20 : 30 + i * 22}
              textAnchor={flip === Boolean(under) ? 'end' : 'start'}
              fontSize={14}
              fontWeight={600}
              {...(under
                ? { fill: 'var(--color-base-content)' }
                : { fill: '#fff', stroke: '#14181a', strokeWidth: 3, paintOrder: 'stroke' })}
            >
              {c.layer} {length(c.distance_mm, unit)}
            </text>
          </g>
        ))}
        {cores.map((c, i) => {
          const y = 14 + i * ROW
          const first = c.names[0] ?? ''
          const bare = strip.get(first) ?? c.cut
          const name = c.names.length > 1 ? '' : (colour.get(first) ?? '')
          return (
            <g key={first}>
              <rect {...span(root, bare)} y={y} height={ROW - 10} fill={coreColour(name)} />
              <rect {...span(bare, c.cut)} y={y + 5} height={ROW - 20} fill="var(--copper)" />
              <line
                x1={at(c.cut)}
                x2={at(c.cut)}
                y1={y - 3}
                y2={y + ROW - 7}
                stroke="var(--color-base-content)"
                strokeWidth={2}
              />
              <text
                x={at(c.cut) + (flip ? -7 : 7)}
                y={y + 18}
                fontSize={18}
                fontWeight={700}
                textAnchor={flip ? 'end' : 'start'}
                fill="var(--color-base-content)"
              >
                {length(c.cut, unit)}
              </text>
              <text
                x={at(root + 6)}
                y={y + 17}
                textAnchor={flip ? 'end' : 'start'}
                fontSize={15}
                fontWeight={700}
                fill={['white', 'yellow', ''].includes(name) ? '#111' : '#fff'}
              >
                {inRuns(c.names)}
              </text>
              <text
                x={at(bare) + (flip ? 6 : -6)}
                y={y + 17}
                textAnchor={flip ? 'start' : 'end'}
                fontSize={14}
                fontWeight={600}
                fill={['white', 'yellow', ''].includes(name) ? '#111' : '#fff'}
              >
                {length(bare, unit)}
              </text>
            </g>
          )
        })}
        <path d={`M${at(0)} ${height - 26}H${at(longest)}`} stroke="var(--color-base-content)" />
        {Array.from({ length: Math.floor(longest / 10) + 1 }, (_, i) => i * 10).map((mm) => (
          <g key={mm}>
            <path d={`M${at(mm)} ${height - 26}v${mm % 50 ? 5 : 9}`} stroke="var(--color-base-content)" />
            {mm % 50 === 0 && (
              <text
                x={at(mm)}
                y={height - 4}
                textAnchor="middle"
                fontSize={13}
                fill="var(--color-base-content)"
              >
                {mm ? length(mm, unit) : 'sheath cut'}
              </text>
            )}
          </g>
        ))}
      </svg>
      <CutSteps plan={plan} steps={steps} states={states} confirm={confirm} />
    </section>
  )
}
