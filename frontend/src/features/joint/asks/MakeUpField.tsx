/** A make-up line, read back as a drawing of the cable; what is otherwise of a core is touched in the drawing. */
import { useQuery } from '@tanstack/react-query'
import { type MouseEvent, useDeferredValue, useState } from 'react'
import { ApiError, api, type Schemas, take } from '../../../api/client'
import { SelectField, TextField } from '../../../components/fields'
import { coreColour, light } from '../../../components/section'
import type { Said } from '../../../model/said'
import { length, sign } from '../../../model/units'
import { useSettings } from '../../../settings'

type Picture = Schemas['MakeUpPicture']
type Unit = Picture['units'][number]

interface Props {
  label: string
  hint: Said | undefined
  error: Said | undefined
  line: string
  /** Over the insulation of the thickest core, and of the thinnest where not all are alike. */
  insulation: number | null
  thinnest: number | null
  onChange: (line: string) => void
}

export function MakeUpField({ label, hint, error, line, insulation, thinnest, onChange }: Props) {
  const asked = useDeferredValue(line.trim())
  const [touched, setTouched] = useState('')
  const body = { line: asked, insulation_mm: insulation, thinnest_mm: thinnest }
  const read = useQuery({
    queryKey: ['make-up', body],
    queryFn: () => take(api.POST('/api/v1/make-up', { body })),
    enabled: asked !== '',
    placeholderData: (before) => (asked ? before : undefined),
    retry: 0,
  })
  const fault = read.error instanceof ApiError ? read.error : undefined
  const unread = fault?.offline ? 'It is read back once the server can be reached.' : fault?.at('/line')
  const change = async (of: Schemas['Otherwise']) => {
    const found = await take(api.POST('/api/v1/make-up', { body: { ...body, change: of } }))
    onChange(found.line)
  }
  const found = asked && !fault ? read.data : undefined
  return (
    <div className="flex flex-col gap-3">
      <TextField
        label={label}
        hint={unread ?? hint}
        error={error ?? (fault?.offline ? undefined : fault?.at('/line'))}
        value={line}
        onChange={onChange}
      />
      {found && (
        <div className="flex flex-wrap gap-x-6 gap-y-3">
          <Drawn picture={found} label={label} touched={touched} touch={setTouched} />
          <OneCore
            key={`${touched} ${found.line}`}
            {...{ picture: found, touched, thinnest, touch: setTouched, change }}
          />
        </div>
      )}
    </div>
  )
}

const SIZE = 236

/** The cut through the cable, to scale. A touch takes the core nearest to it: cores are small, fingers are not. */
function Drawn(props: { picture: Picture; label: string; touched: string; touch: (core: string) => void }) {
  const { picture, touched, touch } = props
  const rim = 10 + 4 * picture.screens.length
  const scale = (SIZE - 2 * rim) / picture.inside_mm
  const at = (mm: number) => SIZE / 2 + mm * scale
  const cores = picture.units.flatMap((u) =>
    u.cores.map((c) => ({ ...c, spare: u.spare, r: (u.core_mm / 2) * scale })),
  )
  const nearest = (e: MouseEvent<SVGSVGElement>) => {
    const box = e.currentTarget.getBoundingClientRect()
    const [x, y] = [e.clientX - box.left, e.clientY - box.top].map((v) => (v * SIZE) / (box.width || SIZE))
    const off = (c: (typeof cores)[number]) => Math.hypot(at(c.x_mm) - (x ?? 0), at(-c.y_mm) - (y ?? 0))
    touch(cores.reduce((a, b) => (off(b) < off(a) ? b : a)).number)
  }
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: every core is in the list beside it, which the keyboard reaches
    <svg
      viewBox={`0 0 ${SIZE} ${SIZE}`}
      className="w-full max-w-60 cursor-pointer"
      role="img"
      aria-label={`${props.label}: ${picture.said}`}
      onClick={nearest}
    >
      <circle cx={SIZE / 2} cy={SIZE / 2} r={SIZE / 2 - 2} fill="var(--sheath)" />
      <circle cx={SIZE / 2} cy={SIZE / 2} r={SIZE / 2 - rim + 3} fill="var(--color-base-100)" />
      {picture.screens.map((s, i) => (
        <Screen key={s} kind={s} x={SIZE / 2} y={SIZE / 2} r={SIZE / 2 - rim + 3 + 4 * i} />
      ))}
      {picture.units.flatMap((u) =>
        u.cores.length > 1 || u.screens.length
          ? [<Round key={u.number} unit={u} at={at} scale={scale} />]
          : [],
      )}
      {cores.map((c) => (
        <g key={c.number} opacity={c.spare ? 0.35 : 1}>
          <circle
            cx={at(c.x_mm)}
            cy={at(-c.y_mm)}
            r={c.r}
            fill={coreColour(c.called)}
            stroke="var(--color-base-content)"
            strokeWidth={c.number === touched ? 4 : 1}
          />
          {c.r > 7 && (
            <text
              x={at(c.x_mm)}
              y={at(-c.y_mm)}
              dy="0.35em"
              textAnchor="middle"
              fontSize={Math.min(15, c.r)}
              fontWeight={600}
              fill={light(c.called) ? '#14181b' : '#fff'}
            >
              {c.number}
            </text>
          )}
        </g>
      ))}
    </svg>
  )
}

