/** The fit ruler: a logarithmic diameter axis; a bar runs from a sleeve's recovered to its expanded
 *  inside diameter, so equal ratios are bars of equal length. A bar that reaches over both limits fits. */
import { useVirtualizer } from '@tanstack/react-virtual'
import { type ScaleLogarithmic, scaleLog } from 'd3-scale'
import { type ReactNode, useRef, useState } from 'react'
import type { Schemas } from '../api/client'
import { diameter, length, limit, readLength, sign, sleeveName, type Unit } from '../model/units'
import { useSettings } from '../settings'
import { useWidth } from './useWidth'

type Choice = Schemas['ChoiceOut']
type Candidate = Schemas['CandidateOut']

const MM = [1, 1.5, 2, 3, 4, 5, 6, 8, 10, 12, 15, 20, 25, 30, 40, 50, 60, 80, 100, 150, 200].map(
  (mm) => [mm, String(mm)] as const,
)
const INCHES = ['1/16', '1/8', '3/16', '1/4', '3/8', '1/2', '3/4', '1', '1 1/2', '2', '3', '4', '6', '8'].map(
  (said) => {
    const read = readLength(said, 'inch')
    return [read.kind === 'number' ? read.mm : 0, said] as const
  },
)
const ROW = 44
const NARROW_ROW = 66
const NARROW = 560
const SIDES = 390 // of the names before and the words behind, where they stand beside the bar
const APART = 34 // px between two figures of the axis
const EDGE = 16 // px from the axis' ends that a figure keeps, to be whole
const SHOWN = 6
const SCROLLS = 30 // from so many rows on they scroll in a box of their own

interface Props {
  choice: Choice
  onPick?: (part: string) => void
}

interface Axis {
  x: ScaleLogarithmic<number, number>
  width: number
  close: number
  open: number
  ticks: number[]
}

export function FitRuler({ choice, onPick }: Props) {
  const { unit } = useSettings()
  const [all, setAll] = useState(false)
  const { ref: box, width } = useWidth<HTMLElement>(800)
  const fitting = choice.candidates.filter((c) => c.verdict === 'fits')
  const rest = choice.candidates.filter((c) => c.verdict !== 'fits')
  const shown = all
    ? choice.candidates
    : [...fitting.slice(0, 4), ...rest.slice(0, Math.max(2, SHOWN - fitting.length))]
  const hidden = choice.candidates.length - shown.length
  const narrow = width < NARROW
  const axis = axisOf(choice, shown, narrow ? width : width - SIDES, unit)
  const row = (c: Candidate) => (
    <Row c={c} axis={axis} narrow={narrow} picked={c.part_id === choice.picked} onPick={onPick} />
  )
  return (
    <section ref={box} aria-label={words(choice)}>
      <Limits choice={choice} axis={axis} narrow={narrow} />
      {shown.length > SCROLLS ? (
        <Scrolling rows={shown} height={narrow ? NARROW_ROW : ROW} row={row} />
      ) : (
        shown.map((c) => <div key={c.part_id}>{row(c)}</div>)
      )}
      <Figures axis={axis} narrow={narrow} unit={unit} />
      {(hidden > 0 || all) && (
        <button type="button" className="btn btn-ghost" onClick={() => setAll(!all)}>
          {all
            ? 'Show the nearest only'
            : `Show ${hidden} more that ${fitting.length > 4 ? 'are judged' : 'do not serve'}`}
        </button>
      )}
    </section>
  )
}

function axisOf(choice: Choice, shown: Candidate[], width: number, unit: Unit): Axis {
  const low =
    shown.reduce((least, c) => Math.min(least, c.recovered_id_mm), choice.allowed_recovered_mm) / 1.18
  const high = shown.reduce((most, c) => Math.max(most, c.expanded_id_mm), choice.needed_expanded_mm) * 1.12
  const x = scaleLog().domain([low, high]).range([0, width])
  const ticks: number[] = []
  for (const [mm] of unit === 'mm' ? MM : INCHES)
    if (x(mm) >= EDGE && x(mm) <= width - EDGE && x(mm) - x(ticks.at(-1) ?? low / 10) >= APART) ticks.push(mm)
  return { x, width, close: x(choice.allowed_recovered_mm), open: x(choice.needed_expanded_mm), ticks }
}

