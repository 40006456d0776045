/** What the tables of a leaflet share: small fields with their label inside, moving and removing rows. */
import { ArrowDown, ArrowUp, X } from 'lucide-react'
import { type ReactNode, useEffect, useState } from 'react'
import { readNumber } from '../../model/units'

interface WordProps {
  label: string
  value: string
  onChange: (value: string) => void
  error?: string
  wide?: boolean
}

export function Word({ label, value, onChange, error, wide }: WordProps) {
  return (
    <label className={`flex flex-col ${wide ? 'grow' : ''}`}>
      <span className="field-label">{label}</span>
      <input
        className="input w-full px-2"
        value={value}
        aria-invalid={Boolean(error)}
        onChange={(e) => onChange(e.target.value)}
      />
      {error && <span className="text-sm font-medium text-error">{error}</span>}
    </label>
  )
}

interface NumProps {
  label: string
  value: number | null | undefined
  onChange: (value: number | null) => void
  unit?: string
  error?: string
  narrow?: boolean
}

export function Num({ label, value, onChange, unit, error, narrow }: NumProps) {
  const [text, setText] = useState(value == null ? '' : String(value))
  useEffect(() => {
    setText((now) => (readNumber(now) === (value ?? null) ? now : value == null ? '' : String(value)))
  }, [value])
  const bad = text.trim() !== '' && readNumber(text) === null
  return (
    <label className={`flex flex-col ${narrow ? 'w-20' : 'w-28'}`}>
      <span className="field-label">{label}</span>
      <span className="input w-full px-2">
        <input
          inputMode="decimal"
          autoComplete="off"
          value={text}
          aria-invalid={bad || Boolean(error)}
          onChange={(e) => {
            setText(e.target.value)
            const v = readNumber(e.target.value)
            if (v !== null || e.target.value.trim() === '') onChange(v)
          }}
        />
        {unit && <span className="quiet text-sm">{unit}</span>}
      </span>
      {(bad || error) && (
        <span className="text-sm font-medium text-error">{bad ? 'write a number' : error}</span>
      )}
    </label>
  )
}

interface PickProps {
  label: string
  value: string
  options: readonly (readonly [string, string])[]
  onChange: (value: string) => void
  error?: string
}

export function Pick({ label, value, options, onChange, error }: PickProps) {
  return (
    <label className="flex flex-col">
      <span className="field-label">{label}</span>
      <select
        className="select w-full"
        value={value}
        aria-invalid={Boolean(error)}
        onChange={(e) => onChange(e.target.value)}
      >
        {options.map(([v, words]) => (
          <option key={v} value={v}>
            {words}
          </option>
        ))}
      </select>
      {error && <span className="text-sm font-medium text-error">{error}</span>}
    </label>
  )
}

interface AddProps {
  label: string
  groups: readonly (readonly [string, readonly (readonly [string, string])[]])[]
  add: (value: string) => void
}

/** A menu that adds what is picked: one touch to open it, one to pick. */
export function AddRow({ label, groups, add }: AddProps) {
  return (
    <select
      className="select mt-2 min-h-12 w-full max-w-md text-lg"
      aria-label={label}
      value=""
      onChange={(e) => add(e.target.value)}
    >
      <option value="" disabled>
        {label} …
      </option>
      <Grouped groups={groups} />
    </select>
  )
}

/** The choices of a menu, under the names of their groups. */
export function Grouped({ groups }: Pick<AddProps, 'groups'>) {
  return groups.map(([name, options]) => (
    <optgroup key={name} label={name}>
      {options.map(([value, words]) => (
        <option key={value} value={value}>
          {words}
        </option>
      ))}
    </optgroup>
  ))
}

interface WordsProps {
  label: string
  title: string
  filled: boolean
  children: ReactNode
}

/** Words that most rows do not need, folded away until they are wanted. */
export function Words({ label, title, filled, children }: WordsProps) {
  return (
    <details className="min-w-32 grow self-end open:basis-full" open={filled}>
      <summary
        className="flex min-h-9 cursor-pointer items-center text-base underline underline-offset-4"
        aria-label={label}
      >
        {title}
      </summary>
      <span className="flex flex-wrap gap-2">{children}</span>
    </details>
  )
}

interface MoveProps {
  what: string
  at: number
  count: number
  move?: (to: number) => void
  remove: () => void
}

export function MoveRow({ what, at, count, move, remove }: MoveProps) {
  return (
    <span className="ml-auto flex self-end">
      {move && (
        <>
          <button
            type="button"
            className="btn px-2"
            aria-label={`${what} up`}
            disabled={at === 0}
            onClick={() => move(at - 1)}
          >
            <ArrowUp size={18} aria-hidden />
          </button>
          <button
            type="button"
            className="btn px-2"
            aria-label={`${what} down`}
            disabled={at === count - 1}
            onClick={() => move(at + 1)}
          >
            <ArrowDown size={18} aria-hidden />
          </button>
        </>
      )}
      <button type="button" className="btn px-2" aria-label={`Remove ${what}`} onClick={remove}>
        <X size={18} aria-hidden />
      </button>
    </span>
  )
}

export function moved<T>(rows: T[], from: number, to: number): T[] {
  const next = [...rows]
  const [row] = next.splice(from, 1)
  if (row !== undefined) next.splice(to, 0, row)
  return next
}
