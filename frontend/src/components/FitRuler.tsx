/** The fit ruler: a logarithmic diameter axis; a bar runs from a sleeve's recovered to its expanded
 *  inside diameter, so equal ratios are bars of equal length. A bar that reaches over both limits fits. */
import { scaleLog } from 'd3-scale'
import { useState } from 'react'
import type { Schemas } from '../api/client'
import { diameter, length, limit, sign, sleeveName, type Unit } from '../model/units'
import { useSettings } from '../settings'

type Choice = Schemas['ChoiceOut']
type Candidate = Schemas['CandidateOut']

const TICKS = [1, 1.5, 2, 3, 4, 5, 6, 8, 10, 12, 15, 20, 25, 30, 40, 50, 60, 80, 100, 150, 200]
const ROW = 40
const LEFT = 176
const RIGHT = 214
const SHOWN = 6

interface Props {
  choice: Choice
  onPick?: (part: string) => void
  width?: number
}

export function FitRuler({ choice, onPick, width = 800 }: Props) {
  const { unit } = useSettings()
  const [all, setAll] = useState(false)
  const fitting = choice.candidates.filter((c) => c.verdict === 'fits')
  const rest = choice.candidates.filter((c) => c.verdict !== 'fits')
  const shown = all
    ? choice.candidates
    : [...fitting.slice(0, 4), ...rest.slice(0, Math.max(2, SHOWN - fitting.length))]
  const hidden = choice.candidates.length - shown.length
  const low = Math.min(choice.allowed_recovered_mm, ...shown.map((c) => c.recovered_id_mm)) / 1.18
  const high = Math.max(choice.needed_expanded_mm, ...shown.map((c) => c.expanded_id_mm)) * 1.12
  const x = scaleLog()
    .domain([low, high])
    .range([LEFT, width - RIGHT])
  const top = 30
  const bottom = top + shown.length * ROW
  const close = x(choice.allowed_recovered_mm)
  const open = x(choice.needed_expanded_mm)
  const crowded = open - close < 220
  return (
    <div>
      <svg
        viewBox={`0 0 ${width} ${bottom + 34}`}
        className="w-full"
        role={onPick ? 'group' : 'img'}
        aria-label={words(choice)}
      >
        <rect
          x={LEFT}
          y={top}
          width={Math.max(0, close - LEFT)}
          height={bottom - top}
          fill="var(--color-success)"
          opacity={0.1}
        />
        <rect
          x={open}
          y={top}
          width={Math.max(0, width - RIGHT - open)}
          height={bottom - top}
          fill="var(--color-success)"
          opacity={0.1}
        />
        {TICKS.filter((t) => t >= low && t <= high).map((t) => (
          <g key={t}>
            <line x1={x(t)} x2={x(t)} y1={top} y2={bottom} stroke="var(--color-base-300)" />
            <text x={x(t)} y={bottom + 18} textAnchor="middle" fontSize={14} fill="var(--color-base-content)">
              {unit === 'mm' ? t : (t / 25.4).toFixed(2)}
            </text>
          </g>
        ))}
        {shown.map((c, i) => (
          <Bar
            key={c.part_id}
            c={c}
            y={top + i * ROW}
            x={x}
            width={width}
            picked={c.part_id === choice.picked}
            onPick={onPick}
          />
        ))}
        {[close, open].map((at) => (
          <line
            key={at}
            x1={at}
            x2={at}
            y1={top - 8}
            y2={bottom}
            stroke="var(--color-success)"
            strokeWidth={2.5}
            pointerEvents="none"
          />
        ))}
        <g fontSize={15} fontWeight={600} fill="var(--color-success)">
          <text x={close - 6} y={18} textAnchor="end">
            must close under {limit(choice.allowed_recovered_mm, unit, 'down')}
          </text>
          <text x={open + (crowded ? 6 : -6)} y={18} textAnchor={crowded ? 'start' : 'end'}>
            must open past {limit(choice.needed_expanded_mm, unit, 'up')}
          </text>
        </g>
      </svg>
      {(hidden > 0 || all) && (
        <button type="button" className="btn btn-ghost btn-sm" onClick={() => setAll(!all)}>
          {all
            ? 'Show the nearest only'
            : `Show ${hidden} more that ${fitting.length > 4 ? 'are judged' : 'do not serve'}`}
        </button>
      )}
    </div>
  )
}