/** The two limits in words, over their lines. */
function Limits({ choice, axis, narrow }: { choice: Choice; axis: Axis; narrow: boolean }) {
  const { unit } = useSettings()
  const close = `must close under ${limit(choice.allowed_recovered_mm, unit, 'down')}`
  const open = `must open past ${limit(choice.needed_expanded_mm, unit, 'up')}`
  if (narrow)
    return (
      <p className="flex flex-wrap justify-between gap-x-4 font-semibold text-success">
        <span>{close}</span>
        <span>
          {open} {sign(unit)}
        </span>
      </p>
    )
  const crowded = axis.open - axis.close < 220
  return (
    <svg className="ml-44 block" width={axis.width} height={26} overflow="visible" aria-hidden>
      <g fontSize={15} fontWeight={600} fill="var(--color-success)">
        <text x={axis.close - 6} y={18} textAnchor="end">
          {close}
        </text>
        <text x={axis.open + (crowded ? 6 : -6)} y={18} textAnchor={crowded ? 'start' : 'end'}>
          {open}
        </text>
      </g>
    </svg>
  )
}

/** The figures under the axis. */
function Figures({ axis, narrow, unit }: { axis: Axis; narrow: boolean; unit: Unit }) {
  const said = new Map<number, string>(unit === 'mm' ? MM : INCHES)
  return (
    <svg className={`block ${narrow ? '' : 'ml-44'}`} width={axis.width} height={24} aria-hidden>
      {axis.ticks.map((t) => (
        <text key={t} x={axis.x(t)} y={17} textAnchor="middle" fontSize={14} fill="var(--color-base-content)">
          {said.get(t)}
        </text>
      ))}
    </svg>
  )
}

/** A long list in a box of its own: only the rows in sight are drawn. */
function Scrolling({
  rows,
  height,
  row,
}: {
  rows: Candidate[]
  height: number
  row: (c: Candidate) => ReactNode
}) {
  const box = useRef<HTMLDivElement>(null)
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => height,
    overscan: 8,
  })
  return (
    <section
      ref={box}
      className="max-h-[60vh] overflow-y-auto"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a box that scrolls is reached by the keyboard (WCAG 2.1.1)
      tabIndex={0}
      aria-label="All that were judged"
    >
      <div className="relative" style={{ height: list.getTotalSize() }}>
        {list.getVirtualItems().map((item) => {
          const c = rows[item.index]
          return (
            <div
              key={item.key}
              className="absolute inset-x-0"
              style={{ height: item.size, transform: `translateY(${item.start}px)` }}
            >
              {c && row(c)}
            </div>
          )
        })}
      </div>
    </section>
  )
}

function words(choice: Choice): string {
  const fitting = choice.candidates.filter((c) => c.verdict === 'fits')
  const few = fitting.slice(0, 12).map((c) => c.name)
  const more = fitting.length > few.length ? ` and ${fitting.length - few.length} more` : ''
  return `Fit ruler: ${fitting.length} of ${choice.candidates.length} sleeves fit. ${few.join(', ')}${more}`
}

/** Which edge fails and by how much, in the unit of the page; other refusals in the core's words. */
function shortfall(c: Candidate, unit: Unit): string {
  if (unit === 'mm' || c.verdict === 'refused') return c.reason
  const words = []
  if (c.pass_short_by_mm) words.push(`${diameter(c.pass_short_by_mm, unit)} in short to pass`)
  if (c.grip_short_by_mm) words.push(`${diameter(c.grip_short_by_mm, unit)} in too wide to grip`)
  return words.join(' and ')
}