function Round({ unit, at, scale }: { unit: Unit; at: (mm: number) => number; scale: number }) {
  const [x, y, r] = [at(unit.x_mm), at(-unit.y_mm), (unit.od_mm / 2) * scale]
  if (!unit.screens.length)
    return <circle cx={x} cy={y} r={r} fill="none" stroke="var(--metal-dark)" strokeWidth={0.6} />
  return unit.screens.map((s) => <Screen key={s} kind={s} x={x} y={y} r={r} />)
}

/** Foil as a thin line, braid as strands; a drain wire lies in its foil. */
function Screen({ kind, x, y, r }: { kind: string; x: number; y: number; r: number }) {
  if (kind === 'drain') return <circle cx={x} cy={y - r + 2} r={2} fill="var(--copper)" />
  const braid = kind === 'braid'
  return (
    <circle
      cx={x}
      cy={y}
      r={r}
      fill="none"
      stroke="var(--metal-dark)"
      strokeWidth={braid ? 3.5 : 1.6}
      strokeDasharray={braid ? '3 1.5' : undefined}
    />
  )
}

const NO_CHANGE = { core: null, called: '', unit: null, spare: false, screen: null }
const OWN_SCREENS = [
  ['none', 'none'],
  ['foil-drain', 'foil and drain wire'],
  ['braid', 'braid'],
] as const
type OwnScreen = (typeof OWN_SCREENS)[number][0]

/** The screen a unit has of its own, as it is chosen. */
function ownScreen(unit: Unit): OwnScreen {
  if (unit.screens.includes('braid')) return 'braid'
  return unit.screens.includes('foil') ? 'foil-drain' : 'none'
}

interface OneProps {
  picture: Picture
  touched: string
  thinnest: number | null
  touch: (core: string) => void
  change: (of: Schemas['Otherwise']) => Promise<void>
}

/** What the drawing says, and one core of it: what it is called, and whether it is joined at all. */
function OneCore({ picture, touched, thinnest, touch, change }: OneProps) {
  const { unit: shown } = useSettings()
  const unit = picture.units.find((u) => u.cores.some((c) => c.number === touched))
  const core = unit?.cores.find((c) => c.number === touched)
  const [called, setCalled] = useState(core?.called ?? '')
  const all = picture.units.flatMap((u) => u.cores)
  return (
    <div className="flex min-w-56 flex-1 flex-col gap-3">
      <p>
        Read as {picture.said}; {length(picture.inside_mm, shown)} {sign(shown)} over all cores
        {picture.estimated ? ', estimated: the insulation is not measured yet.' : '.'}
        {picture.differ && !thinnest && ' Cores of more than one section: measure the thinnest one too.'}
      </p>
      <SelectField
        label="One core is otherwise"
        hint="Touch it in the drawing, or choose it here."
        value={touched}
        options={[
          ['', 'none: all are as written'],
          ...all.map(
            (c) => [c.number, c.called === c.number ? c.number : `${c.number}, ${c.called}`] as const,
          ),
        ]}
        onChange={touch}
      />
      {core && unit && (
        <>
          <SelectField
            label={`Screen of ${unit.kind} ${unit.number} alone`}
            value={ownScreen(unit)}
            options={OWN_SCREENS}
            onChange={(screen) => change({ ...NO_CHANGE, unit: unit.number, screen: screen as OwnScreen })}
          />
          <TextField label={`Core ${core.number} is called`} value={called} onChange={setCalled} />
          <div className="flex flex-wrap gap-2">
            <button
              type="button"
              className="btn btn-outline"
              disabled={called.trim() === '' || called.trim() === core.called}
              onClick={() => change({ ...NO_CHANGE, core: core.number, called })}
            >
              Call it so
            </button>
            <button
              type="button"
              className="btn btn-outline"
              onClick={() => change({ ...NO_CHANGE, unit: unit.number, spare: !unit.spare })}
            >
              {unit.spare
                ? `Join ${unit.kind} ${unit.number} again`
                : `Leave ${unit.kind} ${unit.number} spare`}
            </button>
          </div>
        </>
      )}
    </div>
  )
}