function words(choice: Choice): string {
  const fitting = choice.candidates.filter((c) => c.verdict === 'fits')
  return `Fit ruler: ${fitting.length} of ${choice.candidates.length} sleeves fit. ${fitting.map((c) => c.name).join(', ')}`
}

/** Which edge fails and by how much, in the unit of the page; other refusals in the core's words. */
function shortfall(c: Candidate, unit: Unit): string {
  if (unit === 'mm' || c.verdict === 'refused') return c.reason
  const words = []
  if (c.pass_short_by_mm) words.push(`${diameter(c.pass_short_by_mm, unit)} in short to pass`)
  if (c.grip_short_by_mm) words.push(`${diameter(c.grip_short_by_mm, unit)} in too wide to grip`)
  return words.join(' and ')
}

interface BarProps {
  c: Candidate
  y: number
  x: (v: number) => number
  width: number
  picked: boolean
  onPick?: (part: string) => void
}

function Bar({ c, y, x, width, picked, onPick }: BarProps) {
  const { unit } = useSettings()
  const fits = c.verdict === 'fits'
  const colour = fits ? 'var(--color-primary)' : 'var(--metal-dark)'
  const pick = fits && onPick ? () => onPick(c.part_id) : undefined
  const kind = [c.lined ? 'lined' : 'plain', c.stiff ? 'stiff' : ''].filter(Boolean).join(', ')
  return (
    <g
      {...(pick
        ? {
            role: 'button',
            tabIndex: 0,
            'aria-label': `Use ${c.name}`,
            onClick: pick,
            onKeyDown: (e: { key: string }) => e.key === 'Enter' && pick(),
            style: { cursor: 'pointer' },
          }
        : {})}
    >
      <rect
        x={0}
        y={y + 1}
        width={width}
        height={ROW - 2}
        fill={picked ? 'var(--color-primary)' : 'transparent'}
        fillOpacity={0.08}
      />
      <text x={4} y={y + 17} fontSize={16} fontWeight={fits ? 700 : 500} fill="var(--color-base-content)">
        {sleeveName(c.expanded_id_mm, c.recovered_id_mm, unit)}
      </text>
      <text x={4} y={y + 33} fontSize={13} fill="var(--quiet)">
        {c.part_id} · {kind}
      </text>
      <line
        x1={x(c.recovered_id_mm)}
        x2={x(c.expanded_id_mm)}
        y1={y + ROW / 2}
        y2={y + ROW / 2}
        stroke={colour}
        strokeWidth={fits ? 14 : 8}
        strokeOpacity={fits && !picked ? 0.55 : 1}
      />
      {[c.recovered_id_mm, c.expanded_id_mm].map((v) => (
        <line key={v} x1={x(v)} x2={x(v)} y1={y + 9} y2={y + ROW - 9} stroke={colour} strokeWidth={3} />
      ))}
      <foreignObject x={width - RIGHT + 10} y={y} width={RIGHT - 10} height={ROW}>
        <div
          className={`flex h-full items-center text-[15px] leading-tight ${fits ? 'font-semibold' : 'font-medium text-error'}`}
        >
          {fits
            ? `${picked ? 'takes it' : 'would do'}${c.cut_length_mm === null ? ', as it comes' : `, cut ${length(c.cut_length_mm, unit)} ${sign(unit)}`}`
            : shortfall(c, unit)}
        </div>
      </foreignObject>
    </g>
  )
}