interface RowProps {
  c: Candidate
  axis: Axis
  narrow: boolean
  picked: boolean
  onPick?: (part: string) => void
}

/** A sleeve: its size, its bar against both limits, and what comes of it; one that fits can be taken. */
function Row({ c, axis, narrow, picked, onPick }: RowProps) {
  const { unit } = useSettings()
  const fits = c.verdict === 'fits'
  const kind = [c.lined ? 'lined' : 'plain', c.stiff ? 'stiff' : ''].filter(Boolean).join(', ')
  const verdict = fits
    ? `${picked ? 'takes it' : 'would do'}${c.cut_length_mm === null ? ', as it comes' : `, cut ${length(c.cut_length_mm, unit)} ${sign(unit)}`}`
    : shortfall(c, unit)
  const inside = (
    <>
      <span className={`leading-tight ${narrow ? 'flex items-baseline gap-2' : 'block w-44 shrink-0 pl-1'}`}>
        <span className={fits ? 'font-bold' : 'font-medium'}>
          {sleeveName(c.expanded_id_mm, c.recovered_id_mm, unit)}
        </span>
        <span className={`quiet text-sm ${narrow ? 'truncate' : 'block'}`}>
          {c.part_id} · {kind}
        </span>
      </span>
      <Bar c={c} axis={axis} fits={fits} picked={picked} height={narrow ? 24 : ROW - 2} />
      <span
        className={`leading-tight ${narrow ? 'text-sm' : 'w-52 shrink-0 pl-2'} ${fits ? 'font-semibold' : 'font-medium text-error'}`}
      >
        {verdict}
      </span>
    </>
  )
  const look = `flex w-full text-left ${narrow ? 'h-[66px] flex-col justify-center' : 'h-11 items-center'} ${picked ? 'bg-primary/10' : ''}`
  return fits && onPick ? (
    <button
      type="button"
      className={`${look} cursor-pointer hover:bg-primary/5`}
      aria-label={`Use ${c.name}`}
      aria-pressed={picked}
      onClick={() => onPick(c.part_id)}
    >
      {inside}
    </button>
  ) : (
    <div className={look}>{inside}</div>
  )
}

function Bar({
  c,
  axis,
  fits,
  picked,
  height,
}: {
  c: Candidate
  axis: Axis
  fits: boolean
  picked: boolean
  height: number
}) {
  const { x, width, close, open, ticks } = axis
  const colour = fits ? 'var(--color-primary)' : 'var(--metal-dark)'
  const thick = fits ? 14 : 8
  return (
    <svg className="block shrink-0" width={width} height={height} aria-hidden>
      {ticks.map((t) => (
        <line key={t} x1={x(t)} x2={x(t)} y1={0} y2={height} stroke="var(--color-base-300)" />
      ))}
      {[
        [0, Math.max(0, close)],
        [open, Math.max(0, width - open)],
      ].map(([from, wide]) => (
        <rect key={from} x={from} width={wide} height={height} fill="var(--color-success)" opacity={0.1} />
      ))}
      <rect
        x={x(c.recovered_id_mm)}
        width={x(c.expanded_id_mm) - x(c.recovered_id_mm)}
        y={(height - thick) / 2}
        height={thick}
        fill={colour}
        fillOpacity={fits && !picked ? 0.55 : 1}
      />
      {[c.recovered_id_mm, c.expanded_id_mm].map((v) => (
        <line
          key={v}
          x1={x(v)}
          x2={x(v)}
          y1={height * 0.2}
          y2={height * 0.8}
          stroke={colour}
          strokeWidth={3}
        />
      ))}
      {[close, open].map((at) => (
        <line key={at} x1={at} x2={at} y1={0} y2={height} stroke="var(--color-success)" strokeWidth={2.5} />
      ))}
    </svg>
  )
}
